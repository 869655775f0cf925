import { execa } from 'execa';
import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildPieceCoderArgs } from './code-piece.ts';

/** A dark stage with the grain of a phone; no larger than what is coded as a picture of many lines. */
const SIZE = { widthPx: 960, heightPx: 900 } as const;
const STAGE =
  'testsrc2=s=1920x1080:r=25,eq=brightness=-0.35:contrast=0.5,noise=alls=10:allf=t,crop=960:900:300:90';
const FRAMES = 20;
/** With one thread: what comes out can depend on their number. */
const X264 = ['-c:v', 'libx264', '-threads', '1'] as const;

let folder = '';
const ffmpeg = (...args: string[]) => execa('ffmpeg', ['-nostdin', '-hide_banner', '-y', ...args]);

async function code(source: string, args: readonly string[]): Promise<{ bytes: number; ssim: number }> {
  const path = join(folder, 'coded.mp4');
  await ffmpeg('-v', 'error', '-i', source, '-an', ...args, path);
  const { stderr } = await ffmpeg('-i', path, '-i', source, '-filter_complex', 'ssim', '-f', 'null', '-');
  return { bytes: (await stat(path)).size, ssim: Number(/All:([\d.]+)/.exec(stderr)?.[1]) };
}
const codePiece = (source: string, crf: number) =>
  code(source, buildPieceCoderArgs({ ...SIZE, frameRate: { numerator: 25, denominator: 1 } }, crf));

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-likeness-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

describe('a picture of many lines', () => {
  it('comes out no less like than with `medium` at the same bytes, where no frame tells of the next', async () => {
    const source = join(folder, 'source.mp4');
    const phone = [...X264, '-preset', 'veryfast', '-b:v', '8M'];
    const asRead = ['-pix_fmt', 'yuv420p'];
    await ffmpeg(
      '-v',
      'error',
      '-f',
      'lavfi',
      '-i',
      STAGE,
      '-frames:v',
      String(FRAMES),
      ...phone,
      ...asRead,
      source,
    );
    const medium = await code(source, [...X264, '-preset', 'medium', '-crf', '24']);
    const [fine, coarse] = [await codePiece(source, 22), await codePiece(source, 24)];
    expect(fine.bytes).toBeGreaterThan(medium.bytes);
    expect(coarse.bytes).toBeLessThan(medium.bytes);
    const share = Math.log(medium.bytes / coarse.bytes) / Math.log(fine.bytes / coarse.bytes);
    const ssim = coarse.ssim + (fine.ssim - coarse.ssim) * share;
    // 0.0011 as it is, half of it where the last of the grain is dropped.
    expect(ssim - medium.ssim).toBeGreaterThanOrEqual(0.0008);
  });
});
