import { LOOKS_PER_SECOND, type SoundLooks } from './sound-looks.ts';

/** A stretch of sound between two silences. */
export interface Phrase {
  /** Looks from the first on, the last one exclusive. */
  readonly from: number;
  readonly to: number;
  readonly kind: 'notes' | 'voice' | 'applause' | 'noise';
  /** Different pitches; neighbouring semitones count as one. */
  readonly pitches: number;
  /** Mean length of a held pitch, in seconds. */
  readonly noteS: number;
}

/** So far above the room's noise something sounds. */
const ABOVE_DB = 7;
const JOINED_S = 0.45;
const LEAST_S = 0.08;
/** Share of the power in held peaks from which on a look is of a note. */
const NOTE = 0.5;
/** Share of such looks from which on a stretch is of notes. */
const NOTES_SHARE = 0.42;
const HELD_SHARE = 0.75;
const NOTE_S = 0.2;
/** Flatness from which on a look is of noise: applause, chairs. */
const FLAT = 0.3;
/** A voice is far from flat; a short one has to be so the more. */
const [VOICE_FLAT, SHORT_VOICE_FLAT] = [0.2, 0.08];
/** Words sound in more than half of their time; steps and knocks in less. */
const WORDS_SHARE = 0.48;

/** The room's noise, dB: what the quietest tenth of the looks stays below. */
export function measureRoom({ levelDb, count }: SoundLooks): number {
  const sorted = Float32Array.from(levelDb).sort();
  return sorted[Math.floor(count * 0.08)] ?? -120;
}

/** Stretches that stand out from the room, each told as what it sounds like. */
export function findPhrases(looks: SoundLooks, roomDb: number): Phrase[] {
  const spans: { from: number; to: number }[] = [];
  for (let at = 0; at < looks.count; at += 1) {
    if ((looks.levelDb[at] ?? -120) < roomDb + ABOVE_DB) continue;
    const last = spans.at(-1);
    if (last && at - last.to <= JOINED_S * LOOKS_PER_SECOND) last.to = at + 1;
    else spans.push({ from: at, to: at + 1 });
  }
  return spans
    .filter(({ from, to }) => to - from >= LEAST_S * LOOKS_PER_SECOND)
    .flatMap((span) => splitByKind(looks, span, roomDb))
    .map(({ from, to }) => describePhrase(looks, from, to, roomDb));
}

/** Looks of a block that is told as one kind. */
const BLOCK = LOOKS_PER_SECOND / 2;
/** Runs of fewer blocks belong to what is around them. */
const LEAST_BLOCKS = 2;
type BlockKind = 'notes' | 'flat' | 'other';

interface Stretch {
  from: number;
  to: number;
}

/** Parts a stretch where words run into notes, or either into applause. */
function splitByKind(looks: SoundLooks, { from, to }: Stretch, roomDb: number): Stretch[] {
  const labels: BlockKind[] = [];
  for (let at = from; at < to; at += BLOCK)
    labels.push(labelBlock(looks, at, Math.min(to, at + BLOCK), roomDb) ?? labels.at(-1) ?? 'other');
  // One block alone among others is no part of its own.
  const smooth = labels.map((label, index) => {
    const [before, after] = [labels[index - 1], labels[index + 1]];
    return before !== undefined && before === after ? before : label;
  });
  const parts: (Stretch & { kind: BlockKind })[] = [];
  smooth.forEach((kind, index) => {
    const end = Math.min(to, from + (index + 1) * BLOCK);
    const last = parts.at(-1);
    if (last?.kind === kind) last.to = end;
    else parts.push({ from: from + index * BLOCK, to: end, kind });
  });
  const long = parts.filter((part) => part.to - part.from >= LEAST_BLOCKS * BLOCK);
  if (long.length < 2) return [{ from, to }];
  return joinAlike(long, from, to)
    .map((part, index, all) => {
      const before = all[index - 1];
      const after = all[index + 1];
      return {
        from: before ? findEdge(looks, before, part) : part.from,
        to: after ? findEdge(looks, part, after) : part.to,
      };
    })
    .filter((part) => part.to > part.from);
}

/** null where nothing sounds. */
function labelBlock(looks: SoundLooks, from: number, to: number, roomDb: number): BlockKind | null {
  let [sounding, held, flat] = [0, 0, 0];
  for (let look = from; look < to; look += 1) {
    if ((looks.levelDb[look] ?? -120) < roomDb + ABOVE_DB) continue;
    sounding += 1;
    if ((looks.held[look] ?? 0) > NOTE) held += 1;
    if ((looks.flatness[look] ?? 0) > FLAT) flat += 1;
  }
  if (sounding === 0) return null;
  return held / sounding > NOTES_SHARE ? 'notes' : flat / sounding > 0.6 ? 'flat' : 'other';
}

/** Long parts side by side, each reaching to the next; those of one kind become one. */
function joinAlike(
  long: readonly (Stretch & { kind: BlockKind })[],
  from: number,
  to: number,
): (Stretch & { kind: BlockKind })[] {
  const joined: (Stretch & { kind: BlockKind })[] = [];
  for (const part of long) {
    const last = joined.at(-1);
    if (last) last.to = part.from;
    if (last?.kind !== part.kind) joined.push({ ...part, from: last ? part.from : from });
    const end = joined.at(-1);
    if (end) end.to = part.to;
  }
  const last = joined.at(-1);
  if (last) last.to = to;
  return joined;
}

/** Where one kind ends and the next begins near the border of two parts, to the look. */
function findEdge(
  looks: SoundLooks,
  before: Stretch & { kind: BlockKind },
  after: Stretch & { kind: BlockKind },
): number {
  const from = Math.max(before.from + 1, before.to - 2 * BLOCK);
  const to = Math.min(after.to - 1, before.to + 2 * BLOCK);
  const byPitch = before.kind === 'notes' || after.kind === 'notes';
  const share = (low: number, high: number) => {
    let count = 0;
    for (let at = low; at < high; at += 1)
      if (byPitch ? (looks.held[at] ?? 0) > NOTE : (looks.flatness[at] ?? 0) > FLAT) count += 1;
    return count / Math.max(1, high - low);
  };
  // The place that parts both best.
  let [best, most] = [before.to, -1];
  for (let at = from; at <= to; at += 1) {
    const left = share(Math.max(before.from, at - BLOCK), at);
    const right = share(at, Math.min(after.to, at + BLOCK));
    if (Math.abs(left - right) > most) [best, most] = [at, Math.abs(left - right)];
  }
  return best;
}

function describePhrase(looks: SoundLooks, from: number, to: number, roomDb: number): Phrase {
  let [sounding, held, flat, notes, quiet, pitchNow] = [0, 0, 0, 0, 9, Number.NaN];
  const pitches = new Map<number, number>();
  for (let at = from; at < to; at += 1) {
    const level = looks.levelDb[at] ?? -120;
    if (level < roomDb + ABOVE_DB) continue;
    sounding += 1;
    flat += looks.flatness[at] ?? 1;
    if ((looks.held[at] ?? 0) < NOTE) {
      quiet += 1;
      continue;
    }
    held += 1;
    const pitch = looks.pitch[at] ?? 0;
    if (quiet > 4 || Math.abs(pitch - pitchNow) > 0.7) notes += 1;
    [quiet, pitchNow] = [0, pitch];
    pitches.set(Math.round(pitch), (pitches.get(Math.round(pitch)) ?? 0) + 1);
  }
  const heldShare = held / Math.max(1, sounding);
  const flatness = flat / Math.max(1, sounding);
  const seconds = (to - from) / LOOKS_PER_SECOND;
  const noteS = held / LOOKS_PER_SECOND / Math.max(1, notes);
  // A voice holds its pitch for a moment now and then; notes do so all the time, or for longer.
  const isHeld = heldShare > HELD_SHARE || (heldShare > NOTES_SHARE && noteS >= NOTE_S);
  const isSteady = sounding / (to - from) > WORDS_SHARE;
  const kind =
    isHeld && isSteady
      ? 'notes'
      : flatness > 0.32 && seconds > 1.5
        ? 'applause'
        : isSteady && flatness < (seconds > 0.25 ? VOICE_FLAT : SHORT_VOICE_FLAT)
          ? 'voice'
          : 'noise';
  return { from, to, kind, pitches: countPitches(pitches), noteS };
}

/** Pitches that last for three looks at least; a semitone beside another is the same, out of tune. */
function countPitches(looks: ReadonlyMap<number, number>): number {
  const told = [...looks].filter(([, count]) => count >= 3).map(([pitch]) => pitch);
  let [different, last] = [0, Number.NEGATIVE_INFINITY];
  for (const pitch of told.sort((left, right) => left - right)) {
    if (pitch - last > 1) different += 1;
    last = pitch;
  }
  return different;
}
