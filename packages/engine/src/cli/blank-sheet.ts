import { proposeBySheet, type Recipe, type RgbPicture } from '@apodix/core';
import { tmpdir } from 'node:os';
import { inspectMedia, type Inspected } from '../bring-in/bring-in.ts';
import { UsageError } from './usage.ts';

/** A recipe whose light a photograph of a blank sheet tells; throws a `UsageError` where that cannot be. */
export async function useBlankSheet(
  recipe: Recipe,
  { facts }: Inspected,
  path: string,
  signal: AbortSignal,
): Promise<Recipe> {
  const { facts: own, evidence } = await inspectMedia(path, { signal, scratchFolder: tmpdir() });
  const { colors } = evidence;
  if (!facts.photo || !own.photo || !colors) throw new UsageError('--blank is for photographs.');
  const { widthPx, heightPx } = colors;
  const bytes = colors.rgb.subarray(0, widthPx * heightPx * 3);
  const sheet: RgbPicture = { widthPx, heightPx, bytes, bands: 3 };
  try {
    return proposeBySheet(recipe, facts.photo, sheet).recipe;
  } catch (error) {
    throw error instanceof RangeError ? new UsageError(error.message) : error;
  }
}
