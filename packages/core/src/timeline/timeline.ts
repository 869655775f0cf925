import type { Rational } from '../media/facts.ts';
import type { Recipe } from '../recipe/recipe.ts';
import { findFrameAt, findTimeOfFrame, snapRangeToFrames, type FrameTimes } from '../time/frame-times.ts';

/** What a timeline has to know of a source. */
export interface TimelineSource {
  /** Time of every frame; null for sound alone. */
  readonly frames: FrameTimes | null;
  /** Its own rate; null where it is not constant, or for sound alone. */
  readonly constantRate: Rational | null;
  /** Where it ends, from the start of its file. */
  readonly endUs: number;
}

export interface TimelineInput {
  readonly recipe: Pick<Recipe, 'spans'>;
  readonly sources: readonly TimelineSource[];
  /** Frames a second of the result; null for sound alone. */
  readonly rate: Rational | null;
  /** The result never gets longer than this by rounding up to a whole frame. */
  readonly mostUs?: number | null;
}

/** One stretch of a source in the result. */
export interface TimelineSpan {
  readonly source: number;
  /** Frames of the source: first inclusive, last exclusive; 0 and 0 for sound alone. */
  readonly firstFrame: number;
  readonly lastFrame: number;
  /** Source time at which it starts and finishes, on whole frames. */
  readonly sourceStartUs: number;
  readonly sourceFinishUs: number;
  /** Frames of the result: first inclusive, last exclusive. */
  readonly firstOutput: number;
  readonly lastOutput: number;
  /** Where it stands in the result. */
  readonly outputStartUs: number;
  readonly outputFinishUs: number;
  /** How it is joined to what comes before it. */
  readonly join: 'start' | 'cut';
}

/**
 * Which source frame and which stretch of sound stands at each moment of the result: one table for the plan,
 * the maker and the proof.
 */
export interface Timeline {
  readonly rate: Rational | null;
  readonly frameCount: number;
  /** Exactly `frameCount / rate`; of sound alone the sum of its spans. */
  readonly durationUs: number;
  readonly spans: readonly TimelineSpan[];
  /** Index of the source frame of each frame of the result, counted within its own source. */
  readonly sourceFrames: Int32Array;
}

/**
 * Builds the timeline. Spans are moved to whole frames of their source, each end to the nearest, and kept
 * inside the take. Where the result has the source's own constant rate, each frame is shown once; at a whole
 * fraction of it, every second or third; otherwise a frame of the result shows what is on screen in its
 * middle. Throws a `RangeError` for a span of a source that is not there or that lies after its end.
 */
export function buildTimeline(input: TimelineInput): Timeline {
  const { recipe, sources, rate } = input;
  const whole = sources[0];
  if (!whole) throw new RangeError('A timeline needs a source.');
  const wanted =
    recipe.spans.length > 0 ? recipe.spans : [{ source: 0, startUs: 0, finishUs: Math.max(1, whole.endUs) }];
  const spans: TimelineSpan[] = [];
  const indices: Int32Array[] = [];
  let outputUs = 0;
  let output = 0;
  for (const span of wanted) {
    const source = sources[span.source];
    if (!source) throw new RangeError('A span names a source that is not there.');
    if (span.startUs >= source.endUs) throw new RangeError('A span lies after the end of its take.');
    const mostFrames = rate ? Math.max(1, countMostFrames(input.mostUs ?? null, rate) - output) : 0;
    const part = rate && source.frames ? placeFrames(source, source.frames, span, rate, mostFrames) : null;
    const count = part?.frames.length ?? 0;
    const bounds = part ?? clampSpan(source, span);
    const finishUs =
      rate && part
        ? measureUs(output + count, rate)
        : outputUs + bounds.sourceFinishUs - bounds.sourceStartUs;
    spans.push({
      source: span.source,
      firstFrame: part?.firstFrame ?? 0,
      lastFrame: part?.lastFrame ?? 0,
      sourceStartUs: bounds.sourceStartUs,
      sourceFinishUs: bounds.sourceFinishUs,
      firstOutput: output,
      lastOutput: output + count,
      outputStartUs: outputUs,
      outputFinishUs: finishUs,
      join: spans.length === 0 ? 'start' : 'cut',
    });
    if (part) indices.push(part.frames);
    output += count;
    outputUs = finishUs;
  }
  const sourceFrames = new Int32Array(output);
  let at = 0;
  for (const part of indices) {
    sourceFrames.set(part, at);
    at += part.length;
  }
  return { rate, frameCount: output, durationUs: outputUs, spans, sourceFrames };
}

function measureUs(frameCount: number, rate: Rational): number {
  return Math.round((frameCount * rate.denominator * 1e6) / rate.numerator);
}

/** Frames whose length, in whole microseconds, is not more than so long. */
function countMostFrames(mostUs: number | null, rate: Rational): number {
  if (mostUs === null) return Infinity;
  return Math.floor(((mostUs + 0.5) * rate.numerator) / rate.denominator / 1e6 + 1e-9);
}

function clampSpan(
  source: TimelineSource,
  span: { startUs: number; finishUs: number },
): { sourceStartUs: number; sourceFinishUs: number } {
  const sourceFinishUs = Math.max(span.startUs + 1, Math.min(span.finishUs, source.endUs));
  return { sourceStartUs: span.startUs, sourceFinishUs };
}

interface PlacedFrames {
  readonly firstFrame: number;
  readonly lastFrame: number;
  readonly sourceStartUs: number;
  readonly sourceFinishUs: number;
  readonly frames: Int32Array;
}

function placeFrames(
  source: TimelineSource,
  frames: FrameTimes,
  span: { startUs: number; finishUs: number },
  rate: Rational,
  mostFrames: number,
): PlacedFrames {
  const { startUs, finishUs } = snapRangeToFrames(frames, span);
  const firstFrame = findFrameAt(frames, startUs);
  const lastFrame = finishUs >= frames.endUs ? frames.timesUs.length : findFrameAt(frames, finishUs);
  const divisor = source.constantRate ? findDivisor(source.constantRate, rate) : null;
  const bounds = { firstFrame, lastFrame, sourceStartUs: startUs, sourceFinishUs: finishUs };
  if (divisor !== null) {
    // Half a frame more is left out rather than shown too long.
    const exact = Math.max(1, Math.ceil((lastFrame - firstFrame) / divisor - 0.5));
    const count = divisor === 1 ? exact : Math.min(exact, mostFrames);
    return { ...bounds, frames: Int32Array.from({ length: count }, (_, k) => firstFrame + k * divisor) };
  }
  const perUs = rate.numerator / rate.denominator / 1e6;
  const wanted = Math.max(1, Math.ceil((finishUs - startUs) * perUs - 0.5 - 1e-6));
  const count = Math.min(wanted, mostFrames);
  const shown = Int32Array.from({ length: count }, (_, k) => {
    const middleUs = startUs + (k + 0.5) / perUs;
    // The last one that began before the middle.
    const index = findFrameAt(frames, Math.ceil(middleUs) - 1);
    return Math.max(firstFrame, Math.min(index, lastFrame - 1));
  });
  return { ...bounds, frames: shown };
}

/** How many frames of a constant rate make one of the wanted rate; null where that is no whole number. */
export function findDivisor(sourceRate: Rational, rate: Rational): number | null {
  const ratio = (sourceRate.numerator * rate.denominator) / (sourceRate.denominator * rate.numerator);
  const whole = Math.round(ratio);
  return whole >= 1 && Math.abs(ratio - whole) < 1e-9 ? whole : null;
}

/** The time at which a frame of the result begins. */
export function findTimeOfOutput(timeline: Timeline, output: number): number {
  return timeline.rate ? measureUs(output, timeline.rate) : 0;
}

/** The time at which the source frame of a frame of the result begins. */
export function findSourceTimeOfOutput(timeline: Timeline, frames: FrameTimes, output: number): number {
  return findTimeOfFrame(frames, timeline.sourceFrames[output] ?? 0);
}
