import type { SizePx } from '../geometry/turn.ts';
import { fitSizeInside } from '../geometry/turn.ts';

/**
 * What stays free below the limit when the encoder is aimed at it: its own rate control misses by about 1 %.
 */
export const AIM_SHARE = 0.985;
/** Short edges that a picture may be reduced to, largest first. */
export const LINE_STEPS = [2160, 1440, 1080, 900, 720, 540, 480, 360, 240] as const;
/**
 * Below this many bits for each pixel of each frame H.264 turns to mush; fewer lines are the better picture.
 */
export const LEAST_BITS_PER_PIXEL = 0.035;
/**
 * More bits than this no coding of 8-bit 4:2:0 can use. Where quality stops mattering is told by the rate
 * factor, not by this.
 */
const MOST_BITS_PER_PIXEL = 1.2;
/** What usual material takes where nobody sees a difference any more. */
export const TRANSPARENT_BITS_PER_PIXEL = 0.22;
/** The smallest picture rate that is still a picture, at the lowest step. */
export const LEAST_VIDEO_BPS = 40_000;

/**
 * Bytes that an ISO base media file takes besides its samples: boxes and sample tables
 * (ISO/IEC 14496-12 8.6–8.7: stsz 4, ctts 8 a frame; stss 4 a keyframe; stsz 4, stco/stsc 16 a chunk of
 * sound).
 */
export function estimateMp4Overhead(frameCount: number, soundPackets: number, durationUs: number): number {
  const keyframes = Math.ceil(durationUs / 2_000_000) + 1;
  const chunks = Math.ceil(durationUs / 500_000) * 2 + 2;
  return 2400 + frameCount * 12.5 + keyframes * 4 + soundPackets * 4.5 + chunks * 20;
}

export interface BudgetInput {
  /** Upright size after turning and inside every size limit. */
  readonly size: SizePx;
  readonly frameRate: number;
  readonly durationUs: number;
  /** Bytes left for the picture; null where there is no byte limit. */
  readonly pictureBytes: number | null;
  /** Lowest short edge that a limit allows. */
  readonly leastLines: number;
  /**
   * What the source spends, in bits a second of its own coding, and how much further that coding goes than
   * H.264.
   */
  readonly sourceBps: number;
  readonly sourceGain: number;
  readonly sourcePixels: number;
}

export interface BudgetResult {
  readonly size: SizePx;
  readonly videoBps: number;
  /** The source needs less than the limit allows. */
  readonly isSourceBound: boolean;
}

/** The most bits a second that a picture of this size can use, given how much detail the source holds. */
export function estimateUsefulBps(
  input: Pick<BudgetInput, 'frameRate' | 'sourceBps' | 'sourceGain' | 'sourcePixels'>,
  size: SizePx,
): number {
  const pixels = size.widthPx * size.heightPx;
  const byPixels = pixels * input.frameRate * MOST_BITS_PER_PIXEL;
  const bySource = input.sourceBps * input.sourceGain * 1.6 * (pixels / input.sourcePixels) ** 0.75;
  return Math.max(200_000, Math.min(byPixels, bySource));
}

/**
 * Divides the bytes: the most lines that still get enough bits each, never more than the size given.
 * Returns null where even the smallest step is below `LEAST_VIDEO_BPS`.
 */
export function budgetVideo(input: BudgetInput): BudgetResult | null {
  const seconds = input.durationUs / 1_000_000;
  const availableBps = input.pictureBytes === null ? Infinity : (input.pictureBytes * 8) / seconds;
  if (availableBps < LEAST_VIDEO_BPS) return null;
  const short = Math.min(input.size.widthPx, input.size.heightPx);
  const steps = [short, ...LINE_STEPS.filter((lines) => lines < short)].filter(
    (lines) => lines >= Math.min(input.leastLines, short),
  );
  for (const [index, lines] of steps.entries()) {
    const size = fitSizeInside(input.size, { shortEdgePx: lines }, 2);
    const usefulBps = estimateUsefulBps(input, size);
    const leastBps = Math.min(
      size.widthPx * size.heightPx * input.frameRate * LEAST_BITS_PER_PIXEL,
      usefulBps,
    );
    if (availableBps >= leastBps || index === steps.length - 1) {
      return {
        size,
        videoBps: Math.floor(Math.min(availableBps, usefulBps)),
        isSourceBound: usefulBps < availableBps,
      };
    }
  }
  return null;
}
