import { mkdir } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, extname, join } from 'node:path';
import { inspectMedia } from '../bring-in/bring-in.ts';
import { mergePhotos } from '../photo/merge-photos.ts';
import { isSameFile } from '../process/same-file.ts';
import type { CommandEnd } from './command-end.ts';
import { UsageError } from './usage.ts';

/** Two or three photographs of one piece as one without the lamp in it. */
export async function mergeCommand(
  files: readonly string[],
  out: string | undefined,
  signal: AbortSignal,
): Promise<CommandEnd> {
  if (out === undefined) throw new UsageError('merge needs --out FOLDER.');
  if (files.length < 2 || files.length > 3) throw new UsageError('merge takes two or three photographs.');
  await mkdir(out, { recursive: true });
  const [first = ''] = files;
  const path = join(out, `${basename(first, extname(first))} merged.jpg`);
  for (const file of files)
    if (await isSameFile(path, file).catch(() => false))
      throw new UsageError(`--out would write over "${file}".`);
  const shots = [];
  for (const file of files)
    shots.push({ path: file, ...(await inspectMedia(file, { signal, scratchFolder: tmpdir() })) });
  const merged = await mergePhotos({ shots, outputPath: path, signal });
  return { answer: { path, ...merged }, exitCode: 0 };
}
