import { join } from 'node:path';
import sharp from 'sharp';
import {
  HELD,
  lampA,
  lampB,
  MOVED,
  photographBoard,
} from '../../packages/core/src/test-support/glare-scene.ts';

const SHOTS = [
  { name: 'board', corners: HELD, lamp: lampA, glare: { u: 0.35, v: 0.3 }, seed: 2 },
  { name: 'again', corners: MOVED, lamp: lampB, glare: { u: 0.72, v: 0.5 }, seed: 3 },
] as const;

/** Two photographs of a board, the lamp and the hand moved in between: `board` and `again`. */
export async function shootBoard(folder: string, format: 'png' | 'jpg'): Promise<[string, string]> {
  const paths: string[] = [];
  for (const { name, ...wish } of SHOTS) {
    const { bytes, widthPx: width, heightPx: height } = photographBoard(wish);
    const path = join(folder, `${name}.${format}`);
    const picture = sharp(Buffer.from(bytes), { raw: { width, height, channels: 3 } });
    await (format === 'png' ? picture.png() : picture.jpeg({ quality: 96 })).toFile(path);
    paths.push(path);
  }
  return paths as [string, string];
}
