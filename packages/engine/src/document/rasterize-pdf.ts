import { ApodixError, type SizePx } from '@apodix/core';
import { readdir, readFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { buildToolFault, runTool } from '../process/run-tool.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';

const LIMITS = { seconds: 150, memoryBytes: 3_000_000_000, outputBytes: 2_000_000_000 };

/** Packing points that are read once and thrown away costs more than drawing them: up to thirty times. */
const AS_TIFF = ['-tiff', '-tiffcompression', 'none'];

/** The first page as TIFF, upright, its long edge so many pixels. */
export function rasterizeFirstPage(path: string, longEdgePx: number): Promise<Buffer> {
  return withTemporaryFolder(tmpdir(), async (folder) => {
    await drawPages(path, [
      '-f',
      '1',
      '-l',
      '1',
      '-singlefile',
      ...AS_TIFF,
      '-scale-to',
      String(longEdgePx),
      path,
      join(folder, 'page'),
    ]);
    return readFile(join(folder, 'page.tif')).catch(() => {
      throw new ApodixError('DAMAGED');
    });
  });
}

/** The first so many pages as PNG in grey, the long edge of each so many pixels. */
export function rasterizePages(path: string, longEdgePx: number, most: number): Promise<Buffer[]> {
  return withTemporaryFolder(tmpdir(), async (folder) => {
    const size = ['-scale-to', String(longEdgePx), '-l', String(most)];
    await drawPages(path, ['-gray', ...AS_TIFF, ...size, path, join(folder, 'page')]);
    const names = (await readdir(folder)).sort();
    return Promise.all(
      names.map((name) => sharp(join(folder, name)).png({ compressionLevel: 1 }).toBuffer()),
    );
  });
}

/**
 * Draws every page small: what can be drawn can be read. Gives how many there are, and all of them one after
 * another as R, G and B of eight bits at the given size, in base64.
 */
export function drawPagesSmall(path: string, size: SizePx): Promise<{ count: number; rgb: string }> {
  return withTemporaryFolder(tmpdir(), async (folder) => {
    await drawPages(path, [...AS_TIFF, '-scale-to', '192', path, join(folder, 'page')]);
    const names = (await readdir(folder)).sort();
    const pages: Buffer[] = [];
    for (const name of names)
      pages.push(
        await sharp(join(folder, name))
          .resize({ width: size.widthPx, height: size.heightPx, fit: 'fill', kernel: 'mitchell' })
          .toColourspace('srgb')
          .removeAlpha()
          .raw()
          .toBuffer(),
      );
    return { count: names.length, rgb: Buffer.concat(pages).toString('base64') };
  });
}

async function drawPages(path: string, args: readonly string[]): Promise<void> {
  const result = await runTool({ tool: 'pdftoppm', fault: null, args, limits: LIMITS });
  if (result.isTimedOut || result.isMissing) throw buildToolFault(result, 'DAMAGED');
  if (result.exitCode !== 0 || /Syntax Error|Couldn't/.test(result.stderrTail))
    throw new ApodixError('DAMAGED', { cause: new Error(`${path}: ${result.stderrTail}`) });
}
