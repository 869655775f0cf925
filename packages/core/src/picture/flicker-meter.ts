import type { LumaPicture } from './rgb-picture.ts';

const LOOKS = 14;
const ROWS = 60;

/**
 * Tells lamps that pulse with the mains from a picture that changes because somebody moves. A shutter that
 * reads line by line draws the pulse as bands across the picture, the same in every column, and from look to
 * look the bands wander; movement is never the same in every column.
 */
export class FlickerMeter {
  readonly #profiles: { left: Float64Array; right: Float64Array }[] = [];

  /** Takes a look; gives the depth of the pulse as a share of brightness, null before there were enough. */
  add(picture: LumaPicture): number | null {
    this.#profiles.push({
      left: measureRows(picture, 0, 0.5),
      right: measureRows(picture, 0.5, 1),
    });
    if (this.#profiles.length > LOOKS) this.#profiles.shift();
    return this.#profiles.length < LOOKS / 2 ? null : this.#measure();
  }

  /** What both halves of the picture have in common, row by row, beside their mean over all looks. */
  #measure(): number {
    const looks = this.#profiles.length;
    const mean = (side: 'left' | 'right', row: number) =>
      this.#profiles.reduce((sum, profile) => sum + (profile[side][row] ?? 0), 0) / looks;
    let [shared, left, right, count] = [0, 0, 0, 0];
    for (let row = 0; row < ROWS; row += 1) {
      const [meanLeft, meanRight] = [mean('left', row), mean('right', row)];
      if (meanLeft < 16 || meanRight < 16) continue;
      for (const profile of this.#profiles) {
        const a = (profile.left[row] ?? 0) / meanLeft - 1;
        const b = (profile.right[row] ?? 0) / meanRight - 1;
        shared += a * b;
        left += a * a;
        right += b * b;
        count += 1;
      }
    }
    if (count === 0 || left === 0 || right === 0) return 0;
    const likeness = shared / Math.sqrt(left * right);
    return likeness < 0.8 ? 0 : Math.sqrt(Math.max(0, shared / count));
  }
}

function measureRows({ widthPx, heightPx, luma }: LumaPicture, from: number, to: number): Float64Array {
  const rows = new Float64Array(ROWS);
  const [start, finish] = [Math.floor(widthPx * from), Math.floor(widthPx * to)];
  for (let row = 0; row < ROWS; row += 1) {
    const top = Math.floor((row * heightPx) / ROWS);
    const bottom = Math.max(top + 1, Math.floor(((row + 1) * heightPx) / ROWS));
    let sum = 0;
    for (let y = top; y < bottom; y += 1)
      for (let x = start; x < finish; x += 1) sum += luma[y * widthPx + x] ?? 0;
    rows[row] = sum / Math.max(1, (bottom - top) * (finish - start));
  }
  return rows;
}
