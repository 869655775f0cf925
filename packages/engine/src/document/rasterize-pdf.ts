import { ApodixError } from '@apodix/core';
import { readdir, readFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { runTool } from '../process/run-tool.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';

const LIMITS = { seconds: 150, memoryBytes: 3_000_000_000, outputBytes: 2_000_000_000 };

/** The first page as PNG, upright, its long edge so many pixels. */
export function rasterizeFirstPage(path: string, longEdgePx: number): Promise<Buffer> {
  return withTemporaryFolder(tmpdir(), async (folder) => {
    await drawPages(path, [
      '-f',
      '1',
      '-l',
      '1',
      '-singlefile',
      '-png',
      '-scale-to',
      String(longEdgePx),
      path,
      join(folder, 'page'),
    ]);
    return readFile(join(folder, 'page.png')).catch(() => {
      throw new ApodixError('DAMAGED');
    });
  });
}

/** Draws every page small, and tells how many could be drawn: what can be drawn can be read. */
export function countDrawnPages(path: string): Promise<number> {
  return withTemporaryFolder(tmpdir(), async (folder) => {
    await drawPages(path, ['-gray', '-scale-to', '96', path, join(folder, 'page')]);
    return (await readdir(folder)).length;
  });
}

async function drawPages(path: string, args: readonly string[]): Promise<void> {
  const result = await runTool({ tool: 'pdftoppm', args, limits: LIMITS });
  if (result.isTimedOut) throw new ApodixError('TOO_HEAVY');
  if (result.exitCode !== 0 || /Syntax Error|Couldn't/.test(result.stderrTail))
    throw new ApodixError('DAMAGED', { cause: new Error(`${path}: ${result.stderrTail}`) });
}
