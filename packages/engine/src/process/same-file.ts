import { realpath, stat } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';

/**
 * Whether writing to a path would write over a file: links in either path are followed, and two names of one
 * file are that file.
 */
export async function isSameFile(outputPath: string, filePath: string): Promise<boolean> {
  const real = await realpath(filePath);
  const folder = await realpath(dirname(outputPath)).catch(() => dirname(outputPath));
  const target = join(folder, basename(outputPath));
  if (target === real || (await realpath(target).catch(() => null)) === real) return true;
  const [there, own] = await Promise.all([stat(target).catch(() => null), stat(real)]);
  return there !== null && there.ino === own.ino && there.dev === own.dev;
}
