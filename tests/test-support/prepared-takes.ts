import {
  buildPlan,
  createPlainRecipe,
  Limit,
  type Evidence,
  type PlanInput,
  type Recipe,
} from '@apodix/core';
import { inspectMedia, makeFile } from '@apodix/engine';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';

export const buildLimits = (...raw: Record<string, unknown>[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));

export interface PreparedTake extends PlanInput {
  readonly evidence: Evidence;
}

/** What a plan of a recording is made from, all of it measured. */
export async function prepareTake(
  folder: string,
  path: string,
  limits: Limit[],
  recipe: Recipe = createPlainRecipe(),
): Promise<PreparedTake> {
  const { facts, series, evidence } = await inspectMedia(path, { scratchFolder: folder });
  return { facts, recipe, limits, series, evidence, takeName: 'clip.mp4', nameContext: null };
}

/** Makes the planned file in a folder of its own. */
export async function makePrepared(
  folder: string,
  path: string,
  input: PreparedTake,
  options: { signal?: AbortSignal; onProgress?: () => void } = {},
) {
  const { plan } = buildPlan(input);
  if (!plan) throw new TypeError('a plan was expected');
  const { facts, series, evidence, limits } = input;
  await mkdir(folder, { recursive: true });
  const made = await makeFile({
    ...{ sourcePath: path, facts, series, evidence, plan },
    judge: { limits, nameContext: null },
    outputPath: join(folder, plan.fileName),
    ...options,
  });
  return { made, plan };
}
