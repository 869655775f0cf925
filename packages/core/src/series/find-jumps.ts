import type { Continuity } from '../media/facts.ts';
import type { FrameTimes } from '../time/frame-times.ts';
import type { FrameSignatures } from './evidence.ts';

/** Two neighbouring frames that have less in common than this are of two pictures; a fast pan keeps more. */
const CUT_CORRELATION = 0.5;
/** Frames on both sides of a cut are like their own neighbours. */
const STEADY_CORRELATION = 0.9;
/** Longer than this, and than so many usual frames, nothing was recorded. */
const LEAST_GAP_US = 250_000;
const GAP_FRAMES = 5;
const MOST_LISTED = 50;

/**
 * Finds cuts and gaps inside a recording: where its whole picture changes at once, and where its frames
 * pause.
 */
export function findJumps(frames: FrameTimes, signatures: FrameSignatures | null): Continuity {
  const times = frames.timesUs;
  const gapsUs = times.slice(1).map((timeUs, index) => timeUs - (times[index] ?? 0));
  const usualUs = [...gapsUs].sort((left, right) => left - right)[gapsUs.length >> 1] ?? 40_000;
  const gaps = gapsUs.flatMap((lengthUs, index) =>
    lengthUs > Math.max(LEAST_GAP_US, usualUs * GAP_FRAMES) ? [{ atUs: times[index] ?? 0, lengthUs }] : [],
  );
  const cuts = signatures ? findCuts(signatures).map((index) => ({ atUs: times[index] ?? 0 })) : [];
  return { gaps: gaps.slice(0, MOST_LISTED), cuts: cuts.slice(0, MOST_LISTED), isSure: false };
}

function findCuts(signatures: FrameSignatures): number[] {
  const size = signatures.widthPx * signatures.heightPx;
  const likeness = (index: number) => correlate(signatures.luma, (index - 1) * size, index * size, size);
  const cuts: number[] = [];
  for (let index = 1; index < signatures.frameCount; index += 1) {
    if (likeness(index) >= CUT_CORRELATION) continue;
    const isSteadyBefore = index < 2 || likeness(index - 1) >= STEADY_CORRELATION;
    const isSteadyAfter = index + 1 >= signatures.frameCount || likeness(index + 1) >= STEADY_CORRELATION;
    if (isSteadyBefore && isSteadyAfter) cuts.push(index);
  }
  return cuts;
}

function correlate(luma: Uint8Array, left: number, right: number, size: number): number {
  let [sumL, sumR, sumLL, sumRR, sumLR] = [0, 0, 0, 0, 0];
  for (let point = 0; point < size; point += 1) {
    const [l, r] = [luma[left + point] ?? 0, luma[right + point] ?? 0];
    sumL += l;
    sumR += r;
    sumLL += l * l;
    sumRR += r * r;
    sumLR += l * r;
  }
  const [varL, varR] = [sumLL - (sumL * sumL) / size, sumRR - (sumR * sumR) / size];
  // An even picture beside another even one is no cut.
  if (varL < size || varR < size) return varL < size && varR < size ? 1 : 0;
  return (sumLR - (sumL * sumR) / size) / Math.sqrt(varL * varR);
}
