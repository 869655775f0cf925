/**
 * Sound in blocks of a tenth of a second: what loudness (ITU-R BS.1770-4) of any stretch is computed from
 * without decoding again. `power` is the mean square after K-weighting, full scale 1, one column each for the
 * left side, the right side, and both mixed to one ((left + right) / 2); a mono take has the same in all
 * three.
 */
export interface SoundBlocks {
  readonly blockUs: number;
  /** Presentation time of the first block from the start of the file. */
  readonly startUs: number;
  readonly sides: 1 | 2;
  readonly powerLeft: Float32Array;
  readonly powerRight: Float32Array;
  readonly powerMix: Float32Array;
  /** Highest true peak of each block over all sides, full scale 1 (BS.1770-4 annex 2). */
  readonly peak: Float32Array;
  /** Flat tops at full scale that begin in each block. */
  readonly clipped: Uint16Array;
}

/** Length of a block; four of them are one gating block of BS.1770-4. */
export const SOUND_BLOCK_US = 100_000;
