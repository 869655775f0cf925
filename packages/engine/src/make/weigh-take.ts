import {
  countGroupFrames,
  LEAST_CRF,
  measureLevel,
  MOST_CRF,
  shareKeyframe,
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
import { hasManyLines, weighSpan, type PieceInput } from './code-piece.ts';

export interface WeighInput extends PieceInput {
  readonly plan: VideoPlan;
  readonly complexity: TakeComplexity | null;
}

const WEIGH_S = 1;
/**
 * Of takes longer than this, in seconds, the middle tells too little: three places are weighed. What they
 * cost is little beside making such a take.
 */
const MIDDLE_TELLS_S = 15;
const [MIDDLE, ASIDE] = [0.5, [0.15, 0.85]] as const;
/** Rate factors on both sides of the first guess that the middle is tried at: what lies between is told. */
const WEIGH_STEP = 3;
/** How often more is weighed where what the size asks for lies further off. */
const MOST_WEIGHED_AGAIN = 3;
/** Single seconds tell no slope beyond these that the whole could be steered by. */
const [LEAST_WEIGHED_SLOPE, MOST_WEIGHED_SLOPE] = [3, 10];
/**
 * What frames after the keyframe of a whole group take beside those of its first half: 1.0 to 1.1 where
 * the camera is calm. The upper end, as pieces that come out too large are coded again (decision 37).
 */
export const SHARE_OF_REST = 1.1;

interface Try {
  readonly crf: number;
  readonly bytes: number;
}

/**
 * What is expected of a take without samples: a second out of its middle coded at two rate factors, and at
 * more where the size lies far from both, so that level and slope are measured and not assumed; of longer
 * takes seconds at two places more, at the rate factor that the middle asks for. `totalWeight` is that of
 * the whole. Throws what coding throws.
 */
export async function weighTake(input: WeighInput, rate: number, totalWeight: number): Promise<RateModel> {
  const { plan, timeline } = input;
  // Only in one stretch does a keyframe of the take stand in the output where its time says.
  const keyframesUs = timeline.spans.length === 1 ? (input.keyframesUs ?? []) : [];
  const startUs = timeline.spans[0]?.sourceStartUs ?? 0;
  const total = plan.cut.frameCount;
  const places = total < MIDDLE_TELLS_S * rate ? [MIDDLE] : [MIDDLE, ...ASIDE];
  const chosen = places.map((place) => chooseWeighed(place, total, rate, startUs, keyframesUs));
  const spans = chosen.filter(({ first }, at) => chosen.findIndex((each) => each.first === first) === at);
  const weights = weighSpans(input.complexity, startUs, spans, rate);
  const groupUs = (Math.min(total, countGroupFrames(rate)) * 1e6) / rate;
  // Side by side: one coder that gives several files makes them one after the other.
  const weighAt = (crf: number, some: readonly FrameSpan[]): Promise<number[]> =>
    settleAll<number[]>(
      some.map(async (span, at) => {
        const path = join(input.folder, `weigh-${crf}-${at}.mp4`);
        const sizes = await weighSpan({ ...input, span }, crf, path);
        await rm(path, { force: true });
        const ownUs = ((span.last - span.first) * 1e6) / rate;
        return shareKeyframe(sizes, ownUs, groupUs, SHARE_OF_REST);
      }),
    );
  const wanted = (plan.rate.videoBps * total) / rate / 8 / Math.max(1e-9, totalWeight);
  return learnFromPlaces({
    ...{ guess: guessCrf(plan, rate), wanted, weights },
    weigh: (crf, count) => weighAt(crf, spans.slice(0, count)),
  });
}

/**
 * Level and slope of a take by places of it, the middle first: `weights` are theirs, `wanted` are the bytes
 * of one weight, and `weigh` tells the bytes that the first `count` of them take at a rate factor. Throws
 * what that throws.
 */
export async function learnFromPlaces(input: {
  readonly guess: number;
  readonly wanted: number;
  readonly weights: readonly number[];
  readonly weigh: (crf: number, count: number) => Promise<readonly number[]>;
}): Promise<RateModel> {
  const { guess, wanted, weights, weigh } = input;
  const [middle = 1] = weights;
  let tries: Try[] = await settleAll<Try[]>(
    [guess - WEIGH_STEP, guess + WEIGH_STEP].map(async (crf) => ({
      crf,
      bytes: sumOf(await weigh(crf, 1)),
    })),
  );
  /** How much more all places take than the middle does, both by their weights; null while not known. */
  let known = weights.length === 1 ? 1 : null;
  const learn = () => {
    const share = known ?? 1;
    const { slope, level } = learnFromTries(tries, (wanted * middle) / share, middle);
    return { slope, level: level + Math.log2(share) };
  };
  for (let round = 0; round < MOST_WEIGHED_AGAIN; round += 1) {
    const crf = Math.round(Math.max(LEAST_CRF, Math.min(MOST_CRF, solveCrf(learn(), 1, wanted))));
    if (known !== null && tries.some((each) => Math.abs(each.crf - crf) <= WEIGH_STEP)) break;
    const bytes = await weigh(crf, weights.length);
    const [own = 1] = bytes;
    tries = [...tries.filter((each) => each.crf !== crf), { crf, bytes: own }];
    known = sumOf(bytes) / sumOf(weights) / (own / middle);
  }
  return learn();
}

const sumOf = (values: readonly number[]) => values.reduce((sum, each) => sum + each, 0);

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
  const across = byNearness.find(({ bytes }) => bytes > wanted !== isOver);
  const next = across ?? second;
  const octaves = Math.log2(Math.max(1, near.bytes) / Math.max(1, next.bytes));
  const told = Math.abs(octaves) < 0.05 ? USUAL_SLOPE : (next.crf - near.crf) / octaves;
  // Beyond all tries toward more bytes it only gets steeper.
  const slope = across === undefined && !isOver ? Math.min(USUAL_SLOPE, told) : told;
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

/** Rate factor of 0.1 bit a pixel of usual material; with few lines little of its grain is left. */
const USUAL_CRF = { many: 26, few: 22 } as const;

/** A first guess from bits a pixel. */
function guessCrf(plan: VideoPlan, rate: number): number {
  const bits = plan.rate.videoBps / (plan.cut.widthPx * plan.cut.heightPx * rate);
  const usual = hasManyLines(plan.cut) ? USUAL_CRF.many : USUAL_CRF.few;
  return Math.round(Math.max(16, Math.min(38, usual - USUAL_SLOPE * Math.log2(bits / 0.1))));
}
