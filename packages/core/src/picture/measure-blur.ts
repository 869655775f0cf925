import type { LumaPicture } from './rgb-picture.ts';

const REACH = 4;
/** Every other line tells as much. */
const EVERY_LINE = 2;

/**
 * How blurred a picture is, 0 (sharp) to 1, without another to compare with: a picture that was sharp changes
 * much when it is blurred, a blurred one hardly (F. Crété et al., "The blur effect", Proc. SPIE 6492, 2007).
 * null where there is nothing in the picture whose edges could tell.
 */
export function measureBlur({ widthPx, heightPx, luma }: LumaPicture): number | null {
  const along = measureAlong(luma, widthPx, heightPx, 1, widthPx);
  const across = measureAlong(luma, heightPx, widthPx, widthPx, 1);
  if (along === null || across === null) return null;
  return Math.max(along, across);
}

/** Differences in one direction: `step` leads along a line, `stride` to the next. */
function measureAlong(
  luma: Uint8Array,
  length: number,
  lines: number,
  step: number,
  stride: number,
): number | null {
  const taps = 2 * REACH + 1;
  let [own, lost] = [0, 0];
  for (let line = 0; line < lines; line += EVERY_LINE) {
    const base = line * stride;
    let sum = 0;
    for (let at = 0; at < taps; at += 1) sum += luma[base + at * step] ?? 0;
    let before = sum;
    for (let at = REACH + 1; at < length - REACH; at += 1) {
      sum += (luma[base + (at + REACH) * step] ?? 0) - (luma[base + (at - REACH - 1) * step] ?? 0);
      const change = Math.abs((luma[base + at * step] ?? 0) - (luma[base + (at - 1) * step] ?? 0));
      const blurred = Math.abs(sum - before) / taps;
      own += change;
      lost += Math.max(0, change - blurred);
      before = sum;
    }
  }
  // Less than a fifth of a level from point to point is noise or an empty wall.
  return (own * EVERY_LINE) / Math.max(1, length * lines) < 0.2 ? null : (own - lost) / own;
}

/** Sum of squared differences by point: of pictures of the same thing the sharpest has the most. */
export function measureDetail({ widthPx, heightPx, luma }: LumaPicture): number {
  let sum = 0;
  for (let row = 1; row < heightPx; row += 1)
    for (let at = row * widthPx + 1; at < (row + 1) * widthPx; at += 1) {
      const here = luma[at] ?? 0;
      sum += (here - (luma[at - 1] ?? 0)) ** 2 + (here - (luma[at - widthPx] ?? 0)) ** 2;
    }
  return sum / Math.max(1, widthPx * heightPx);
}
