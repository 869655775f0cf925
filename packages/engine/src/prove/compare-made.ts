import {
  measureFramesUs,
  measureRangeUs,
  type Comparison,
  type FrameTimes,
  type MediaFacts,
  type Plan,
  type VideoPlan,
} from '@apodix/core';
import { choosePicture, type WorkingFiles } from '../make/working-files.ts';
import { settleAll } from '../process/settle-all.ts';
import { compareWithSource, type FrameLikeness, type PictureInput } from './compare-picture.ts';
import { compareSound } from './compare-sound.ts';

export interface CompareInput {
  readonly madePath: string;
  readonly plan: Plan;
  readonly take: { readonly path: string; readonly facts: MediaFacts };
  readonly frames: FrameTimes | null;
  readonly working: WorkingFiles | undefined;
  /** Likeness that was measured while the made file was decoded; null where that is still to be done. */
  readonly likeness: readonly FrameLikeness[] | null;
  /** Frames at either end that were coded anew where the rest was taken over; null where everything was coded. */
  readonly recoded: { readonly head: number; readonly tail: number } | null;
  readonly folder: string;
  readonly signal?: AbortSignal;
}

const WORST = 5;
const EDGE_S = 1;

/** Holds a made file against the part of the recording that it was made from. */
export async function compareMade(input: CompareInput): Promise<Comparison> {
  const { plan } = input;
  if (plan.kind === 'photo') return { picture: null, sound: null };
  const durationUs = plan.kind === 'video' ? measureFramesUs(plan) : measureRangeUs(plan.keep);
  const [picture, sound] = await settleAll([
    plan.kind === 'video' && input.frames ? comparePicture(input, plan, input.frames) : null,
    compareSound({ ...input, plan, durationUs }),
  ]);
  return { picture, sound };
}

async function comparePicture(
  input: CompareInput,
  plan: VideoPlan,
  frames: FrameTimes,
): Promise<Comparison['picture']> {
  const pictureInput: PictureInput = {
    madePath: input.madePath,
    plan,
    take: input.take,
    frames,
    picture: choosePicture(input.take, plan, input.working),
    folder: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
  };
  const rate = plan.frameRate.numerator / plan.frameRate.denominator;
  if (input.recoded) {
    const edge = Math.min(plan.frameCount, Math.max(1, Math.round(rate * EDGE_S)));
    const head = await compareWithSource(pictureInput, {
      first: 0,
      last: Math.min(plan.frameCount, Math.max(edge, Math.min(input.recoded.head, edge * 3))),
    });
    const tail =
      plan.frameCount > edge
        ? await compareWithSource(pictureInput, { first: plan.frameCount - edge, last: plan.frameCount })
        : head;
    const recoded = input.recoded.head + input.recoded.tail;
    const measured = [...head, ...tail];
    const ssimRecoded = meanOf(measured);
    const isCopied = recoded === 0;
    return {
      ...summarize(measured, rate),
      ssimMean: isCopied
        ? Math.max(ssimRecoded, 1 - 1e-6)
        : (ssimRecoded * recoded + (plan.frameCount - recoded)) / plan.frameCount,
      isCopied,
    };
  }
  const every = Math.max(1, Math.floor(rate / 4));
  const likeness = input.likeness ?? [
    ...(await compareWithSource(pictureInput, { first: 0, last: plan.frameCount }, every)),
    ...(await compareWithSource(pictureInput, { first: plan.frameCount - 1, last: plan.frameCount })),
  ];
  return { ...summarize(likeness, rate), isCopied: false };
}

function meanOf(likeness: readonly FrameLikeness[]): number {
  return likeness.reduce((sum, each) => sum + each.ssim, 0) / Math.max(1, likeness.length);
}

function summarize(
  likeness: readonly FrameLikeness[],
  rate: number,
): Omit<NonNullable<Comparison['picture']>, 'isCopied'> {
  const seconds = new Map<number, FrameLikeness[]>();
  for (const each of likeness) {
    const second = Math.floor(each.frame / rate + 1e-9);
    seconds.set(second, [...(seconds.get(second) ?? []), each]);
  }
  const worst = [...seconds]
    .map(([second, all]) => ({ atUs: second * 1_000_000, ssim: meanOf(all) }))
    .sort((left, right) => left.ssim - right.ssim)
    .slice(0, WORST);
  return {
    ssimMean: meanOf(likeness),
    ssimWorst: worst[0]?.ssim ?? 0,
    worstSeconds: worst,
    firstSsim: likeness[0]?.ssim ?? 0,
    lastSsim: likeness.at(-1)?.ssim ?? 0,
    framesCompared: likeness.length,
  };
}
