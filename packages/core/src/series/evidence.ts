import { readSeries, writeSeries, type ColumnArray } from './series-blob.ts';

/** A small picture of every frame, upright, as BT.709 luma of a standard display, 0 to 255. */
export interface FrameSignatures {
  readonly widthPx: number;
  readonly heightPx: number;
  /** Frame after frame, row after row. */
  readonly luma: Uint8Array;
  readonly frameCount: number;
}

/** A larger one in color (R, G, B of BT.709 on a standard display) of some frames. */
export interface ColorSignatures {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly rgb: Uint8Array;
  /** Which frames they are of, ascending. */
  readonly frameIndices: Int32Array;
}

/**
 * What is kept of a sound for the proof: its level every hundredth of a second on both sides, and its course.
 */
export interface SoundEvidence {
  /** Presentation time of the first sample from the start of the file. */
  readonly startUs: number;
  readonly sides: 1 | 2;
  /**
   * Root mean square below 4 kHz of each hundredth of a second, in steps of half a decibel below full scale.
   */
  readonly levelLeft: Uint8Array;
  readonly levelRight: Uint8Array;
  /** Both sides mixed to one, 16 bits at `COURSE_RATE_HZ`. */
  readonly course: Int16Array;
}

export const LEVEL_COLUMN_US = 10_000;
export const COURSE_RATE_HZ = 8000;

/** What a proof rests on: left by inspection from its one decoding of a file. */
export interface Evidence {
  readonly signatures: FrameSignatures | null;
  readonly colors: ColorSignatures | null;
  readonly sound: SoundEvidence | null;
}

export const EMPTY_EVIDENCE: Evidence = { signatures: null, colors: null, sound: null };

const FORMAT = 'evidence 1';

export function writeEvidence(evidence: Evidence): Uint8Array {
  const { signatures, colors, sound } = evidence;
  const columns = {
    ...(signatures ? { luma: signatures.luma } : {}),
    ...(colors ? { rgb: colors.rgb, frameIndices: colors.frameIndices } : {}),
    ...(sound ? { levelLeft: sound.levelLeft, levelRight: sound.levelRight, course: sound.course } : {}),
  };
  return writeSeries({
    format: FORMAT,
    facts: {
      lumaWidthPx: signatures?.widthPx ?? null,
      lumaHeightPx: signatures?.heightPx ?? null,
      frameCount: signatures?.frameCount ?? null,
      colorWidthPx: colors?.widthPx ?? null,
      colorHeightPx: colors?.heightPx ?? null,
      soundStartUs: sound?.startUs ?? null,
      sides: sound?.sides ?? null,
    },
    columns: columns as Record<string, ColumnArray>,
  });
}

/** Throws a `RangeError` where the bytes are no evidence. */
export function readEvidence(bytes: Uint8Array): Evidence {
  const { columns, facts } = readSeries(bytes, FORMAT);
  const fact = (name: string) => Number(facts[name] ?? 0);
  const { luma, rgb, frameIndices, levelLeft, levelRight, course } = columns;
  const hasSound =
    levelLeft instanceof Uint8Array && levelRight instanceof Uint8Array && course instanceof Int16Array;
  return {
    signatures:
      luma instanceof Uint8Array
        ? {
            luma,
            widthPx: fact('lumaWidthPx'),
            heightPx: fact('lumaHeightPx'),
            frameCount: fact('frameCount'),
          }
        : null,
    colors:
      rgb instanceof Uint8Array && frameIndices instanceof Int32Array
        ? { rgb, frameIndices, widthPx: fact('colorWidthPx'), heightPx: fact('colorHeightPx') }
        : null,
    sound: hasSound
      ? {
          levelLeft,
          levelRight,
          course,
          startUs: fact('soundStartUs'),
          sides: fact('sides') === 1 ? 1 : 2,
        }
      : null,
  };
}
