import type { ContainerId } from '../../media/containers.ts';
import type { SoundCodecId, VideoCodecId } from '../limit.ts';

/** What a quantity measures. `clock` may be a length or a time of day; `other` is known and is no limit. */
export type Dimension =
  'duration' | 'bytes' | 'px' | 'lines' | 'fps' | 'hz' | 'lufs' | 'peak' | 'dpi' | 'other' | 'number';

export interface Unit {
  readonly dimension: Dimension;
  /** Factor to µs, bytes, px, lines, 1/s, Hz, LUFS, dBTP or dpi. */
  readonly factor: number;
  /** Words that say 2^10 steps. */
  readonly isBinary?: boolean;
}

export type Noun = 'video' | 'sound' | 'photo' | 'document' | 'recording' | 'file';

/** Everything that belongs to one language. Another language is another table of this form. */
export interface Language {
  readonly numbers: Readonly<Record<string, number>>;
  readonly tens: Readonly<Record<string, number>>;
  readonly hundred: readonly string[];
  readonly thousand: readonly string[];
  readonly articles: readonly string[];
  /** Words that stand for a count of their own: a dozen, a couple of. */
  readonly groups: Readonly<Record<string, number>>;
  readonly half: readonly string[];
  readonly quarter: readonly string[];
  /** What stands before a group that something is counted for: "per pair". */
  readonly each: readonly string[];
  readonly and: string;
  readonly of: string;
  readonly units: Readonly<Record<string, Unit>>;
  /** Two or three words that make a unit: `frames per second`. */
  readonly longUnits: readonly (readonly [RegExp, Unit])[];
  readonly formats: Readonly<Record<string, ContainerId>>;
  readonly videoCodecs: Readonly<Record<string, VideoCodecId>>;
  readonly soundCodecs: Readonly<Record<string, SoundCodecId>>;
  readonly nouns: Readonly<Record<string, Noun>>;
  readonly abbreviations: readonly string[];
  /** Further words that typing errors are mended to. */
  readonly cueWords: readonly string[];
  /** Slips in words too short to be mended by likeness. */
  readonly shortSlips: Readonly<Record<string, string>>;
  /** Real words that stand close to a known one and must stay. */
  readonly realWords: readonly string[];
}
