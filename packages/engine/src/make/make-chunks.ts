import {
  AIM_SHARE,
  ApodixError,
  estimateMp4Overhead,
  isOffCourse,
  measureLevel,
  planChunks,
  suggestChunkCrf,
  suggestRepair,
  USUAL_SLOPE,
  weighSpans,
  type ChunkResult,
  type FrameSpan,
  type RateModel,
  type TakeComplexity,
  type Timeline,
  type VideoPlan,
} from '@apodix/core';
import { rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { throwIfCancelled } from '../process/fail.ts';
import { settleAll } from '../process/settle-all.ts';
import { chooseWitnessStep, type Witnesses } from '../likeness/witnesses.ts';
import { codeRun, codeSpan, type ChunkInput } from './code-chunk.ts';
import { joinChunks } from './join-chunks.ts';
import { makeSoundTrack } from './make-sound.ts';
import { PROVING_FROM, type MakeVideoInput } from './make-video-input.ts';
import type { PictureSource } from './working-files.ts';

const LEAST_SHARE = 0.97;
const MOST_REPAIRS = 8;
/** Where the limit leaves room, this much more than was foretold is let be. */
const MOST_OVER_PREDICTED = 1.03;
/** How often coding may begin again from where it left its course. */
const MOST_RUNS = 5;
const WEIGH_S = 1;
const WEIGHED_SHARE = 0.06;
const CODED_SHARE = 0.86;

/**
 * Codes the picture chunk by chunk at constant quality, each steered by the size of those before it, so that
 * one coding lands on the size; where it does not, single chunks are coded again.
 */
export async function makeInChunks(
  input: MakeVideoInput,
  picture: PictureSource,
): Promise<{ path: string; witnesses: Witnesses }> {
  const { plan, folder, meter } = input;
  const rate = plan.cut.frameRate.numerator / plan.cut.frameRate.denominator;
  const seconds = plan.cut.frameCount / rate;
  const spans = planChunks(plan.cut.frameCount, rate);
  const every = chooseWitnessStep(rate, seconds);
  const pathOf = (chunk: number) => join(folder, `chunk-${chunk}.mp4`);

  const chunkInput: ChunkInput = {
    take: input,
    picture,
    frames: input.frames,
    timeline: input.timeline,
    cut: plan.cut,
    folder,
    ...(input.signal ? { signal: input.signal } : {}),
  };
  // What samples told need not be weighed; shares are what the stages take of the time.
  const weighed = plan.rate.model ? 0 : WEIGHED_SHARE;
  meter.begin(plan.rate.model ? 'Making the file' : 'Weighing the picture', 0, weighed);
  const [soundPath, { model: prior, weights }] = await settleAll([
    plan.sound ? makeSoundTrack(input, join(folder, 'sound.m4a')) : null,
    findPrior(
      { ...chunkInput, plan, ...input.series },
      { spans, weights: weighSpans(input.series.complexity, findStart(input.timeline), spans, rate), rate },
    ),
  ]);
  const soundBytes = soundPath === null ? 0 : (await stat(soundPath)).size;
  const packets = plan.sound ? (seconds * plan.sound.rateHz) / 1024 : 0;
  const otherBytes = Math.ceil(soundBytes + estimateMp4Overhead(plan.cut.frameCount, packets, seconds * 1e6));
  const usefulBytes = Math.floor((plan.rate.usefulBps * seconds) / 8);
  const roomBytes = plan.rate.maxBytes === null ? Infinity : plan.rate.maxBytes - otherBytes;
  if (roomBytes < 1)
    throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: 'Sound and tables alone take all the bytes.' });
  const targetBytes =
    plan.rate.maxBytes === null ? usefulBytes : Math.min(plan.prediction.bytes - otherBytes, usefulBytes);
  if (targetBytes < 1)
    throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: 'Nothing is left for the picture.' });
  const { leastCrf } = plan.rate;
  const steering = {
    prior,
    weights,
    sampledShare: plan.rate.model?.sampledShare ?? 0,
    targetBytes,
    leastCrf,
  };

  meter.begin('Making the file', weighed, CODED_SHARE);
  const tries: ChunkResult[] = [];
  const witnesses: { path: string; first: number; last: number }[] = [];
  while (tries.length < spans.length) {
    const from = tries.length;
    const crf = suggestChunkCrf({ ...steering, results: tries });
    const run = witnesses.length;
    const pattern = join(folder, `run-${run}-%d.mp4`);
    const witness = { path: join(folder, `witness-${run}.mkv`), every };
    await codeRun({
      ...chunkInput,
      spans: spans.slice(from),
      crf,
      pattern,
      witness,
      onChunk: (index, bytes) => {
        tries.push({ chunk: from + index, crf, bytes });
        return run >= MOST_RUNS - 1 || !isOffCourse({ ...steering, results: tries }, crf);
      },
      onShare: (share) =>
        meter.tell(
          ((spans[from]?.first ?? 0) + share * (plan.cut.frameCount - (spans[from]?.first ?? 0))) /
            plan.cut.frameCount,
        ),
    });
    for (let chunk = from; chunk < tries.length; chunk += 1)
      await rename(pattern.replace('%d', String(chunk - from)), pathOf(chunk));
    witnesses.push({
      path: witness.path,
      first: spans[from]?.first ?? 0,
      last: spans[tries.length - 1]?.last ?? 0,
    });
  }
  const path = join(folder, `best.${plan.container}`);
  const joinAll = () =>
    joinChunks({
      chunks: spans.map((span, chunk) => ({ path: pathOf(chunk), frameCount: span.last - span.first })),
      soundPath,
      plan,
      folder,
      outputPath: path,
      ...(input.signal ? { signal: input.signal } : {}),
    });
  // A recording that needs less than the limit allows is not padded to it.
  const isBound =
    plan.rate.maxBytes !== null &&
    plan.prediction.bytes >= plan.rate.maxBytes * LEAST_SHARE &&
    targetBytes < usefulBytes;
  const keptPath = join(folder, `kept.${plan.container}`);
  let keptBytes = 0;
  let sizeBytes: number;
  for (let round = 0; ; round += 1) {
    await joinAll();
    sizeBytes = (await stat(path)).size;
    if ((!isBound || sizeBytes > keptBytes) && sizeBytes <= (plan.rate.maxBytes ?? Infinity)) {
      await rename(path, keptPath);
      keptBytes = sizeBytes;
    }
    // What the tables really take is known now.
    const overBytes = sizeBytes - sumBytes(tries);
    const leastBytes =
      isBound && plan.rate.maxBytes !== null ? plan.rate.maxBytes * LEAST_SHARE - overBytes + 1 : 0;
    const repair = suggestRepair({
      tries,
      slope: prior.slope,
      targetBytes: Math.min(targetBytes, (plan.rate.maxBytes ?? Infinity) * AIM_SHARE - overBytes),
      leastBytes,
      mostBytes:
        Math.min(
          plan.rate.maxBytes ?? Infinity,
          isBound || plan.rate.maxBytes === null ? Infinity : plan.prediction.bytes * MOST_OVER_PREDICTED,
        ) - overBytes,
      leastCrf,
    });
    const span = repair ? spans[repair.chunk] : undefined;
    if (!repair || !span || round >= MOST_REPAIRS) break;
    throwIfCancelled(input.signal);
    meter.begin('Making it fit more closely', CODED_SHARE, PROVING_FROM);
    tries.push({
      ...repair,
      bytes:
        (
          await codeSpan({ ...chunkInput, span, outputs: [{ crf: repair.crf, path: pathOf(repair.chunk) }] })
        )[0] ?? 0,
    });
  }
  await Promise.all(spans.map((_, chunk) => rm(pathOf(chunk), { force: true })));
  if (keptBytes === 0)
    throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: `The smallest try had ${sizeBytes} bytes.` });
  await rename(keptPath, path);
  return { path, witnesses: { files: witnesses, every } };
}

/** Where the first stretch that is kept begins in the take. */
const findStart = (timeline: Timeline) => timeline.spans[0]?.sourceStartUs ?? 0;

/** Bytes of the chunks as they are now: of each the last try. */
function sumBytes(tries: readonly ChunkResult[]): number {
  return [...new Map(tries.map((each) => [each.chunk, each])).values()].reduce(
    (sum, each) => sum + each.bytes,
    0,
  );
}

/** What is expected of the chunks before any is coded. */
interface Expectation {
  readonly model: RateModel;
  readonly weights: readonly number[];
}

/**
 * From the samples of the take, else from a few seconds coded now: all at one rate factor, those of the
 * middle at a second one too.
 */
async function findPrior(
  input: ChunkInput & {
    readonly plan: VideoPlan;
    readonly keyframesUs: readonly number[];
    readonly complexity: TakeComplexity | null;
  },
  known: { spans: readonly FrameSpan[]; weights: readonly number[]; rate: number },
): Promise<Expectation> {
  const { plan } = input;
  const { spans, weights, rate } = known;
  const totalWeight = weights.reduce((sum, weight) => sum + weight, 0);
  const targetBytes = (plan.rate.videoBps * plan.cut.frameCount) / rate / 8;
  if (plan.rate.model)
    return {
      weights,
      model: {
        slope: plan.rate.model.slope,
        level:
          Math.log2(Math.max(1, targetBytes) / totalWeight) + plan.rate.model.crf / plan.rate.model.slope,
      },
    };
  const pieces = chooseWeighed(
    spans,
    rate,
    findStart(input.timeline),
    // Only in one stretch does a keyframe of the take stand where its time says.
    input.picture.isTake && input.timeline.spans.length === 1 ? input.keyframesUs : [],
  );
  const pieceWeights = weighSpans(input.complexity, findStart(input.timeline), pieces, rate);
  const guess = guessCrf(plan, rate);
  const middle = pieces.length >> 1;
  const sizes: number[][] = [];
  for (const [index, span] of pieces.entries()) {
    const outputs = (index === middle ? [guess - WEIGH_STEP, guess + WEIGH_STEP] : [guess]).map(
      (crf, which) => ({ crf, path: join(input.folder, `weigh-${index}-${which}.mp4`) }),
    );
    sizes.push(await codeSpan({ ...input, span, isAtKeyframe: span.isAtKeyframe, outputs }));
    await Promise.all(outputs.map((output) => rm(output.path, { force: true })));
  }
  const [fine = 1, coarse = 1] = sizes[middle] ?? [];
  const slope = Math.max(3, Math.min(10, (2 * WEIGH_STEP) / Math.max(0.1, Math.log2(fine / coarse))));
  // A piece of one second opens with a keyframe as a group of two seconds does: about a tenth of its bytes
  // too many.
  const shortness =
    pieces.every((span) => span.last - span.first < rate * 1.5) && plan.cut.frameCount > rate * 1.5
      ? 0.92
      : 1;
  const levels = sizes.map((each, index) =>
    measureLevel(
      {
        weight: pieceWeights[index] ?? 1,
        crf: guess,
        bytes: (index === middle ? Math.sqrt(fine * coarse) : (each[0] ?? 1)) * shortness,
      },
      slope,
    ),
  );
  const mean = levels.reduce((sum, level) => sum + level, 0) / levels.length;
  const places = pieces.map((span, index) => ({
    at: (span.first + span.last) / 2,
    value: (levels[index] ?? mean) - mean,
  }));
  return {
    model: { slope, level: mean },
    weights: weights.map(
      (weight, index) =>
        weight * 2 ** interpolate(places, ((spans[index]?.first ?? 0) + (spans[index]?.last ?? 0)) / 2),
    ),
  };
}

/** Straight between places in ascending order, level beyond them. */
function interpolate(places: readonly { readonly at: number; readonly value: number }[], at: number): number {
  const after = places.findIndex((place) => place.at >= at);
  const [left, right] = [
    places[after < 0 ? places.length - 1 : Math.max(0, after - 1)],
    places[after < 0 ? places.length - 1 : after],
  ];
  if (!left || !right || right.at === left.at) return right?.value ?? 0;
  return (
    left.value + (right.value - left.value) * Math.max(0, Math.min(1, (at - left.at) / (right.at - left.at)))
  );
}

/** Rate factors on both sides of the first guess that the weighed pieces are coded at. */
const WEIGH_STEP = 3;

/**
 * One second of the middle, for long takes of several places; where the take has its keyframes far apart, at
 * keyframes, so that little is decoded in vain.
 */
function chooseWeighed(
  spans: readonly FrameSpan[],
  rate: number,
  startUs: number,
  keyframesUs: readonly number[],
): (FrameSpan & { isAtKeyframe: boolean })[] {
  const total = spans.at(-1)?.last ?? 1;
  const shares = total / rate > 40 ? [0.1, 0.3, 0.5, 0.7, 0.9] : total / rate > 6 ? [0.15, 0.5, 0.85] : [0.5];
  const length = Math.min(total, Math.max(1, Math.round(rate * WEIGH_S)));
  const keys = keyframesUs
    .map((timeUs) => Math.ceil(((timeUs - startUs) * rate) / 1e6))
    .filter((frame) => frame >= 0 && frame + length <= total);
  const firsts = shares.map((share) => {
    const wanted = Math.max(0, Math.min(total - length, Math.floor(total * share - length / 2)));
    return (
      keys.reduce<number | null>(
        (best, key) => (best === null || Math.abs(key - wanted) < Math.abs(best - wanted) ? key : best),
        null,
      ) ?? wanted
    );
  });
  return [...new Set(firsts)]
    .sort((left, right) => left - right)
    .map((first) => ({ first, last: first + length, isAtKeyframe: keys.includes(first) }));
}

/** A first guess from bits a pixel: 0.1 bit a pixel of usual material is about rate factor 26. */
function guessCrf(plan: MakeVideoInput['plan'], rate: number): number {
  const bits = plan.rate.videoBps / (plan.cut.widthPx * plan.cut.heightPx * rate);
  return Math.round(Math.max(16, Math.min(38, 26 - USUAL_SLOPE * Math.log2(bits / 0.1))));
}
