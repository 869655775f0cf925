import { execa } from 'execa';
import { join } from 'node:path';
import sharp from 'sharp';

export const PIECE = { widthPx: 900, heightPx: 1200 };
export const PHOTO = { widthPx: 1600, heightPx: 1200 };
/**
 * Where a lens of 26 mm sees its corners, leaning back by 0.45, to the side by 0.3, turned by 0.06 rad: top
 * left, top right, bottom right, bottom left, in points of the photograph.
 */
export const PIECE_CORNERS = [
  { x: 398.1, y: 123.3 },
  { x: 1201.5, y: 69.8 },
  { x: 1134.2, y: 996.4 },
  { x: 561.2, y: 915.4 },
] as const;
export const IN_SHARES = PIECE_CORNERS.map(({ x, y }) => ({
  x: x / PHOTO.widthPx,
  y: y / PHOTO.heightPx,
})) as unknown as [Share, Share, Share, Share];
interface Share {
  readonly x: number;
  readonly y: number;
}

/** A drawn piece on its paper, with a white margin, shapes, lines and printed words. */
const DRAWING = `<svg xmlns="http://www.w3.org/2000/svg" width="900" height="1200"><rect width="900" height="1200" fill="#f4f1ea"/>
<rect x="80" y="80" width="740" height="1040" fill="#d8c9a4"/><circle cx="330" cy="430" r="190" fill="#a8442f"/>
<path d="M120 900 Q 420 560 780 880 L 780 1080 L 120 1080 Z" fill="#35604c"/><path d="M520 200 L 760 330 L 600 560 Z" fill="#33507e"/>
<g stroke="#221c18" stroke-width="6" fill="none"><path d="M100 740 C 300 640 500 820 800 700"/><path d="M640 1060 L 700 640"/></g></svg>`;

/** The piece as it is, R, G, B. */
export const drawPiece = () => sharp(Buffer.from(DRAWING)).removeAlpha().png().toBuffer();

/**
 * The piece on a desk, seen at a slant; the warp is FFmpeg's. `light` is an FFmpeg filter that stands for the
 * lamp, nothing for even daylight.
 */
export async function photographPiece(folder: string, name: string, light = 'null'): Promise<string> {
  const [flat, white, warped, mask, path] = ['flat.png', 'white.png', 'warped.png', 'mask.png', name].map(
    (each) => join(folder, each),
  ) as [string, string, string, string, string];
  await sharp(await drawPiece())
    .resize(PHOTO.widthPx, PHOTO.heightPx, { fit: 'fill' })
    .toFile(flat);
  const blank = { width: PHOTO.widthPx, height: PHOTO.heightPx, channels: 3 as const, background: '#ffffff' };
  // Black at the border, which FFmpeg draws on beyond it.
  const inside = { width: PHOTO.widthPx - 2, height: PHOTO.heightPx - 2, channels: 3 as const };
  const paper = await sharp({ create: { ...inside, background: '#ffffff' } })
    .png()
    .toBuffer();
  await sharp({ create: { ...blank, background: '#000000' } })
    .composite([{ input: paper, left: 1, top: 1 }])
    .png()
    .toFile(white);
  const [a, b, c, d] = PIECE_CORNERS;
  const warp = `perspective=x0=${a.x}:y0=${a.y}:x1=${b.x}:y1=${b.y}:x2=${d.x}:y2=${d.y}:x3=${c.x}:y3=${c.y}:interpolation=cubic:sense=destination`;
  for (const [from, to] of [
    [flat, warped],
    [white, mask],
  ] as const)
    await execa('ffmpeg', ['-v', 'error', '-y', '-i', from, '-vf', `format=gbrp,${warp}`, to]);
  const read = (from: string) => sharp(from).removeAlpha().raw().toBuffer();
  const [seen, alpha] = [await read(warped), await read(mask)];
  const desk = [0x5b, 0x4a, 0x3c];
  const points = seen.map((level, at) => {
    const share = (alpha[at] ?? 0) / 255;
    return Math.round(share * level + (1 - share) * (desk[at % 3] ?? 0));
  });
  const whole = join(folder, 'whole.png');
  const { widthPx: width, heightPx: height } = PHOTO;
  await sharp(points, { raw: { width, height, channels: 3 } })
    .png()
    .toFile(whole);
  await execa('ffmpeg', ['-v', 'error', '-y', '-i', whole, '-vf', `format=gbrp,${light},format=rgb24`, path]);
  return path;
}
