import { createPlainRecipe, type Recipe } from '@apodix/core';
import { execa } from 'execa';
import { join } from 'node:path';
import type { RightFile } from './right-files.ts';
import { TAKE_SECONDS } from './takes.ts';
import type { WrongFile } from './wrong-files.ts';
import { BT709_ARGS } from '../test-support/bt709-args.ts';

const CODED = [
  '-c:v',
  'libx264',
  '-preset',
  'veryfast',
  '-crf',
  '23',
  ...BT709_ARGS,
  '-c:a',
  'aac',
  '-b:a',
  '128k',
];
const PATHS = {
  take: 'take.mp4',
  other: 'other.mp4',
  bright: 'bright.mov',
  wandering: 'wandering.mp4',
} as const;

type Changes = Pick<WrongFile, 'keep' | 'turnDegrees' | 'isMirrored' | 'gainDb'>;

/** The recipe that a file should follow. */
export function buildOwnRecipe(file: Changes): Recipe {
  const plain = createPlainRecipe();
  return {
    ...plain,
    spans: (file.keep ?? []).map(([startUs, finishUs]) => ({ source: 0, startUs, finishUs })),
    picture: {
      ...plain.picture,
      turnDegrees: file.turnDegrees ?? 0,
      isMirrored: file.isMirrored ?? false,
    },
    sound: { ...plain.sound, gainDb: file.gainDb ?? 0 },
  };
}

/** Makes a file that is wrong in one way; gives its path and the take that it pretends to be of. */
export async function makeWrongFile(
  file: WrongFile,
  folder: string,
  index: number,
): Promise<{ madePath: string; sourcePath: string }> {
  const madePath = join(folder, `wrong-${index}.mp4`);
  const source = PATHS[file.from ?? 'take'];
  const picture = file.picture ?? 'null';
  const isBright = file.from === 'bright';
  const sound = file.args?.includes('-an')
    ? null
    : `[${file.soundFrom ? 1 : 0}:a]${file.sound ?? 'anull'}[a]`;
  await execa('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-i',
    join(folder, source),
    ...(file.soundFrom ? ['-i', join(folder, PATHS[file.soundFrom])] : []),
    '-filter_complex',
    [`[0:v]${picture}[v]`, ...(sound === null ? [] : [sound])].join(';'),
    '-map',
    '[v]',
    ...(sound === null ? [] : ['-map', '[a]']),
    ...CODED,
    ...(isBright ? [] : ['-t', String(TAKE_SECONDS * 2)]),
    ...(file.args ?? []),
    madePath,
  ]);
  const pretended = file.from === 'wandering' || isBright ? source : PATHS.take;
  return { madePath, sourcePath: join(folder, pretended) };
}

/** Makes a file as it should be, by a plain command. */
export async function makeRightFile(
  file: RightFile,
  folder: string,
  index: number,
): Promise<{ madePath: string; sourcePath: string }> {
  const madePath = join(folder, `right-${index}.${file.ending}`);
  const sourcePath = join(folder, PATHS[file.from ?? 'take']);
  const isCopied = file.args.includes('copy');
  const filters = [
    '-filter_complex',
    `[0:v]${file.picture ?? 'null'}[v];[0:a]${file.sound ?? 'anull'}[a]`,
    '-map',
    '[v]',
    '-map',
    '[a]',
  ];
  await execa('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-i',
    sourcePath,
    ...(isCopied ? [] : filters),
    ...file.args,
    // A coding that has a range of its own is told no other.
    ...(isCopied || file.args.includes('mjpeg') ? [] : BT709_ARGS),
    '-map_metadata',
    '-1',
    madePath,
  ]);
  return { madePath, sourcePath };
}
