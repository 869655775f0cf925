import { measureFramesUs, type VideoPlan } from '@apodix/core';
import { writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { runTool } from '../process/run-tool.ts';
import { STRICT_ARGS } from '../process/quiet-args.ts';
import { readTimescale } from './code-piece.ts';

export interface JoinInput {
  /** Pieces of the picture in order, with their frames; all in one folder of our own. */
  readonly pieces: readonly { readonly path: string; readonly frameCount: number }[];
  readonly soundPath: string | null;
  readonly plan: Pick<VideoPlan, 'container' | 'cut'>;
  readonly folder: string;
  readonly outputPath: string;
  readonly signal?: AbortSignal;
}

/** Joins pieces and sound into one file without coding anything again; the index stands first. */
export async function joinPieces(input: JoinInput): Promise<void> {
  const list = join(input.folder, 'pieces.txt');
  // What a piece says of its own length may count the delay of its reordered frames: the frames decide.
  const secondsOf = (frameCount: number) =>
    (measureFramesUs({ frameCount, frameRate: input.plan.cut.frameRate }) / 1e6).toFixed(6);
  await writeFile(
    list,
    input.pieces
      .map((piece) => `file '${basename(piece.path)}'\nduration ${secondsOf(piece.frameCount)}\n`)
      .join(''),
  );
  await runTool({
    fault: 'MAKE_FAILED',
    tool: 'ffmpeg',
    args: [
      ...STRICT_ARGS,
      '-protocol_whitelist',
      'file,pipe',
      '-f',
      'concat',
      '-safe',
      '1',
      '-i',
      list,
      ...(input.soundPath === null
        ? []
        : ['-protocol_whitelist', 'file,pipe', '-f', 'mov', '-i', `file:${input.soundPath}`]),
      '-map',
      '0:v:0',
      ...(input.soundPath === null ? [] : ['-map', '1:a:0']),
      '-c',
      'copy',
      '-map_metadata',
      '-1',
      '-map_chapters',
      '-1',
      '-fflags',
      '+bitexact',
      '-video_track_timescale',
      String(readTimescale(input.plan.cut)),
      '-movflags',
      '+faststart',
      '-f',
      input.plan.container,
      '-y',
      input.outputPath,
    ],
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
  });
}
