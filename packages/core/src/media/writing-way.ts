import { z } from 'zod';
import type { TurnDegrees } from '../geometry/turn.ts';

/** Which way the writing in a picture runs: upright, or how it would have to be turned to be read. */
export const WritingWay = z.enum(['upright', 'mirrored', 'upside-down', 'flipped']);
export type WritingWay = z.infer<typeof WritingWay>;

/** What turns and mirrors a picture so that its writing can be read. */
export function readUprightStance(way: WritingWay): {
  readonly turnDegrees: TurnDegrees;
  readonly isMirrored: boolean;
} {
  const isTurned = way === 'upside-down' || way === 'flipped';
  return { turnDegrees: isTurned ? 180 : 0, isMirrored: way === 'mirrored' || way === 'flipped' };
}

/** Confidences, 0 to 100, with which writing was recognised each way round. */
export type WayConfidences = Partial<Readonly<Record<WritingWay, number>>>;

/** Upright writing that is recognised as surely needs no other look. */
export const SURE_UPRIGHT = 70;
const LEAST_OTHER = 70;
const APART = 15;

/** The way round in which writing is clearly best recognised; null where none is. */
export function chooseWritingWay(confidences: WayConfidences): WritingWay | null {
  const { upright = 0 } = confidences;
  if (upright >= SURE_UPRIGHT) return 'upright';
  const [best, next] = WritingWay.options
    .map((way) => ({ way, sure: confidences[way] ?? 0 }))
    .sort((left, right) => right.sure - left.sure);
  const isClear = best && best.sure >= LEAST_OTHER && best.sure - (next?.sure ?? 0) >= APART;
  return isClear ? best.way : null;
}
