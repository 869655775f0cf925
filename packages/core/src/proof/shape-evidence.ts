import { isPlainColor } from '../color/color-settings.ts';
import { buildColorTable } from '../color/color-table.ts';
import { readColorTable, type ColorTable } from '../color/read-table.ts';
import { measureLuma } from '../color/standard-look.ts';
import { frameSize, isReframed, measureBars, readBarLevel, type Framing } from '../geometry/frame.ts';
import { isMoved, isReshaped, type PictureWish } from '../recipe/picture-wish.ts';
import { findInPhoto, flatSize } from '../geometry/flatten.ts';

import { mapGains } from '../light/even-light.ts';
import { evenPicture } from '../light/gain-map.ts';
import { findHidden, hideInLevels, type HiddenArea } from '../geometry/hidden.ts';
import type { SizePx } from '../geometry/turn.ts';
import type { FrameTimes } from '../time/frame-times.ts';
import type { ColorSignatures, Evidence, FrameSignatures } from '../series/evidence.ts';
import { steadyEvidence, type Steadied } from './steady-evidence.ts';

/** Sizes of the small pictures of a made file that lie point for point on those of the recording. */
export interface ShapedSizes {
  readonly signature: SizePx;
  readonly color: SizePx;
}

/**
 * Sizes at which a made file has to be looked at so that its points are as large as those of the recording's
 * evidence.
 */
export function chooseShapedSizes(
  evidence: Evidence,
  wish: Framing & Pick<PictureWish, 'flatten'>,
): ShapedSizes | null {
  const { colors } = evidence;
  if (!colors) return null;
  const shape = (size: SizePx) => {
    const { widthPx, heightPx } = frameSize(flatSize(size, wish.flatten), wish);
    return { widthPx: Math.max(2, Math.round(widthPx)), heightPx: Math.max(2, Math.round(heightPx)) };
  };
  return { signature: shape(evidence.signatures ?? colors), color: shape(colors) };
}

/** What else happens to pictures while they are shaped. */
export interface ShapeMore {
  /** What is steadied: how, and its pictures, hidden and moved already (`SteadyLook`). */
  readonly steadied?: Steadied | null;
  /** Adds what the maker mixes from pictures before it shapes them. */
  readonly drawIn?: (signatures: FrameSignatures) => FrameSignatures;
  /** Whether they are turned and mirrored too; where nothing else is done they stay as they were recorded. */
  readonly isTurned?: boolean;
}

/**
 * What a recording's evidence would be, had it been recorded as the recipe asks: resampled into the part that
 * is kept, its colors brought through the table, its brightness by what the table does to this recording's
 * own colors, hidden areas averaged in the frames whose times are given. Pictures are `size` large, upright.
 */
export function shapeEvidence(
  evidence: Evidence,
  size: SizePx,
  wish: PictureWish,
  frames: FrameTimes | null = null,
  more: ShapeMore = {},
): Evidence {
  const sizes = chooseShapedSizes(evidence, wish);
  const hidden = hideEvidence(evidence, wish.hidden ?? [], frames);
  const { drawIn = (own: FrameSignatures) => own, isTurned = isReshaped(wish), steadied = null } = more;
  const calm = steadied ? steadyEvidence(hidden, steadied) : hidden;
  const [signatures, { colors }] = [calm.signatures && drawIn(calm.signatures), calm];
  if (!sizes || !isTurned) return signatures === evidence.signatures ? evidence : { ...evidence, signatures };
  const table = wish.color && !isPlainColor(wish.color) ? buildColorTable(wish.color) : null;
  const tones = table && colors ? measureTones(colors, table) : null;
  return {
    ...evidence,
    signatures: signatures ? shapeLuma(signatures, sizes.signature, size, wish, tones) : null,
    colors: colors ? shapeColors(colors, sizes.color, size, wish, table) : null,
  };
}

/** The same blur that resampling a small picture brings, for a made file that is held against it. */
export function softenEvidence(evidence: Evidence, wish: PictureWish): Evidence {
  if (!isMoved(wish)) return evidence;
  const { signatures, colors } = evidence;
  return {
    ...evidence,
    signatures: signatures && { ...signatures, luma: softenAs(wish, signatures.luma, signatures, 1) },
    colors: colors && { ...colors, rgb: softenAs(wish, colors.rgb, colors, 3) },
  };
}

/** Once where pictures were framed, twice where each was moved by another fraction of a point. */
function softenAs(wish: PictureWish, levels: Uint8Array, size: SizePx, sides: 1 | 3): Uint8Array {
  if (!isMoved(wish)) return levels;
  const once = soften(levels, size, sides);
  return (wish.steady ?? null) === null ? once : soften(once, size, sides);
}

function shapeLuma(
  source: FrameSignatures,
  target: SizePx,
  size: SizePx,
  wish: PictureWish,
  tones: Uint8Array | null,
): FrameSignatures {
  const shaped = isReframed(wish) || wish.turnDegrees !== 0 || wish.isMirrored;
  let luma = shaped ? resample(source.luma, source, target, size, wish, 1) : source.luma;
  if (tones) luma = luma.map((level) => tones[level] ?? 0);
  luma = fillBars(luma, target, size, wish, 1);
  luma = softenAs(wish, luma, target, 1);
  return { ...target, luma, frameCount: source.frameCount };
}

function shapeColors(
  source: ColorSignatures,
  target: SizePx,
  size: SizePx,
  wish: PictureWish,
  table: ColorTable | null,
): ColorSignatures {
  let rgb = resample(source.rgb, source, target, size, wish, 3);
  if (wish.light) rgb = evenOut(rgb, target, size, wish, wish.light);
  if (table) rgb = applyTable(rgb, table);
  rgb = fillBars(rgb, target, size, wish, 3);
  rgb = softenAs(wish, rgb, target, 3);
  return { ...target, rgb, frameIndices: source.frameIndices };
}

/** Pictures, framed already, with the light of their recording evened out. */
function evenOut(
  rgb: Uint8Array,
  target: SizePx,
  size: SizePx,
  wish: PictureWish,
  light: NonNullable<PictureWish['light']>,
): Uint8Array {
  const find = findInPhoto(size, wish);
  const gains = mapGains(light, (share) => {
    const { x, y } = find(share);
    return { x: x / size.widthPx, y: y / size.heightPx };
  });
  const length = target.widthPx * target.heightPx * 3;
  const made = new Uint8Array(rgb.length);
  for (let from = 0; from + length <= rgb.length; from += length)
    made.set(evenPicture(rgb.subarray(from, from + length), target, gains), from);
  return made;
}

/** Hidden areas as the maker leaves them, at each frame where its time says. */
function hideEvidence(
  { signatures, colors }: Evidence,
  areas: readonly HiddenArea[],
  frames: FrameTimes | null,
): Pick<Evidence, 'signatures' | 'colors'> {
  if (areas.length === 0 || !frames) return { signatures, colors };
  const placed = (frame: number) => {
    const timeUs = frames.timesUs[frame];
    return timeUs === undefined ? [] : areas.map((area) => ({ ...area, place: findHidden(area, timeUs) }));
  };
  const hide = (levels: Uint8Array, size: SizePx, frameOf: (picture: number) => number, sides: 1 | 3) => {
    const made = levels.slice();
    const length = size.widthPx * size.heightPx * sides;
    for (let picture = 0; (picture + 1) * length <= made.length; picture += 1)
      hideInLevels(
        made.subarray(picture * length, (picture + 1) * length),
        size,
        placed(frameOf(picture)),
        sides,
      );
    return made;
  };
  return {
    signatures: signatures && {
      ...signatures,
      luma: hide(signatures.luma, signatures, (picture) => picture, 1),
    },
    colors: colors && {
      ...colors,
      rgb: hide(colors.rgb, colors, (picture) => colors.frameIndices[picture] ?? 0, 3),
    },
  };
}

/** Black or white on all sides, as far as bars and border reach into each point. */
function fillBars(
  levels: Uint8Array,
  { widthPx: w, heightPx: h }: SizePx,
  size: SizePx,
  wish: PictureWish,
  sides: 1 | 3,
): Uint8Array {
  const bars = measureBars(flatSize(size, wish.flatten), wish);
  const fill = readBarLevel(wish);
  if (bars.x < 1e-9 && bars.y < 1e-9) return levels;
  const cover = (index: number, count: number, bar: number) => {
    const [from, to] = [index / count, (index + 1) / count];
    return Math.max(0, Math.min(to, 1 - bar) - Math.max(from, bar)) * count;
  };
  const shares = Float32Array.from(
    { length: w * h },
    (_, point) => cover(point % w, w, bars.x) * cover(Math.floor(point / w), h, bars.y),
  );
  return levels.map((level, at) =>
    Math.round(fill + (level - fill) * (shares[Math.floor(at / sides) % (w * h)] ?? 1)),
  );
}

/** Eight-bit R, G, B through a table. */
export function applyTable(rgb: Uint8Array, table: ColorTable): Uint8Array {
  const made = new Uint8Array(rgb.length);
  const out = [0, 0, 0];
  for (let at = 0; at < rgb.length; at += 3) {
    readColorTable(table, (rgb[at] ?? 0) / 255, (rgb[at + 1] ?? 0) / 255, (rgb[at + 2] ?? 0) / 255, out);
    for (let side = 0; side < 3; side += 1) made[at + side] = Math.round((out[side] ?? 0) * 255);
  }
  return made;
}

/** What each level of brightness becomes on the average of a recording's own colors; gaps are bridged. */
function measureTones({ rgb }: ColorSignatures, table: ColorTable): Uint8Array {
  const [sums, counts] = [new Float64Array(256), new Float64Array(256)];
  const step = Math.max(1, Math.floor(rgb.length / 3 / 200_000)) * 3;
  const out = [0, 0, 0];
  for (let at = 0; at + 2 < rgb.length; at += step) {
    const [r, g, b] = [rgb[at] ?? 0, rgb[at + 1] ?? 0, rgb[at + 2] ?? 0];
    readColorTable(table, r / 255, g / 255, b / 255, out);
    const level = Math.round(measureLuma(r, g, b));
    sums[level] = (sums[level] ?? 0) + 255 * measureLuma(out[0] ?? 0, out[1] ?? 0, out[2] ?? 0);
    counts[level] = (counts[level] ?? 0) + 1;
  }
  const known = [...counts.keys()].filter((level) => (counts[level] ?? 0) > 0);
  const valueOf = (level: number) => (sums[level] ?? 0) / (counts[level] ?? 1);
  return Uint8Array.from({ length: 256 }, (_, level) => {
    const before = known.findLast((each) => each <= level);
    const after = known.find((each) => each >= level);
    if (before === undefined || after === undefined)
      return before === undefined && after === undefined ? level : valueOf(before ?? after ?? level);
    if (before === after) return Math.round(valueOf(before));
    const share = (level - before) / (after - before);
    return Math.round(valueOf(before) * (1 - share) + valueOf(after) * share);
  });
}

/** Every picture of a run brought into its frame, by the four points about each place. */
function resample(
  levels: Uint8Array,
  from: SizePx,
  to: SizePx,
  size: SizePx,
  wish: PictureWish,
  sides: 1 | 3,
): Uint8Array {
  const find = findInPhoto(size, wish);
  const count = to.widthPx * to.heightPx;
  const places = new Int32Array(count * 4);
  const weights = new Float32Array(count * 4);
  for (let y = 0; y < to.heightPx; y += 1)
    for (let x = 0; x < to.widthPx; x += 1) {
      const found = find({ x: (x + 0.5) / to.widthPx, y: (y + 0.5) / to.heightPx });
      const sx = (found.x / size.widthPx) * from.widthPx - 0.5;
      const sy = (found.y / size.heightPx) * from.heightPx - 0.5;
      const at = (y * to.widthPx + x) * 4;
      const [x0, y0] = [Math.floor(sx + 1e-6), Math.floor(sy + 1e-6)];
      const [fx, fy] = [Math.max(0, sx - x0), Math.max(0, sy - y0)];
      const place = (px: number, py: number) =>
        Math.max(0, Math.min(from.heightPx - 1, py)) * from.widthPx +
        Math.max(0, Math.min(from.widthPx - 1, px));
      places.set([place(x0, y0), place(x0 + 1, y0), place(x0, y0 + 1), place(x0 + 1, y0 + 1)], at);
      weights.set([(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy], at);
    }
  const points = from.widthPx * from.heightPx;
  const pictures = Math.floor(levels.length / points / sides);
  const made = new Uint8Array(pictures * count * sides);
  for (let picture = 0; picture < pictures; picture += 1)
    for (let point = 0; point < count; point += 1)
      for (let side = 0; side < sides; side += 1) {
        let sum = 0;
        for (let tap = point * 4; tap < point * 4 + 4; tap += 1)
          sum +=
            (weights[tap] as number) *
            (levels[(picture * points + (places[tap] as number)) * sides + side] as number);
        made[(picture * count + point) * sides + side] = Math.round(sum);
      }
  return made;
}

/** A blur of 1 2 1 along both edges. */
function soften(levels: Uint8Array, { widthPx: w, heightPx: h }: SizePx, sides: 1 | 3): Uint8Array {
  const size = w * h;
  const made = new Uint8Array(levels.length);
  const row = new Float32Array(size);
  const pictures = Math.floor(levels.length / size / sides);
  for (let picture = 0; picture < pictures; picture += 1)
    for (let side = 0; side < sides; side += 1) {
      const from = picture * size * sides + side;
      for (let y = 0; y < h; y += 1)
        for (let x = 0; x < w; x += 1) {
          const read = (px: number) =>
            levels[from + (y * w + Math.max(0, Math.min(w - 1, px))) * sides] as number;
          row[y * w + x] = (read(x - 1) + 2 * read(x) + read(x + 1)) / 4;
        }
      for (let y = 0; y < h; y += 1)
        for (let x = 0; x < w; x += 1) {
          const read = (py: number) => row[Math.max(0, Math.min(h - 1, py)) * w + x] as number;
          made[from + (y * w + x) * sides] = Math.round((read(y - 1) + 2 * read(y) + read(y + 1)) / 4);
        }
    }
  return made;
}
