import {
  ApodixError,
  buildPlan,
  createPlainRecipe,
  findMissingStream,
  judgePlan,
  planWorkingSize,
  type Finding,
  type FitChoice,
  type Limit,
  type MediaFacts,
  type Recipe,
  type Refusal,
} from '@apodix/core';
import { mkdir } from 'node:fs/promises';
import { isSameFile } from '../process/same-file.ts';
import { basename, join } from 'node:path';
import { tmpdir } from 'node:os';
import { inspectMedia } from '../bring-in/bring-in.ts';
import { proposeRecipe } from '../bring-in/propose-recipe.ts';
import type { OnProgress } from '../process/progress.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';
import { joinNext, layOther, type NextTake } from '../gather/gather-takes.ts';
import { addShake } from '../steady/measure-shake.ts';
import { makeFile, type MadeFile } from './make-file.ts';
import { openIntermediate } from './working-files.ts';

export interface MakeFromTakeInput {
  readonly path: string;
  readonly limits: readonly Limit[];
  /** null for what would be proposed. */
  readonly recipe: Recipe | null;
  /** What was chosen in Fit; null makes the best that fits. */
  readonly choice?: FitChoice | null;
  /** A separate recording whose sound is heard in place of the take's own; it is laid on it by itself. */
  readonly soundPath?: string | null;
  /** Takes whose parts come after it, in this order. */
  readonly thenPaths?: readonly string[];
  /** The slot that the file is meant for. */
  readonly slotId?: string | null;
  /** Where the made file goes, under the name that the limits ask for. */
  readonly outputFolder: string;
  readonly signal?: AbortSignal;
  readonly onProgress?: OnProgress;
}

export interface MadeFromTake {
  readonly facts: MediaFacts;
  readonly recipe: Recipe;
  readonly refusals: readonly Refusal[];
  /** What the plan was expected to give; only where nothing was made. */
  readonly planned: readonly Finding[];
  /** null where a *must* cannot be met. */
  readonly made: MadeFile | null;
}

/**
 * From a take that nothing is known of to a proven file, decoding it once: where it will be made smaller, or
 * is costly to decode, a copy at the size of the result is written while it is measured.
 */
export async function makeFromTake(input: MakeFromTakeInput): Promise<MadeFromTake> {
  const { path, limits, signal, onProgress } = input;
  return withTemporaryFolder(tmpdir(), async (scratchFolder) => {
    const intermediatePath = join(scratchFolder, 'intermediate.mp4');
    const inspected = await inspectMedia(path, {
      scratchFolder,
      ...(signal ? { signal } : {}),
      intermediate: {
        path: intermediatePath,
        chooseSize: (video) => planWorkingSize(video, input.recipe, limits),
      },
    });
    const inspect = (each: string) => inspectMedia(each, { scratchFolder, ...(signal ? { signal } : {}) });
    const other = input.soundPath ? await inspect(input.soundPath) : null;
    const laid =
      other && input.soundPath
        ? layOther(inspected, other, (input.recipe ?? createPlainRecipe()).sound)
        : null;
    const next: NextTake[] = [];
    for (const each of input.thenPaths ?? []) next.push({ path: each, ...(await inspect(each)) });
    const own = laid ?? inspected;
    const missing = findMissingStream(limits, own.facts);
    if (missing) throw new ApodixError(missing);
    const proposed = input.recipe ?? proposeRecipe(own, limits);
    const withSound = laid
      ? { ...proposed, sources: [...proposed.sources.slice(0, 1), laid.source] }
      : proposed;
    const known = await addShake(own, withSound, { path, scratchFolder, ...(signal ? { signal } : {}) });
    const joined = joinNext(known, withSound, next, limits);
    const { facts, series, evidence, recipe } = joined;
    const endUs = series.frames?.endUs ?? facts.durationUs;
    if (endUs !== null && recipe.spans.some((span) => span.source === 0 && span.startUs >= endUs))
      throw new ApodixError('BAD_REQUEST', {
        detail: 'The recipe keeps a part that lies after the end of the take.',
      });
    const judge = { limits, nameContext: null, slotId: input.slotId ?? null };
    const { plan, refusals } = buildPlan({
      facts,
      recipe,
      series,
      choice: input.choice ?? null,
      otherTakeIds: recipe.sources.flatMap(({ takeId }) => takeId ?? []),
      takeName: basename(path),
      ...judge,
    });
    if (!plan || refusals.length > 0)
      return {
        facts,
        recipe,
        refusals,
        planned: plan ? judgePlan(plan, facts, { ...judge, series }) : [],
        made: null,
      };
    await mkdir(input.outputFolder, { recursive: true });
    const outputPath = join(input.outputFolder, plan.fileName);
    if (await isSameFile(outputPath, path))
      throw new ApodixError('BAD_REQUEST', {
        detail: 'The made file would replace the take. Choose another folder.',
      });
    const made = await makeFile({
      sourcePath: path,
      facts,
      series,
      evidence,
      plan,
      judge,
      outputPath,
      separate:
        other && input.soundPath
          ? { path: input.soundPath, facts: other.facts, ownSound: inspected.facts.sound }
          : null,
      joined: joined.files,
      working: await openIntermediate(inspected.intermediatePath ?? undefined),
      ...(signal ? { signal } : {}),
      ...(onProgress ? { onProgress } : {}),
    });
    return { facts, recipe, refusals, planned: [], made };
  });
}
