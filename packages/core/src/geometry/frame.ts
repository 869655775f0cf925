import { z } from 'zod';
import { turnSize, TurnDegrees, type SizePx } from './turn.ts';

/** Further than this nobody holds a camera by mistake. */
export const MOST_STRAIGHTEN_DEGREES = 15;
/** Proportions that bars may fill a picture up to, width to height. */
export const LEAST_ASPECT = 0.2;
export const MOST_ASPECT = 5;
/** A quarter of an edge: less would leave too few points of any recording. */
export const LEAST_CROP_SHARE = 0.25;

const share = z.number().min(0).max(1);

/** A part of a picture, in shares of its edges. */
export const Crop = z
  .strictObject({
    x: share,
    y: share,
    width: share.min(LEAST_CROP_SHARE),
    height: share.min(LEAST_CROP_SHARE),
  })
  .refine((crop) => crop.x + crop.width <= 1 + 1e-9 && crop.y + crop.height <= 1 + 1e-9, {
    message: 'The part has to lie inside the picture.',
  });
export type Crop = z.infer<typeof Crop>;

/**
 * How a picture is framed, in this order: turned, mirrored, straightened without empty corners at the same
 * proportions, cut to a part of that, and filled up with bars.
 */
export interface Framing {
  readonly turnDegrees: TurnDegrees;
  readonly isMirrored: boolean;
  /** Clockwise. */
  readonly straightenDegrees: number;
  readonly crop: Crop | null;
  /** Width to height that black bars fill it up to, last of all; null for none. */
  readonly barsTo?: number | null;
  /** White border all around, in shares of the shorter edge of what is kept; bars are white with it. */
  readonly border?: number;
}

/** More of it leaves too little of the picture. */
export const MOST_BORDER = 0.2;

/** What bars are filled with, 0 to 255. */
export const readBarLevel = ({ border = 0 }: Pick<Framing, 'border'>) => (border > 0 ? 255 : 0);

/** What straightening enlarges everything by, so that no corner stays empty. */
export function measureStraightenZoom(size: SizePx, degrees: number): number {
  const angle = (Math.abs(degrees) * Math.PI) / 180;
  const ratio = Math.max(size.widthPx / size.heightPx, size.heightPx / size.widthPx);
  return Math.cos(angle) + Math.sin(angle) * ratio;
}

/** Whether framing does more than turn and mirror. */
export function isReframed(
  framing: Pick<Framing, 'straightenDegrees' | 'crop' | 'barsTo' | 'border'>,
): boolean {
  const { straightenDegrees, crop, barsTo = null, border = 0 } = framing;
  return straightenDegrees !== 0 || crop !== null || barsTo !== null || border > 0;
}

const WHOLE = { x: 0, y: 0, width: 1, height: 1 };

/** The part that is kept, with bars and border, in shares of the picture's edges: it reaches beyond them. */
function addBars(turned: SizePx, framing: Framing): { x: number; y: number; width: number; height: number } {
  const part = framing.crop ?? WHOLE;
  const { barsTo = null, border = 0 } = framing;
  if (barsTo === null && border === 0) return part;
  const [w, h] = [part.width * turned.widthPx, part.height * turned.heightPx];
  const aspect = barsTo ?? w / h;
  const both = 2 * border * Math.min(w, h);
  const width = (w * Math.max(1, (aspect * h) / w) + both) / turned.widthPx;
  const height = (h * Math.max(1, w / h / aspect) + both) / turned.heightPx;
  return {
    x: part.x - (width - part.width) / 2,
    y: part.y - (height - part.height) / 2,
    width,
    height,
  };
}

/** How much of a framed picture is bars or border on each side: shares of its width and height. */
export function measureBars(size: SizePx, framing: Framing): { x: number; y: number } {
  const part = framing.crop ?? WHOLE;
  const whole = addBars(turnSize(size, framing.turnDegrees), framing);
  return { x: (1 - part.width / whole.width) / 2, y: (1 - part.height / whole.height) / 2 };
}

/** The size of what framing leaves of a picture, at the picture's own scale, in whole points. */
export function frameSize(size: SizePx, framing: Framing): SizePx {
  const turned = turnSize(size, framing.turnDegrees);
  if (!isReframed(framing)) return turned;
  const zoom = measureStraightenZoom(turned, framing.straightenDegrees);
  const edge = (px: number, part: number) => Math.max(2, Math.round((px * part) / zoom));
  const { width, height } = addBars(turned, framing);
  return { widthPx: edge(turned.widthPx, width), heightPx: edge(turned.heightPx, height) };
}

/** The size that a whole picture has, before turning, where what framing leaves of it has the given size. */
export function unframeSize(framed: SizePx, source: SizePx, framing: Framing): SizePx {
  if (!isReframed(framing)) return turnSize(framed, framing.turnDegrees);
  const turned = turnSize(source, framing.turnDegrees);
  const zoom = measureStraightenZoom(turned, framing.straightenDegrees);
  const { width, height } = addBars(turned, framing);
  return turnSize(
    {
      widthPx: Math.round((framed.widthPx * zoom) / width),
      heightPx: Math.round((framed.heightPx * zoom) / height),
    },
    framing.turnDegrees,
  );
}

/** x' = a·x + c·y + e, y' = b·x + d·y + f. */
export interface Affine {
  readonly a: number;
  readonly b: number;
  readonly c: number;
  readonly d: number;
  readonly e: number;
  readonly f: number;
}

/**
 * Where in the upright source, in its own points, something of the framed picture lies, in shares of the
 * framed picture's edges (0 to 1). Bars lie beyond what is kept, often beyond the source's edges.
 */
export function mapToSource(size: SizePx, framing: Framing): Affine {
  const turned = turnSize(size, framing.turnDegrees);
  const { widthPx: w, heightPx: h } = turned;
  const zoom = measureStraightenZoom(turned, framing.straightenDegrees);
  const crop = addBars(turned, framing);
  const angle = (framing.straightenDegrees * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle) / zoom, Math.sin(angle) / zoom];
  // From shares to points about the middle of the straightened picture, then turned back.
  const [px, py] = [(crop.x - 0.5) * w, (crop.y - 0.5) * h];
  const [sx, sy] = [crop.width * w, crop.height * h];
  const straight: Affine = {
    a: cos * sx,
    c: sin * sy,
    e: cos * px + sin * py + w / 2,
    b: -sin * sx,
    d: cos * sy,
    f: -sin * px + cos * py + h / 2,
  };
  const mirrored: Affine = framing.isMirrored
    ? { ...straight, a: -straight.a, c: -straight.c, e: w - straight.e }
    : straight;
  const { a, b, c, d, e, f } = mirrored;
  switch (framing.turnDegrees) {
    case 0:
      return mirrored;
    case 90:
      return { a: b, c: d, e: f, b: -a, d: -c, f: w - e };
    case 180:
      return { a: -a, c: -c, e: w - e, b: -b, d: -d, f: h - f };
    case 270:
      return { a: -b, c: -d, e: h - f, b: a, d: c, f: e };
  }
}

/** The first map, and the second one after it. */
export function composeAffine(first: Affine, second: Affine): Affine {
  const { a, b, c, d, e, f } = first;
  return {
    a: second.a * a + second.c * b,
    b: second.b * a + second.d * b,
    c: second.a * c + second.c * d,
    d: second.b * c + second.d * d,
    e: second.a * e + second.c * f + second.e,
    f: second.b * e + second.d * f + second.f,
  };
}

/** Throws a `RangeError` where it cannot be undone. */
export function invertAffine({ a, b, c, d, e, f }: Affine): Affine {
  const determinant = a * d - b * c;
  if (Math.abs(determinant) < 1e-12) throw new RangeError('The map has no inverse.');
  const by = 1 / determinant;
  return {
    a: d * by,
    b: -b * by,
    c: -c * by,
    d: a * by,
    e: (c * f - d * e) * by,
    f: (b * e - a * f) * by,
  };
}

/** The largest part of a picture with the wanted proportions, about the middle of the part that there is. */
export function lockCrop(size: SizePx, crop: Crop | null, aspect: number): Crop | null {
  const own = crop ?? { x: 0, y: 0, width: 1, height: 1 };
  const shares = (aspect * size.heightPx) / size.widthPx;
  const width = Math.min(1, shares, Math.max(own.width, Math.min(1, own.height * shares)));
  const height = width / shares;
  if (width < LEAST_CROP_SHARE || height < LEAST_CROP_SHARE) return crop;
  const place = (middle: number, part: number) =>
    Math.round(Math.max(0, Math.min(1 - part, middle - part / 2)) * 1e6) / 1e6;
  const round = (value: number) => Math.floor(value * 1e6) / 1e6;
  return {
    x: place(own.x + own.width / 2, width),
    y: place(own.y + own.height / 2, height),
    width: round(width),
    height: round(height),
  };
}
