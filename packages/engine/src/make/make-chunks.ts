import {
  ApodixError, estimateMp4Overhead, LEAST_CRF, measureLevel, planChunks, solveCrf, suggestChunkCrf, suggestRepairs, USUAL_SLOPE, weighSpans,
  type ChunkResult, type FrameSpan, type RateModel,
} from '@apodix/core';
import { rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { throwIfCancelled } from '../process/fail.ts';
import { codeChunk } from './code-chunk.ts';
import { joinChunks } from './join-chunks.ts';
import { makeSoundTrack } from './make-sound.ts';
import type { MadeVideo, MakeVideoInput } from './make-video.ts';
import type { PictureSource } from './working-files.ts';

/** Chunks that are coded at the same time. Fixed, because each chunk's quality follows from those that were done before it. */
const SIDE_BY_SIDE = 2;
const LEAST_SHARE = 0.97;
const MOST_ROUNDS = 5;
const WEIGH_S = 1;

/**
 * Codes the picture chunk by chunk at constant quality, each steered by the size of those before it, so that one coding lands on the
 * size; where it does not, single chunks are coded again. Two chunks run side by side; which of them a chunk's quality depends on is
 * fixed, so the result is the same on every machine.
 */
export async function makeInChunks(input: MakeVideoInput, picture: PictureSource): Promise<MadeVideo> {
  const { plan, folder, meter } = input;
  const rate = plan.frameRate.numerator / plan.frameRate.denominator;
  const seconds = plan.frameCount / rate;
  const spans = planChunks(plan.frameCount, rate);
  const weights = weighSpans(input.complexity, plan.keep.startUs, spans, rate);
  const every = chooseWitnessStep(rate, seconds);
  const pathOf = (chunk: number) => join(folder, `chunk-${chunk}.mp4`);
  const witnessOf = (chunk: number) => join(folder, `witness-${chunk}.mkv`);

  meter.begin('Weighing the picture', 0, 0.06);
  const [soundPath, prior] = await Promise.all([plan.sound ? makeSoundTrack(input, join(folder, 'sound.m4a')) : null, findPrior(input, picture, { spans, weights, rate })]);
  const soundBytes = soundPath === null ? 0 : (await stat(soundPath)).size;
  const packets = plan.sound ? (seconds * plan.sound.rateHz) / 1024 : 0;
  const otherBytes = Math.ceil(soundBytes + estimateMp4Overhead(plan.frameCount, packets, seconds * 1e6));
  const usefulBytes = Math.floor((plan.usefulBps * seconds) / 8);
  const roomBytes = plan.maxBytes === null ? Infinity : plan.maxBytes - otherBytes;
  if (roomBytes < 1) throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: 'Sound and tables alone take all the bytes.' });
  const targetBytes = Math.min(plan.predictedBytes - otherBytes, usefulBytes);
  if (targetBytes < 1) throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: 'Nothing is left for the picture.' });
  const leastCrf = Math.max(LEAST_CRF, plan.leastCrf);

  const shares = new Map<number, number>();
  meter.begin('Making the file', 0.06, 0.88);
  const totalFrames = plan.frameCount;
  const tellShare = () => meter.tell([...shares].reduce((sum, [chunk, share]) => sum + share * ((spans[chunk]?.last ?? 0) - (spans[chunk]?.first ?? 0)), 0) / totalFrames);
  const code = async (chunk: number, crf: number, isRepair: boolean): Promise<ChunkResult> => {
    throwIfCancelled(input.signal);
    const span = spans[chunk];
    if (!span) throw new TypeError('There is no such chunk.');
    const { bytes } = await codeChunk({
      take: input, picture, frames: input.frames, plan, span, crf, outputPath: pathOf(chunk), witness: isRepair ? null : { path: witnessOf(chunk), every }, folder,
      ...(input.signal ? { signal: input.signal } : {}),
      onShare: (share) => {
        if (isRepair) return;
        shares.set(chunk, share);
        tellShare();
      },
    });
    shares.set(chunk, 1);
    return { chunk, crf, bytes };
  };

  const tries = await runPipeline(spans.length, async (chunk, done, running) => {
    const crf = suggestChunkCrf({ prior, weights, results: done, running, targetBytes, leastCrf });
    return { crf, result: () => code(chunk, crf, false) };
  });
  const mostBytes = roomBytes;
  const leastBytes = plan.maxBytes === null ? 0 : Math.min(targetBytes * 0.985, Math.max(0, plan.maxBytes * LEAST_SHARE - otherBytes + 1), usefulBytes);
  for (let round = 0; round < MOST_ROUNDS; round += 1) {
    const repairs = suggestRepairs({ weights, tries, slope: prior.slope, targetBytes, leastBytes, mostBytes, leastCrf });
    if (repairs.length === 0) break;
    meter.begin('Making it fit more closely', 0.88 + round * 0.005, 0.885 + round * 0.005);
    tries.push(...(await runPipeline(repairs.length, (index) => {
      const repair = repairs[index];
      if (!repair) throw new TypeError('There is no such repair.');
      return Promise.resolve({ crf: repair.crf, result: () => code(repair.chunk, repair.crf, true) });
    })));
  }
  const path = join(folder, `best.${plan.container}`);
  await joinChunks({ chunkPaths: spans.map((_, chunk) => pathOf(chunk)), soundPath, plan, folder, outputPath: path, ...(input.signal ? { signal: input.signal } : {}) });
  await Promise.all(spans.map((_, chunk) => rm(pathOf(chunk), { force: true })));
  const sizeBytes = (await stat(path)).size;
  if (plan.maxBytes !== null && sizeBytes > plan.maxBytes) throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: `The smallest try had ${sizeBytes} bytes.` });
  return { path, witnesses: { paths: spans.map((_, chunk) => witnessOf(chunk)), every } };
}

/**
 * Runs pieces of work two at a time. What piece `n` is decided on is always exactly the results up to `n − 2` and the choice for
 * `n − 1`, whichever happens to end first.
 */
async function runPipeline(count: number, decide: (index: number, done: readonly ChunkResult[], running: readonly { chunk: number; crf: number }[]) => Promise<{ crf: number; result: () => Promise<ChunkResult> }>): Promise<ChunkResult[]> {
  const pending: Promise<ChunkResult>[] = [];
  const crfs: number[] = [];
  const failed: unknown[] = [];
  try {
    for (let index = 0; index < count; index += 1) {
      const done = await Promise.all(pending.slice(0, Math.max(0, index - SIDE_BY_SIDE + 1)));
      const running = Array.from({ length: Math.min(index, SIDE_BY_SIDE - 1) }, (_, back) => ({ chunk: index - 1 - back, crf: crfs[index - 1 - back] ?? 0 }));
      const next = await decide(index, done, running);
      crfs.push(next.crf);
      const work = next.result();
      work.catch((error: unknown) => failed.push(error));
      pending.push(work);
    }
    return await Promise.all(pending);
  } catch (error) {
    await Promise.allSettled(pending);
    throw failed[0] ?? error;
  }
}

/** How often a frame is kept for the proof: six a second of a short piece, two of a long one. */
function chooseWitnessStep(rate: number, seconds: number): number {
  return Math.max(1, Math.floor(rate / (seconds <= 60 ? 6 : seconds <= 240 ? 3 : 2)));
}

/** What the bytes of a chunk are expected to be before any is coded: from the samples of the take, else from a few seconds coded now. */
async function findPrior(input: MakeVideoInput, picture: PictureSource, known: { spans: readonly FrameSpan[]; weights: readonly number[]; rate: number }): Promise<RateModel> {
  const { plan } = input;
  const { spans, weights, rate } = known;
  const totalWeight = weights.reduce((sum, weight) => sum + weight, 0);
  const targetBytes = (plan.videoBps * plan.frameCount) / rate / 8;
  if (plan.rateModel) return { slope: plan.rateModel.slope, level: Math.log2(Math.max(1, targetBytes) / totalWeight) + plan.rateModel.crf / plan.rateModel.slope };
  const pieces = chooseWeighed(spans, rate);
  const pieceWeights = weighSpans(input.complexity, plan.keep.startUs, pieces, rate);
  let crf = guessCrf(plan, rate);
  let model: RateModel = { slope: USUAL_SLOPE, level: 0 };
  for (let round = 0; round < 2; round += 1) {
    const bytes = await Promise.all(pieces.map(async (span, index) => (await codeChunk({ take: input, picture, frames: input.frames, plan, span, crf, outputPath: join(input.folder, `weigh-${index}.mp4`), witness: null, folder: input.folder, ...(input.signal ? { signal: input.signal } : {}) })).bytes));
    const sum = bytes.reduce((left, right) => left + right, 0);
    // A piece of one second opens with a keyframe as a group of two seconds does: about an eighth of its bytes too many.
    const shortness = pieces.every((span) => span.last - span.first < rate * 1.5) && plan.frameCount > rate * 1.5 ? 0.88 : 1;
    model = { slope: USUAL_SLOPE, level: measureLevel({ weight: pieceWeights.reduce((left, right) => left + right, 0), crf, bytes: sum * shortness }, USUAL_SLOPE) };
    const solved = Math.max(LEAST_CRF, Math.min(44, solveCrf(model, totalWeight, targetBytes)));
    if (Math.abs(solved - crf) < 4) break;
    crf = Math.round(solved);
  }
  await Promise.all(pieces.map((_, index) => rm(join(input.folder, `weigh-${index}.mp4`), { force: true })));
  return model;
}

/** One second of the middle, for long takes also of the first and the last third. */
function chooseWeighed(spans: readonly FrameSpan[], rate: number): FrameSpan[] {
  const total = spans.at(-1)?.last ?? 1;
  const shares = total / rate > 20 ? [0.12, 0.37, 0.62, 0.87] : total / rate > 6 ? [0.3, 0.7] : [0.5];
  return shares.map((share) => {
    const first = Math.max(0, Math.min(total - 1, Math.floor(total * share - (rate * WEIGH_S) / 2)));
    return { first, last: Math.min(total, first + Math.max(1, Math.round(rate * WEIGH_S))) };
  });
}

/** A first guess from bits a pixel: 0.1 bit a pixel of usual material is about rate factor 26. */
function guessCrf(plan: MakeVideoInput['plan'], rate: number): number {
  const bits = plan.videoBps / (plan.widthPx * plan.heightPx * rate);
  return Math.round(Math.max(16, Math.min(38, 26 - USUAL_SLOPE * Math.log2(bits / 0.1))));
}

