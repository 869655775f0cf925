import { findPhrases, measureRoom, type Phrase } from './find-phrases.ts';
import { groupPhrases, type PhraseGroup } from './group-phrases.ts';
import { LOOK_RATE_HZ, LOOKS_PER_SECOND, takeSoundLooks, type SoundLooks } from './sound-looks.ts';
import type { PerformanceSpan, SuggestSubject } from '../media/performance-span.ts';
import { findMovement, type MovementCourse } from './find-movement.ts';

export const LEAST_SUGGEST_CONFIDENCE = 0.5;

const SUBJECT_WORDS: readonly (readonly [SuggestSubject, RegExp])[] = [
  ['music', /music|band|orchestra|choir|sing/i],
  ['drama', /drama|theatre|theater|acting|speech|poetry|debate/i],
  ['pe', /physical|\bp\.?e\.?\b|sport|gym|athletic|dance/i],
];

/** What a course's subject is for a suggestion; null where that is not one of those. */
export function readSuggestSubject(subject: string): SuggestSubject | null {
  return SUBJECT_WORDS.find(([, words]) => words.test(subject))?.[0] ?? null;
}

/** What is left before the onset and after the decay, where there is room: a breath. */
export const BREATH = { beforeUs: 500_000, afterUs: 1_000_000 } as const;

/** What a suggestion goes by; sound is mono at 8 kHz, −1 to 1. */
export interface TakeCourse {
  readonly durationUs: number;
  readonly sound: Float32Array | null;
  readonly movement: MovementCourse | null;
}

/** Sound that stands out less from its room tells nothing. */
const LEAST_CONTRAST_DB = 12;
/** Ends nearer to those of the take than this are those of the take. */
const AT_END_S = 0.15;

/**
 * Suggests where a performance begins and ends: music by its notes, told from words, steps, chairs, tuning
 * and applause; drama by its voices and gestures; physical education by movement. One for each subject that
 * the take says anything about.
 */
export function suggestPerformances(take: TakeCourse): PerformanceSpan[] {
  const heard = take.sound ? listen(take.sound) : null;
  const spans = [
    heard && suggestBySound(heard, 'music', take.durationUs),
    suggestDrama(heard, take),
    take.movement && suggestByMovement(take.movement, take.durationUs),
  ];
  return spans.filter((span) => span !== null);
}

/**
 * The suggestion for a subject; without one, by what the take is most of: notes, voices, or movement alone.
 * null where there is none.
 */
export function chooseSuggestion(
  spans: readonly PerformanceSpan[],
  subject: SuggestSubject | null,
): PerformanceSpan | null {
  if (subject) return spans.find((span) => span.subject === subject) ?? null;
  const [most] = [...spans].sort((left, right) => right.weightS - left.weightS);
  return most ?? null;
}

interface Heard {
  readonly looks: SoundLooks;
  readonly roomDb: number;
  readonly phrases: readonly Phrase[];
}

function listen(sound: Float32Array): Heard | null {
  if (sound.length < LOOK_RATE_HZ / 2) return null;
  const looks = takeSoundLooks(sound);
  const roomDb = measureRoom(looks);
  return { looks, roomDb, phrases: findPhrases(looks, roomDb) };
}

function suggestBySound(
  heard: Heard,
  subject: 'music' | 'drama',
  durationUs: number,
): PerformanceSpan | null {
  const group = groupPhrases(heard.phrases, subject);
  return group && describeGroup(group, heard, subject, durationUs);
}

/** A gesture belongs to a scene where it begins so long before the first words, or ends after the last. */
const MOST_SILENT_US = 8_000_000;
const LEAST_SILENT_US = 300_000;
/** What moves from the first moment on comes from the camera; what moves up to the last one goes to it. */
const AT_CAMERA_US = 500_000;

/**
 * A scene by its voices, from the gesture that it opens with to the one that it closes with; one without
 * words by its movement.
 */
function suggestDrama(heard: Heard | null, { movement, durationUs }: TakeCourse): PerformanceSpan | null {
  const spoken = heard && suggestBySound(heard, 'drama', durationUs);
  const moved = movement && findMovement(movement);
  if (!moved) return spoken;
  if (!spoken || spoken.weightS < LEAST_SPOKEN_S) {
    const silent = suggestByMovement(movement, durationUs);
    const weightS = Math.min(spoken?.weightS ?? 0, 0.1);
    return silent && (!spoken || spoken.confidence < silent.confidence)
      ? { ...silent, subject: 'drama', confidence: 0.8 * silent.confidence, weightS }
      : spoken;
  }
  const isOneScene = moved.startUs < spoken.finishUs && moved.finishUs > spoken.startUs;
  const isSilent = (us: number) => us >= LEAST_SILENT_US && us <= MOST_SILENT_US;
  const opens = isOneScene && moved.startUs > AT_CAMERA_US && isSilent(spoken.startUs - moved.startUs);
  const closes =
    isOneScene && moved.finishUs < durationUs - AT_CAMERA_US && isSilent(moved.finishUs - spoken.finishUs);
  return {
    ...spoken,
    ...(opens ? { startUs: moved.startUs, startReason: 'first gesture, before the words' } : {}),
    ...(closes ? { finishUs: moved.finishUs, finishReason: 'last gesture, after the words' } : {}),
  };
}
/** With less of words than this a scene lives by its gestures. */
const LEAST_SPOKEN_S = 0.5;

/** Seconds of the kind of sound that a subject lives by. */
function weigh(phrases: readonly Phrase[], subject: 'music' | 'drama'): number {
  const kind = subject === 'music' ? 'notes' : 'voice';
  return (
    phrases.reduce((sum, phrase) => sum + (phrase.kind === kind ? phrase.to - phrase.from : 0), 0) /
    LOOKS_PER_SECOND
  );
}

function suggestByMovement(movement: MovementCourse, durationUs: number): PerformanceSpan | null {
  const found = findMovement(movement);
  return (
    found && {
      subject: 'pe',
      startUs: found.startUs,
      finishUs: Math.min(durationUs, found.finishUs),
      startReason: found.startUs <= AT_END_S * 1e6 ? 'moving from the start' : 'first movement',
      finishReason:
        found.finishUs >= durationUs - AT_END_S * 1e6 ? 'moving to the end' : 'standing still again',
      confidence: found.confidence,
      weightS: 0.5,
    }
  );
}

const GUESSED = { start: 'first sound', finish: 'last sound has died away' } as const;
const WORDS = {
  music: { start: 'first note', finish: 'last note has died away' },
  drama: { start: 'first words', finish: 'last words' },
} as const;

function describeGroup(
  group: PhraseGroup,
  { looks, roomDb, phrases }: Heard,
  subject: 'music' | 'drama',
  durationUs: number,
): PerformanceSpan {
  const isMusic = subject === 'music';
  const words = group.isGuess ? GUESSED : WORDS[subject];
  const { from } = group;
  const to = group.isCutOff ? group.to : followDecay(looks, roomDb, group.to, isMusic ? 1.5 : 0.2);
  const toUs = (look: number) => Math.round((look * 1e6) / LOOKS_PER_SECOND);
  const startUs = toUs(from);
  const finishUs = Math.min(durationUs, toUs(to));
  const sorted = Float32Array.from(looks.levelDb).sort();
  const contrast = (sorted[Math.floor(looks.count * 0.9)] ?? -120) - roomDb;
  const isWhole = startUs < AT_END_S * 1e6;
  const isToEnd = finishUs > durationUs - AT_END_S * 1e6;
  const before = group.isTuned ? ', tuning left out' : '';
  return {
    subject,
    startUs: isWhole ? 0 : startUs,
    finishUs: isToEnd ? durationUs : finishUs,
    startReason: isWhole ? 'start of the take' : `${words.start}${before}`,
    finishReason: isToEnd
      ? 'end of the take'
      : group.isApplauded
        ? `${words.finish}, before the applause`
        : words.finish,
    weightS: weigh(phrases, subject),
    confidence: contrast < LEAST_CONTRAST_DB ? Math.min(0.4, group.confidence) : group.confidence,
  };
}

/** From where a phrase ends to where what rings on is as quiet as the room. */
function followDecay(looks: SoundLooks, roomDb: number, from: number, mostS: number): number {
  let at = from;
  const mean = (look: number) =>
    [0, 1, 2, 3, 4].reduce((sum, step) => sum + (looks.levelDb[look + step] ?? roomDb), 0) / 5;
  while (at < looks.count && at - from < mostS * LOOKS_PER_SECOND && mean(at) > roomDb + 4.5) at += 1;
  return at;
}
