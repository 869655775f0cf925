import { containSize, type SizePx } from '../geometry/turn.ts';
import type { MediaFacts } from '../media/facts.ts';
import {
  COURSE_RATE_HZ,
  LEVEL_COLUMN_US,
  type ColorSignatures,
  type Evidence,
  type FrameSignatures,
  type SoundEvidence,
} from '../series/evidence.ts';
import type { TakePlace } from '../series/take-series.ts';
import { mixDissolvedSound } from './draw-evidence.ts';

/** One of several joined takes, with what its inspection left. */
export interface JoinedPart {
  readonly facts: MediaFacts;
  readonly evidence: Evidence;
}

/** Nothing is heard there. */
const SILENT_STEP = 255;
/** One side alone comes out of both at half its power each: 3 dB, in steps of half a decibel. */
const HALF_POWER_STEPS = 6;

/**
 * The evidence of several takes on their common time, the recipe's own take first, in the order of `places`.
 * Pictures of another shape stand inside that of the first, black around them. Where one take has none of a
 * kind of evidence, nothing of that kind is left: it cannot be proven.
 */
export function joinEvidence(parts: readonly JoinedPart[], places: readonly TakePlace[]): Evidence {
  const size = parts[0]?.facts.video ?? null;
  return {
    // What is drawn in pictures is not in them yet: `drawDissolves`, `drawCardIn`.
    signatures: size && joinSignatures(parts, places, size),
    colors: size && joinColors(parts, places, size),
    sound: joinSound(parts, places),
  };
}

function joinSignatures(
  parts: readonly JoinedPart[],
  places: readonly TakePlace[],
  size: SizePx,
): FrameSignatures | null {
  const first = parts[0]?.evidence.signatures;
  if (!first) return null;
  const points = first.widthPx * first.heightPx;
  const last = places.at(-1);
  const lastCount = last?.drawn?.frameCount ?? parts.at(-1)?.evidence.signatures?.frameCount ?? 0;
  const frameCount = (last?.firstFrame ?? 0) + lastCount;
  const luma = new Uint8Array(frameCount * points);
  for (const [index, part] of parts.entries()) {
    const own = part.evidence.signatures;
    const from = places[index]?.firstFrame;
    if (!own || !part.facts.video || from === undefined) return null;
    const fitted = fitPictures(own.luma, own, part.facts.video, first, size, 1);
    luma.set(fitted, from * points);
    // The frame of nothing after it: as its last one.
    if (index < places.length - 1)
      luma.set(fitted.subarray(fitted.length - points), (from + own.frameCount) * points);
  }
  return { widthPx: first.widthPx, heightPx: first.heightPx, luma, frameCount };
}

function joinColors(
  parts: readonly JoinedPart[],
  places: readonly TakePlace[],
  size: SizePx,
): ColorSignatures | null {
  const first = parts[0]?.evidence.colors;
  if (!first) return null;
  const pictures: Uint8Array[] = [];
  const indices: number[] = [];
  for (const [index, part] of parts.entries()) {
    const own = part.evidence.colors;
    const from = places[index]?.firstFrame;
    if (!own || !part.facts.video || from === undefined) return null;
    pictures.push(fitPictures(own.rgb, own, part.facts.video, first, size, 3));
    for (const frame of own.frameIndices) indices.push(frame + from);
  }
  const rgb = new Uint8Array(pictures.reduce((sum, each) => sum + each.length, 0));
  let at = 0;
  for (const each of pictures) {
    rgb.set(each, at);
    at += each.length;
  }
  return { widthPx: first.widthPx, heightPx: first.heightPx, rgb, frameIndices: Int32Array.from(indices) };
}

/** Small pictures of one shape inside another one, averaged between points; black around. */
function fitPictures(
  levels: Uint8Array,
  from: SizePx,
  shown: SizePx,
  to: SizePx,
  size: SizePx,
  sides: 1 | 3,
): Uint8Array {
  const inside = containSize(shown, size);
  const isSame =
    from.widthPx === to.widthPx &&
    from.heightPx === to.heightPx &&
    inside.widthPx === size.widthPx &&
    inside.heightPx === size.heightPx;
  if (isSame) return levels;
  const count = Math.floor(levels.length / (from.widthPx * from.heightPx * sides));
  const made = new Uint8Array(count * to.widthPx * to.heightPx * sides);
  const [scaleX, scaleY] = [size.widthPx / inside.widthPx, size.heightPx / inside.heightPx];
  // Each point is averaged from a grid inside of it, so that the edge of the bars falls where it does.
  const GRID = 4;
  const taps: { from: number; to: number }[] = [];
  for (let y = 0; y < to.heightPx; y += 1)
    for (let x = 0; x < to.widthPx; x += 1)
      for (let sub = 0; sub < GRID * GRID; sub += 1) {
        const u = ((x + ((sub % GRID) + 0.5) / GRID) / to.widthPx - 0.5) * scaleX + 0.5;
        const v = ((y + (Math.floor(sub / GRID) + 0.5) / GRID) / to.heightPx - 0.5) * scaleY + 0.5;
        if (u < 0 || u >= 1 || v < 0 || v >= 1) continue;
        const place = Math.floor(v * from.heightPx) * from.widthPx + Math.floor(u * from.widthPx);
        taps.push({ from: place, to: y * to.widthPx + x });
      }
  const sums = new Float32Array(to.widthPx * to.heightPx * sides);
  for (let picture = 0; picture < count; picture += 1) {
    sums.fill(0);
    const source = picture * from.widthPx * from.heightPx;
    for (const tap of taps)
      for (let side = 0; side < sides; side += 1)
        sums[tap.to * sides + side] =
          (sums[tap.to * sides + side] ?? 0) + (levels[(source + tap.from) * sides + side] ?? 0);
    const target = picture * sums.length;
    for (let at = 0; at < sums.length; at += 1)
      made[target + at] = Math.round((sums[at] ?? 0) / (GRID * GRID));
  }
  return made;
}

function joinSound(parts: readonly JoinedPart[], places: readonly TakePlace[]): SoundEvidence | null {
  const heard = parts.flatMap((part, index) => {
    const { sound } = part.evidence;
    return sound ? [{ sound, startUs: (places[index]?.startUs ?? 0) + sound.startUs }] : [];
  });
  if (heard.length === 0) return null;
  const startUs = Math.min(...heard.map((each) => each.startUs));
  const toColumn = (us: number) => Math.round((us - startUs) / LEVEL_COLUMN_US);
  const toSample = (us: number) => Math.round(((us - startUs) * COURSE_RATE_HZ) / 1e6);
  const endUs = places.at(-1)?.endUs ?? startUs;
  const columns = Math.max(
    toColumn(endUs),
    ...heard.map((each) => toColumn(each.startUs) + each.sound.levelLeft.length),
  );
  const samples = Math.max(
    toSample(endUs),
    ...heard.map((each) => toSample(each.startUs) + each.sound.course.length),
  );
  const [levelLeft, levelRight] = [
    new Uint8Array(columns).fill(SILENT_STEP),
    new Uint8Array(columns).fill(SILENT_STEP),
  ];
  const course = new Int16Array(samples);
  const sides = heard.some((each) => each.sound.sides === 2) ? 2 : 1;
  for (const { sound, startUs: ownUs } of heard) {
    const isAlone = sides === 2 && sound.sides === 1;
    const lower = (levels: Uint8Array) =>
      isAlone
        ? levels.map((step) => (step === SILENT_STEP ? step : Math.min(254, step + HALF_POWER_STEPS)))
        : levels;
    levelLeft.set(lower(sound.levelLeft), toColumn(ownUs));
    levelRight.set(lower(sound.sides === 1 ? sound.levelLeft : sound.levelRight), toColumn(ownUs));
    course.set(sound.course, toSample(ownUs));
  }
  return mixDissolvedSound({ startUs, sides, levelLeft, levelRight, course }, places);
}
