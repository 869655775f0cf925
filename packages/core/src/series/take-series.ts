import { z } from 'zod';
import type { ShakeCourse } from '../geometry/steady.ts';
import { PerformanceSpan } from '../media/performance-span.ts';
import type { SoundPeaks, TakeComplexity } from '../media/analysis.ts';
import type { FrameTimes } from '../time/frame-times.ts';
import type { TimeRange } from '../time/range.ts';
import { readSeries, writeSeries, type ColumnArray, type SeriesBlob } from './series-blob.ts';
import { SOUND_BLOCK_US, type SoundBlocks } from './sound-blocks.ts';

/** What shaping and planning need along a take. */
export interface TakeSeries {
  /** Time of every frame; null for sound and photographs. */
  readonly frames: FrameTimes | null;
  /** Times of the keyframes, ascending. */
  readonly keyframesUs: readonly number[];
  readonly peaks: SoundPeaks | null;
  readonly complexity: TakeComplexity | null;
  readonly blocks: SoundBlocks | null;
  /** null for sound and photographs, and where nobody looked. */
  readonly sharpness: SharpnessSeries | null;
  /** null for sound and photographs, and where nobody looked. */
  readonly movement: MovementSeries | null;
  /** Where a performance may begin and end, by subject; null where nobody looked. */
  readonly suggestions: readonly PerformanceSpan[] | null;
  /** How the camera shook, frame by frame of the take itself; null or not there where nobody looked. */
  readonly shake?: ShakeCourse | null;
  /** Where each take lies, the recipe's own first; only where several are joined, never kept. */
  readonly places?: readonly TakePlace[] | null;
}

/** Where one of several joined takes lies on their common time. */
export interface TakePlace {
  /** Its place among the sources of the recipe. */
  readonly source: number;
  readonly startUs: number;
  readonly endUs: number;
  /** Its first frame among the frames of all. */
  readonly firstFrame: number;
  /** What stands there where nothing was recorded. */
  readonly drawn?: DrawnPart;
}

/** The place of what is drawn is no source of a recipe. */
export const DRAWN_SOURCE = -1;

/** A picture that was not recorded: an opening card, or one part that goes over into the next. */
export type DrawnPart =
  | { readonly kind: 'card'; readonly frameCount: number }
  | {
      readonly kind: 'dissolve';
      readonly frameCount: number;
      /** The span of the recipe that it goes over to. */
      readonly into: number;
      /** What is seen and heard less and less, and what more and more, on the common time. */
      readonly from: TimeRange;
      readonly to: TimeRange;
    };

/** How much changes from picture to picture, at even steps: mean difference of brightness, 0 to 255. */
export interface MovementSeries {
  readonly stepUs: number;
  readonly change: readonly number[];
}

/** How sharp frames of a take are, looked at now and then. */
export interface SharpnessSeries {
  readonly frameIndices: readonly number[];
  /** `measureBlur` of each, 0 sharp to 1; null where nothing in it could tell. */
  readonly blur: readonly (number | null)[];
}

export const EMPTY_SERIES: TakeSeries = {
  frames: null,
  keyframesUs: [],
  peaks: null,
  complexity: null,
  blocks: null,
  sharpness: null,
  movement: null,
  suggestions: null,
};

const FORMAT = 'take 1';
/** Peaks are kept in steps of a ten-thousandth. */
const PEAK_STEPS = 10_000;

export function writeTakeSeries(series: TakeSeries): Uint8Array {
  const { frames, peaks, complexity, blocks, sharpness, movement, shake } = series;
  const columns = {
    ...(frames ? { frameTimesUs: Float64Array.from(frames.timesUs) } : {}),
    keyframesUs: Float64Array.from(series.keyframesUs),
    ...(peaks ? { peaks: Uint16Array.from(peaks.peaks, (peak) => Math.round(peak * PEAK_STEPS)) } : {}),
    ...(complexity ? { complexityBits: Float64Array.from(complexity.bits) } : {}),
    ...(blocks
      ? {
          powerLeft: blocks.powerLeft,
          powerRight: blocks.powerRight,
          powerMix: blocks.powerMix,
          blockPeak: blocks.peak,
          clipped: blocks.clipped,
        }
      : {}),
    ...(sharpness
      ? {
          lookFrames: Int32Array.from(sharpness.frameIndices),
          blur: Float32Array.from(sharpness.blur, (each) => each ?? Number.NaN),
        }
      : {}),
    ...(movement ? { movement: Float32Array.from(movement.change) } : {}),
    ...(shake ? { shakeX: shake.x, shakeY: shake.y, shakeAngle: shake.angle } : {}),
  };
  return writeSeries({
    format: FORMAT,
    facts: {
      frameEndUs: frames?.endUs ?? null,
      peaksPerSecond: peaks?.columnsPerSecond ?? null,
      complexityColumnUs: complexity?.columnUs ?? null,
      blocksStartUs: blocks?.startUs ?? null,
      sides: blocks?.sides ?? null,
      movementStepUs: movement?.stepUs ?? null,
      suggestions: series.suggestions ? JSON.stringify(series.suggestions) : null,
    },
    columns: columns as Record<string, ColumnArray>,
  });
}

/** Throws a `RangeError` where the bytes are no series of a take. */
export function readTakeSeries(bytes: Uint8Array): TakeSeries {
  const blob = readSeries(bytes, FORMAT);
  const { columns } = blob;
  const fact = (name: string) => Number(blob.facts[name] ?? 0);
  const list = (name: string) => Array.from(columns[name] ?? []);
  return {
    frames: columns.frameTimesUs ? { timesUs: list('frameTimesUs'), endUs: fact('frameEndUs') } : null,
    keyframesUs: list('keyframesUs'),
    peaks: columns.peaks
      ? {
          columnsPerSecond: fact('peaksPerSecond'),
          peaks: list('peaks').map((step) => step / PEAK_STEPS),
        }
      : null,
    complexity: columns.complexityBits
      ? { columnUs: fact('complexityColumnUs'), bits: list('complexityBits') }
      : null,
    blocks: readBlocks(blob, fact),
    sharpness: columns.lookFrames
      ? {
          frameIndices: list('lookFrames'),
          blur: list('blur').map((each) => (Number.isNaN(each) ? null : each)),
        }
      : null,
    movement: columns.movement ? { stepUs: fact('movementStepUs'), change: list('movement') } : null,
    suggestions: readSuggestions(blob.facts.suggestions),
    ...(columns.shakeX
      ? {
          shake: {
            x: Float32Array.from(columns.shakeX),
            y: Float32Array.from(columns.shakeY ?? []),
            angle: Float32Array.from(columns.shakeAngle ?? []),
          },
        }
      : {}),
  };
}

const Suggestions = z.array(PerformanceSpan);

function readSuggestions(words: string | number | null | undefined): readonly PerformanceSpan[] | null {
  return typeof words === 'string' ? Suggestions.parse(JSON.parse(words)) : null;
}

function readBlocks({ columns }: SeriesBlob, fact: (name: string) => number): SoundBlocks | null {
  const { powerLeft, powerRight, powerMix, blockPeak, clipped } = columns;
  if (
    !(powerLeft instanceof Float32Array) ||
    !(powerRight instanceof Float32Array) ||
    !(powerMix instanceof Float32Array) ||
    !(blockPeak instanceof Float32Array) ||
    !(clipped instanceof Uint16Array)
  )
    return null;
  return {
    blockUs: SOUND_BLOCK_US,
    startUs: fact('blocksStartUs'),
    sides: fact('sides') === 1 ? 1 : 2,
    powerLeft,
    powerRight,
    powerMix,
    peak: blockPeak,
    clipped,
  };
}
