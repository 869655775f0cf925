import { weighCubic } from '../geometry/cubic.ts';
import type { Affine } from '../geometry/frame.ts';
import { findHidden, hideInLevels, type HiddenArea } from '../geometry/hidden.ts';
import { mapSteady, type SteadyCourse } from '../geometry/steady.ts';
import type { SizePx } from '../geometry/turn.ts';
import type { Evidence, FrameSignatures } from '../series/evidence.ts';
import type { FrameTimes } from '../time/frame-times.ts';

/** How a take is steadied, and small pictures of its frames as they should come out. */
export interface Steadied {
  readonly course: SteadyCourse;
  /** Of the frames of the take itself, from the first on. */
  readonly signatures: FrameSignatures;
}

/**
 * How many times finer a frame is looked at before it is moved: by fractions of a point of the small pictures
 * themselves it would come out differently each time.
 */
export const STEADY_SCALE = 4;

/** Brings frames that come in finer pictures to where steadying lays them, as small as evidence is. */
export class SteadyLook {
  readonly size: SizePx;
  readonly #target: SizePx;
  readonly #course: SteadyCourse;
  readonly #hidden: readonly HiddenArea[];
  readonly #frames: FrameTimes;

  constructor(target: SizePx, course: SteadyCourse, hidden: readonly HiddenArea[], frames: FrameTimes) {
    this.#target = target;
    this.size = { widthPx: target.widthPx * STEADY_SCALE, heightPx: target.heightPx * STEADY_SCALE };
    this.#course = course;
    this.#hidden = hidden;
    this.#frames = frames;
  }

  /** The small picture of a frame whose brightness comes in `size`. */
  read(levels: Uint8Array, frame: number): Uint8Array {
    const timeUs = this.#frames.timesUs[frame];
    const shown = levels.slice();
    if (timeUs !== undefined && this.#hidden.length > 0) {
      const placed = this.#hidden.map((area) => ({ ...area, place: findHidden(area, timeUs) }));
      hideInLevels(shown, this.size, placed, 1);
    }
    const moved =
      frame < this.#course.x.length
        ? warp(shown, this.size, mapSteady(this.#course, frame, this.size), 1)
        : shown;
    return shrink(moved, this.size, this.#target);
  }
}

/** Evidence whose hidden areas are hidden, of a steadied take: colors are moved here. */
export function steadyEvidence(
  { signatures, colors }: Pick<Evidence, 'signatures' | 'colors'>,
  { course, signatures: calm }: Steadied,
): Pick<Evidence, 'signatures' | 'colors'> {
  const luma = signatures?.luma.slice();
  luma?.set(calm.luma.subarray(0, luma.length));
  const rgb = colors?.rgb.slice();
  if (colors && rgb) {
    const length = colors.widthPx * colors.heightPx * 3;
    for (const [picture, frame] of colors.frameIndices.entries()) {
      if (frame >= course.x.length) continue;
      const own = colors.rgb.subarray(picture * length, (picture + 1) * length);
      rgb.set(warp(own, colors, mapSteady(course, frame, colors), 3), picture * length);
    }
  }
  return {
    signatures: signatures && luma ? { ...signatures, luma } : null,
    colors: colors && rgb ? { ...colors, rgb } : null,
  };
}

/** Each point by the sixteen about the place that it comes from (R. Keys, 1981). */
function warp(
  levels: Uint8Array,
  { widthPx: w, heightPx: h }: SizePx,
  map: Affine,
  sides: 1 | 3,
): Uint8Array {
  const made = new Uint8Array(levels.length);
  const [across, down] = [new Float64Array(4), new Float64Array(4)];
  const clamp = (place: number, most: number) => Math.max(0, Math.min(most - 1, place));
  for (let row = 0; row < h; row += 1)
    for (let column = 0; column < w; column += 1) {
      const [u, v] = [column + 0.5, row + 0.5];
      const x = map.a * u + map.c * v + map.e - 0.5;
      const y = map.b * u + map.d * v + map.f - 0.5;
      const [left, top] = [Math.floor(x), Math.floor(y)];
      weighCubic(x - left, across);
      weighCubic(y - top, down);
      for (let side = 0; side < sides; side += 1) {
        let sum = 0;
        for (let tap = 0; tap < 16; tap += 1) {
          const at = clamp(top - 1 + (tap >> 2), h) * w + clamp(left - 1 + (tap & 3), w);
          sum += (down[tap >> 2] ?? 0) * (across[tap & 3] ?? 0) * (levels[at * sides + side] ?? 0);
        }
        made[(row * w + column) * sides + side] = Math.max(0, Math.min(255, Math.round(sum)));
      }
    }
  return made;
}

/** The mean of the points that each one holds. */
function shrink(levels: Uint8Array, from: SizePx, to: SizePx): Uint8Array {
  const made = new Uint8Array(to.widthPx * to.heightPx);
  const sums = new Float64Array(made.length);
  for (let row = 0; row < from.heightPx; row += 1)
    for (let column = 0; column < from.widthPx; column += 1) {
      const at = Math.floor(row / STEADY_SCALE) * to.widthPx + Math.floor(column / STEADY_SCALE);
      sums[at] = (sums[at] ?? 0) + (levels[row * from.widthPx + column] ?? 0);
    }
  for (let at = 0; at < made.length; at += 1) made[at] = Math.round((sums[at] ?? 0) / STEADY_SCALE ** 2);
  return made;
}
