import { buildColorTable, isPlainColor, writeCube, type ColorSettings } from '@apodix/core';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';

/** The name of the table in the folder that a tool runs in. */
const TABLE_FILE = 'color.cube';

/**
 * FFmpeg filters that bring a BT.709 picture of full chroma through the table of its recipe, at 16 bits, and
 * back. None where the colors stay as they are. `writeColorTable` has to have been called for the folder that
 * the tool runs in.
 */
export function buildColorFilters(settings: ColorSettings | null): string[] {
  if (isPlainColor(settings)) return [];
  return [
    'scale=in_color_matrix=bt709:in_range=tv:out_range=pc:flags=bicubic+accurate_rnd+full_chroma_int',
    'format=gbrp16le',
    `lut3d=file=${TABLE_FILE}:interp=tetrahedral`,
    'scale=out_color_matrix=bt709:out_range=tv:flags=bicubic+accurate_rnd+full_chroma_int',
    'format=yuv420p',
  ];
}

/** Writes the table of a recipe's colors where `buildColorFilters` reads it; nothing where it needs none. */
export async function writeColorTable(settings: ColorSettings | null, folder: string): Promise<void> {
  if (settings && !isPlainColor(settings))
    await writeFile(join(folder, TABLE_FILE), writeCube(buildColorTable(settings)));
}
