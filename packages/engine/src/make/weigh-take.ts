import {
  LEAST_CRF,
  measureLevel,
  MOST_CRF,
  solveCrf,
  USUAL_SLOPE,
  weighSpans,
  type FrameSpan,
  type RateModel,
  type TakeComplexity,
  type VideoPlan,
} from '@apodix/core';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { settleAll } from '../process/settle-all.ts';
import { weighSpan, type PieceInput } from './code-piece.ts';

export interface WeighInput extends PieceInput {
  readonly plan: VideoPlan;
  readonly complexity: TakeComplexity | null;
}

const WEIGH_S = 1;
/** Of takes longer than this, in seconds, one second tells too little: three are weighed. */
const ONE_SECOND_TELLS_S = 30;
const PLACES = { few: [0.5], more: [0.2, 0.5, 0.8] } as const;
/** Rate factors on both sides of the first guess that the weighed seconds are coded at. */
const WEIGH_STEP = 3;
/** How often they are weighed again where the first guess lay far from what the size asks for. */
const MOST_WEIGHED_AGAIN = 3;
/** Single seconds tell no slope beyond these that the whole could be steered by. */
const [LEAST_WEIGHED_SLOPE, MOST_WEIGHED_SLOPE] = [3, 10];
/** A second opens with a keyframe as a group of two seconds does: about a tenth of its bytes too many. */
const SHARE_OF_SHORT = 0.92;

interface Try {
  readonly crf: number;
  readonly bytes: number;
}

/**
 * What is expected of a take without samples: seconds of it coded at two rate factors, and at more where the
 * size lies far from both, so that level and slope are measured and not assumed. `totalWeight` is that of the
 * whole. Throws what coding throws.
 */
export async function weighTake(input: WeighInput, rate: number, totalWeight: number): Promise<RateModel> {
  const { plan, timeline } = input;
  // Only in one stretch does a keyframe of the take stand in the output where its time says.
  const keyframesUs = timeline.spans.length === 1 ? (input.keyframesUs ?? []) : [];
  const startUs = timeline.spans[0]?.sourceStartUs ?? 0;
  const total = plan.cut.frameCount;
  const places = total > ONE_SECOND_TELLS_S * rate ? PLACES.more : PLACES.few;
  const spans = places.map((place) => chooseWeighed(place, total, rate, startUs, keyframesUs));
  const weight = weighSpans(input.complexity, startUs, spans, rate).reduce((sum, each) => sum + each, 0);
  const isShort = spans.some(({ first, last }) => last - first < rate * 1.5) && total > rate * 1.5;
  // Side by side: one coder that gives several files makes them one after the other.
  const weighOne = async (crf: number, which: number): Promise<Try> => {
    const bytes = await settleAll<number[]>(
      spans.map(async (span, at) => {
        const path = join(input.folder, `weigh-${which}-${at}.mp4`);
        const own = await weighSpan({ ...input, span }, crf, path);
        await rm(path, { force: true });
        return own;
      }),
    );
    const sum = bytes.reduce((all, each) => all + each, 0);
    return { crf, bytes: sum * (isShort ? SHARE_OF_SHORT : 1) };
  };
  const guess = guessCrf(plan, rate);
  const wanted = (((plan.rate.videoBps * total) / rate / 8) * weight) / Math.max(1e-9, totalWeight);
  let tries: Try[] = await settleAll<Try[]>([guess - WEIGH_STEP, guess + WEIGH_STEP].map(weighOne));
  for (let round = 0; round < MOST_WEIGHED_AGAIN; round += 1) {
    const model = learnFromTries(tries, wanted, weight);
    const crf = Math.round(Math.max(LEAST_CRF, Math.min(MOST_CRF, solveCrf(model, weight, wanted))));
    if (tries.some((each) => Math.abs(each.crf - crf) <= WEIGH_STEP)) break;
    tries = [...tries, await weighOne(crf, tries.length)];
  }
  return learnFromTries(tries, wanted, weight);
}

/**
 * Level and slope about the wanted bytes: from the nearest try on either side of them where there is one,
 * else from the two that are nearest. Fine noise is lost within few rate factors: tries on one side of that
 * tell nothing of the other.
 */
export function learnFromTries(tries: readonly Try[], wanted: number, weight: number): RateModel {
  const apart = ({ bytes }: Try) => Math.abs(Math.log2(Math.max(1, bytes) / Math.max(1, wanted)));
  const byNearness = tries.toSorted((a, b) => apart(a) - apart(b));
  const [near = { crf: 26, bytes: wanted }, second = near] = byNearness;
  const isOver = near.bytes > wanted;
  const next = byNearness.find(({ bytes }) => bytes > wanted !== isOver) ?? second;
  const octaves = Math.log2(Math.max(1, near.bytes) / Math.max(1, next.bytes));
  const slope = Math.abs(octaves) < 0.05 ? USUAL_SLOPE : (next.crf - near.crf) / octaves;
  const tamed = Math.max(LEAST_WEIGHED_SLOPE, Math.min(MOST_WEIGHED_SLOPE, slope));
  return { slope: tamed, level: measureLevel({ ...near, weight }, tamed) };
}

/** One second about a place of the whole; at a keyframe where the take has few: little is decoded in vain. */
function chooseWeighed(
  place: number,
  total: number,
  rate: number,
  startUs: number,
  keyframesUs: readonly number[],
): FrameSpan {
  const length = Math.min(total, Math.max(1, Math.round(rate * WEIGH_S)));
  const wanted = Math.max(0, Math.floor((total - length) * place));
  const keys = keyframesUs
    .map((timeUs) => Math.ceil(((timeUs - startUs) * rate) / 1e6))
    .filter((frame) => frame >= 0 && frame + length <= total);
  const first = keys.reduce<number | null>(
    (best, key) => (best === null || Math.abs(key - wanted) < Math.abs(best - wanted) ? key : best),
    null,
  );
  return { first: first ?? wanted, last: (first ?? wanted) + length };
}

/** A first guess from bits a pixel: 0.1 bit a pixel of usual material is about rate factor 26. */
function guessCrf(plan: VideoPlan, rate: number): number {
  const bits = plan.rate.videoBps / (plan.cut.widthPx * plan.cut.heightPx * rate);
  return Math.round(Math.max(16, Math.min(38, 26 - USUAL_SLOPE * Math.log2(bits / 0.1))));
}
