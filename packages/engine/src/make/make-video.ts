import { estimateOtherBytes, measureFramesUs, unframeSize, type VideoPlan } from '@apodix/core';
import { writeColorTable } from '../picture/color-filters.ts';
import { copyVideo, type CopiedVideo } from './copy-video.ts';
import { makeInPieces } from './make-pieces.ts';
import { makeInTwoPasses } from './two-pass.ts';
import type { Witnesses } from '../likeness/witnesses.ts';
import type { MakeVideoInput } from './make-video-input.ts';
import { choosePicture } from './working-files.ts';

export interface MadeVideo {
  readonly path: string;
  readonly witnesses: Witnesses | null;
  /**
   * Frames at either end that were coded anew where the rest was taken over; null where everything was coded.
   */
  readonly recoded: CopiedVideo['recoded'] | null;
  /** Keys in the store of what it was joined from; none where it was made otherwise. */
  readonly storeKeys: readonly string[];
  /** The plan as it was carried out: where a stream could not be taken over, everything was coded. */
  readonly plan: VideoPlan;
}

/**
 * Makes the planned video: by taking the coded picture over where the plan says so and that is safe, else by
 * coding.
 */
export async function makeVideo(input: MakeVideoInput): Promise<MadeVideo> {
  if (input.plan.method !== 'code') {
    const copied = await copyVideo(input, choosePicture(input, input.plan.cut, undefined));
    if (copied) return { ...copied, witnesses: null, storeKeys: [], plan: input.plan };
  }
  return codeVideo({ ...input, plan: convertToCoding(input.plan) });
}

/** Codes the whole picture, from the intermediate where there is one, else from the take. */
export async function codeVideo(input: MakeVideoInput): Promise<MadeVideo> {
  const { cut } = input.plan;
  const { video } = input.facts;
  const whole = video ? unframeSize(cut, video, cut.recipe.picture) : cut;
  const picture = choosePicture(input, whole, isCombingWished(input) ? undefined : input.working);
  await writeColorTable(cut.recipe.picture.color, input.folder);
  const made = isMadeInTwoPasses(input.plan)
    ? { ...(await makeInTwoPasses(input, picture)), storeKeys: [] }
    : await makeInPieces(input, picture);
  return { ...made, recoded: null, plan: input.plan };
}

/** A working copy has its combs taken out where they were found: no use where something else is wished. */
const isCombingWished = ({ plan, facts }: MakeVideoInput) =>
  plan.cut.recipe.picture.deinterlace === 'always' ||
  (plan.cut.recipe.picture.deinterlace === 'never' && facts.video?.interlace !== 'progressive');

/** Up to this length a first pass over every frame costs less than guessing wrong. */
const MOST_TWO_PASS_US = 5_000_000;

/** Steering needs pieces to steer by, and samples or several pieces to learn from; it knows H.264 only. */
function isMadeInTwoPasses(plan: VideoPlan): boolean {
  if (plan.rate.videoCodec !== 'h264') return true;
  return (
    plan.rate.model === null && plan.rate.maxBytes !== null && measureFramesUs(plan.cut) <= MOST_TWO_PASS_US
  );
}

/** The same plan with everything coded anew. */
export function convertToCoding(plan: VideoPlan): VideoPlan {
  if (plan.method === 'code') return plan;
  const durationUs = measureFramesUs(plan.cut);
  const sound = plan.sound ? { ...plan.sound, isCopied: false } : null;
  const bytes = Math.round(
    (plan.rate.videoBps * durationUs) / 8e6 + estimateOtherBytes(plan.cut.frameCount, durationUs, sound),
  );
  return { ...plan, method: 'code', sound, prediction: { bytes, ssim: null, ownSsim: null } };
}
