import {
  ApodixError,
  buildPlan,
  findMissingStream,
  judgePlan,
  planWorkingSize,
  propose,
  type Finding,
  type Limit,
  type MediaFacts,
  type Recipe,
  type Refusal,
} from '@apodix/core';
import { mkdir } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { tmpdir } from 'node:os';
import { inspectMedia } from '../bring-in/bring-in.ts';
import type { OnProgress } from '../process/progress.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';
import { makeFile, type MadeFile } from './make-file.ts';
import { openIntermediate } from './working-files.ts';

export interface MakeFromTakeInput {
  readonly path: string;
  readonly limits: readonly Limit[];
  /** null for what would be proposed. */
  readonly recipe: Recipe | null;
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
 * From a take that nothing is known of to a proven file, decoding it once: where it will be made smaller, or is costly to decode, a copy at
 * the size of the result is written while it is measured.
 */
export async function makeFromTake(input: MakeFromTakeInput): Promise<MadeFromTake> {
  const { path, limits, signal, onProgress } = input;
  return withTemporaryFolder(tmpdir(), async (scratchFolder) => {
    const intermediatePath = join(scratchFolder, 'intermediate.mp4');
    const { facts, analysis, files } = await inspectMedia(path, {
      scratchFolder,
      ...(signal ? { signal } : {}),
      intermediate: {
        path: intermediatePath,
        chooseSize: (known) => planWorkingSize(known, input.recipe, limits),
      },
    });
    const missing = findMissingStream(limits, facts);
    if (missing) throw new ApodixError(missing);
    const recipe = input.recipe ?? propose(facts, analysis, limits).recipe;
    if (recipe.keep && facts.durationUs !== null && recipe.keep.startUs >= facts.durationUs)
      throw new ApodixError('BAD_REQUEST', {
        detail: 'The recipe keeps a part that lies after the end of the take.',
      });
    const frames = facts.video ? { timesUs: analysis.frameTimesUs, endUs: analysis.frameEndUs } : null;
    const judge = { limits, nameContext: null };
    const { plan, refusals } = buildPlan({
      facts,
      recipe,
      limits,
      frames,
      takeName: basename(path),
      nameContext: null,
    });
    if (!plan || refusals.length > 0)
      return { facts, recipe, refusals, planned: plan ? judgePlan(plan, facts, judge) : [], made: null };
    await mkdir(input.outputFolder, { recursive: true });
    const outputPath = join(input.outputFolder, plan.fileName);
    if (outputPath === path)
      throw new ApodixError('BAD_REQUEST', {
        detail: 'The made file would replace the take. Choose another folder.',
      });
    const made = await makeFile({
      sourcePath: path,
      facts,
      frames,
      complexity: analysis.complexity,
      keyframesUs: analysis.keyframesUs,
      plan,
      judge,
      outputPath,
      working: await openIntermediate(files.intermediate),
      ...(signal ? { signal } : {}),
      ...(onProgress ? { onProgress } : {}),
    });
    return { facts, recipe, refusals, planned: [], made };
  });
}
