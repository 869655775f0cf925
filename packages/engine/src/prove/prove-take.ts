import {
  ApodixError,
  createPlainRecipe,
  judgeMade,
  listJoinedSources,
  measureKeptLevel,
  readPieceInView,
  planTakeSteady,
  type Finding,
  type Limit,
  type MediaFacts,
  type Recipe,
} from '@apodix/core';
import { basename } from 'node:path';
import { inspectMedia } from '../bring-in/bring-in.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';
import { joinNext, type NextTake } from '../gather/gather-takes.ts';
import { addShake } from '../steady/measure-shake.ts';
import { measureClarity } from './measure-clarity.ts';
import { measureStillClarity } from './measure-still-clarity.ts';
import { proveMade } from './prove-made.ts';

export interface ProveTakeInput {
  readonly madePath: string;
  readonly sourcePath: string;
  /** Takes that the recipe joins parts from, in its order. */
  readonly thenPaths?: readonly string[];
  /** null means the whole take as it is. */
  readonly recipe: Recipe | null;
  readonly limits: readonly Limit[];
  readonly slotId?: string | null;
  readonly scratchFolder: string;
  readonly signal?: AbortSignal;
}

export interface TakeProof {
  readonly facts: MediaFacts;
  readonly findings: readonly Finding[];
  /** Every *must* and every row of the proof is met; nothing is left open, and nothing to a person. */
  readonly isProven: boolean;
}

/**
 * The whole proof of a file that anybody may have made, from it and the recording alone: both are decoded
 * once, and the recipe says what of the recording it should be.
 */
export async function proveTake(input: ProveTakeInput): Promise<TakeProof> {
  const { limits, signal } = input;
  const recipe = input.recipe ?? createPlainRecipe();
  return withTemporaryFolder(input.scratchFolder, async (folder) => {
    const options = { scratchFolder: folder, ...(signal ? { signal } : {}) };
    const own = await addShake(await inspectMedia(input.sourcePath, options), recipe, {
      ...options,
      path: input.sourcePath,
    });
    const endUs = own.series.frames?.endUs ?? own.facts.durationUs;
    if (endUs !== null && recipe.spans.some((span) => span.source === 0 && span.startUs >= endUs))
      throw new ApodixError('BAD_REQUEST', {
        detail: 'The recipe keeps a part that lies after the end of the take.',
      });
    const next: NextTake[] = [];
    for (const path of input.thenPaths ?? []) next.push({ path, ...(await inspectMedia(path, options)) });
    if (next.length > listJoinedSources(recipe).length)
      throw new ApodixError('BAD_REQUEST', { detail: 'The recipe joins no parts of so many takes.' });
    const take = joinNext(own, recipe, next, limits);
    const soundLimit = limits.find((limit) => limit.kind === 'sound-present');
    const proof = await proveMade({
      madePath: input.madePath,
      recipe,
      take,
      takePath: input.sourcePath,
      timeline: null,
      isSoundWanted: soundLimit?.kind === 'sound-present' && !soundLimit.isWanted ? false : null,
      measureClarity: async (made, timeline) =>
        take.series.frames && timeline
          ? measureClarity({
              takePath: input.sourcePath,
              take: own.facts,
              frames: take.series.frames,
              joined: take.files,
              steady: planTakeSteady(take.facts, take.series, recipe),
              drawnFrom: take.series.places?.find((place) => place.drawn)?.firstFrame ?? null,
              madePath: input.madePath,
              made,
              timeline,
              wish: recipe.picture,
              folder,
              ...(signal ? { signal } : {}),
            })
          : take.facts.durationUs === null
            ? measureStillClarity({
                takePath: input.sourcePath,
                take: take.facts,
                madePath: input.madePath,
                made,
                picture: recipe.picture,
                ...(signal ? { signal } : {}),
              })
            : null,
      ...(signal ? { signal } : {}),
    });
    const level = measureKeptLevel(take.facts, take.series, recipe);
    const origin = {
      spanCount: Math.max(1, recipe.spans.length),
      clippedCount: take.facts.sound ? (level?.clippedCount ?? null) : null,
      continuity: take.facts.continuity,
      inView: null,
      pieceInView: readPieceInView(take.facts, recipe),
    };
    const context = { limits, nameContext: null, slotId: input.slotId ?? null };
    const findings = [
      ...judgeMade(proof.facts, basename(input.madePath), origin, context),
      ...proof.findings,
    ];
    const isProven = findings.every(({ severity, state }) => severity === 'should' || state === 'met');
    return { facts: proof.facts, findings, isProven };
  });
}
