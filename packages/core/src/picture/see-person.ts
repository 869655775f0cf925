import type { Quad } from '../geometry/projective.ts';
import type { RgbPicture } from './rgb-picture.ts';

/** Cells along the longer edge. */
const CELLS = 128;
/** Shares of red and of green in skin, however dark, in daylight (M. Störring's locus of skin). */
const SKIN = { red: [0.36, 0.52], green: [0.25, 0.36], least: 45, apart: 14 } as const;
/** A head beside a piece has so much of the picture. */
const HEAD = { least: 0.008, most: 0.25, fill: 0.5, slim: 0.45 } as const;
/** Where most of what lies around is of that color it is a table. */
const MOST_AROUND = 0.5;

/**
 * Whether somebody may be seen beside a piece: a compact patch of the color of skin outside of its corners
 * (shares of the edges). Tables of wood have that color too, and more of it.
 */
export function seesPerson(picture: RgbPicture, corners: Quad): boolean {
  const scale = CELLS / Math.max(picture.widthPx, picture.heightPx);
  const [w, h] = [
    Math.max(8, Math.round(picture.widthPx * scale)),
    Math.max(8, Math.round(picture.heightPx * scale)),
  ];
  const isSkin = new Uint8Array(w * h);
  let [around, skin] = [0, 0];
  for (let y = 0; y < h; y += 1)
    for (let x = 0; x < w; x += 1) {
      if (isInside(corners, (x + 0.5) / w, (y + 0.5) / h)) continue;
      around += 1;
      if (!hasSkin(picture, (x + 0.5) / w, (y + 0.5) / h)) continue;
      isSkin[y * w + x] = 1;
      skin += 1;
    }
  if (skin > MOST_AROUND * around) return false;
  return listPatches(isSkin, w, h).some(({ count, widthCells, heightCells }) => {
    const slim = Math.min(widthCells, heightCells) / Math.max(widthCells, heightCells);
    const fill = count / (widthCells * heightCells);
    const share = count / (w * h);
    return share >= HEAD.least && share <= HEAD.most && fill >= HEAD.fill && slim >= HEAD.slim;
  });
}

function isInside(corners: Quad, x: number, y: number): boolean {
  return corners.every((corner, index) => {
    const next = corners[((index + 1) % 4) as 0];
    return (next.x - corner.x) * (y - corner.y) - (next.y - corner.y) * (x - corner.x) >= 0;
  });
}

function hasSkin({ widthPx, heightPx, bytes, bands }: RgbPicture, u: number, v: number): boolean {
  const at = (Math.floor(v * heightPx) * widthPx + Math.floor(u * widthPx)) * bands;
  const [red, green, blue] = [bytes[at] as number, bytes[at + 1] as number, bytes[at + 2] as number];
  const sum = red + green + blue;
  if (red < SKIN.least || red - blue < SKIN.apart || red <= green) return false;
  const [r, g] = [red / sum, green / sum];
  return r >= SKIN.red[0] && r <= SKIN.red[1] && g >= SKIN.green[0] && g <= SKIN.green[1];
}

interface Patch {
  readonly count: number;
  readonly widthCells: number;
  readonly heightCells: number;
}

/** Cells that hang together, edge to edge. */
function listPatches(marked: Uint8Array, w: number, h: number): Patch[] {
  const left = Uint8Array.from(marked);
  const found: Patch[] = [];
  for (let start = 0; start < left.length; start += 1) {
    if (!left[start]) continue;
    left[start] = 0;
    const stack = [start];
    let [count, x0, x1, y0, y1] = [0, w, 0, h, 0];
    for (let cell = stack.pop(); cell !== undefined; cell = stack.pop()) {
      const [x, y] = [cell % w, Math.floor(cell / w)];
      count += 1;
      [x0, x1, y0, y1] = [Math.min(x0, x), Math.max(x1, x), Math.min(y0, y), Math.max(y1, y)];
      const next = [x > 0 ? cell - 1 : -1, x + 1 < w ? cell + 1 : -1, cell - w, cell + w];
      for (const each of next)
        if (each >= 0 && each < left.length && left[each]) {
          left[each] = 0;
          stack.push(each);
        }
    }
    found.push({ count, widthCells: x1 - x0 + 1, heightCells: y1 - y0 + 1 });
  }
  return found;
}
