import {
  ApodixError, estimateMp4Overhead, LEAST_CRF, measureLevel, planChunks, suggestChunkCrf, suggestRepairs, USUAL_SLOPE, weighSpans,
  type ChunkResult, type FrameSpan, type RateModel, type TakeComplexity,
} from '@apodix/core';
import { rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { measureMdatBytes } from '../inspect/box-order.ts';
import { buildToolFault, throwIfCancelled } from '../process/fail.ts';
import type { StartedTool } from '../process/run-tool.ts';
import { codeSpan, startChunkCoder, startPicture, startWitnessCoder, type ChunkInput } from './code-chunk.ts';
import { feedFrames } from './frame-feed.ts';
import { joinChunks } from './join-chunks.ts';
import { makeSoundTrack } from './make-sound.ts';
import type { MadeVideo, MakeVideoInput } from './make-video.ts';
import type { PictureSource } from './working-files.ts';

const LEAST_SHARE = 0.97;
const MOST_ROUNDS = 5;
const WEIGH_S = 1;

/**
 * Codes the picture chunk by chunk at constant quality, each steered by the size of those before it, so that one coding lands on the
 * size; where it does not, single chunks are coded again.
 */
export async function makeInChunks(input: MakeVideoInput, picture: PictureSource): Promise<MadeVideo> {
  const { plan, folder, meter } = input;
  const rate = plan.frameRate.numerator / plan.frameRate.denominator;
  const seconds = plan.frameCount / rate;
  const spans = planChunks(plan.frameCount, rate);
  const weights = weighSpans(input.complexity, plan.keep.startUs, spans, rate);
  const every = process.env.NOW ? 1e9 : chooseWitnessStep(rate, seconds);
  const pathOf = (chunk: number) => join(folder, `chunk-${chunk}.mp4`);

  const chunkInput: ChunkInput = { take: input, picture, frames: input.frames, plan, folder, ...(input.signal ? { signal: input.signal } : {}) };
  meter.begin('Weighing the picture', 0, 0.06);
  const [soundPath, prior] = await Promise.all([plan.sound ? makeSoundTrack(input, join(folder, 'sound.m4a')) : null, findPrior({ ...chunkInput, keyframesUs: input.keyframesUs, complexity: input.complexity }, { spans, weights, rate })]);
  const soundBytes = soundPath === null ? 0 : (await stat(soundPath)).size;
  const packets = plan.sound ? (seconds * plan.sound.rateHz) / 1024 : 0;
  const otherBytes = Math.ceil(soundBytes + estimateMp4Overhead(plan.frameCount, packets, seconds * 1e6));
  const usefulBytes = Math.floor((plan.usefulBps * seconds) / 8);
  const roomBytes = plan.maxBytes === null ? Infinity : plan.maxBytes - otherBytes;
  if (roomBytes < 1) throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: 'Sound and tables alone take all the bytes.' });
  const targetBytes = Math.min(plan.predictedBytes - otherBytes, usefulBytes);
  if (targetBytes < 1) throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: 'Nothing is left for the picture.' });
  const leastCrf = Math.max(LEAST_CRF, plan.leastCrf);

  meter.begin('Making the file', 0.06, 0.88);
  const witness = join(folder, 'witness.mkv');
  const tries = await codeAll(chunkInput, {
    spans, pathOf, witness: { path: witness, every },
    chooseCrf: (done, running) => suggestChunkCrf({ prior, weights, results: done, running, targetBytes, leastCrf }),
    onFrame: (frame) => meter.tell(frame / plan.frameCount),
  });
  const leastBytes = plan.maxBytes === null ? 0 : Math.min(targetBytes * 0.985, Math.max(0, plan.maxBytes * LEAST_SHARE - otherBytes + 1), usefulBytes);
  for (let round = 0; round < MOST_ROUNDS; round += 1) {
    const repairs = suggestRepairs({ weights, tries, slope: prior.slope, targetBytes, leastBytes, mostBytes: roomBytes, leastCrf });
    for (const [index, { chunk, crf }] of repairs.entries()) {
      throwIfCancelled(input.signal);
      meter.begin('Making it fit more closely', 0.88, 0.9);
      meter.tell(index / repairs.length);
      const span = spans[chunk];
      if (span) tries.push({ chunk, crf, bytes: (await codeSpan({ ...chunkInput, span, outputs: [{ crf, path: pathOf(chunk) }] }))[0] ?? 0 });
    }
    if (process.env.DBG) console.log(round, JSON.stringify({ targetBytes, leastBytes, roomBytes, prior, weights: weights.map((w) => w.toFixed(2)).join(), tries: tries.map((t) => [t.chunk, t.crf, t.bytes]), repairs }));
    if (repairs.length === 0) break;
  }
  const path = join(folder, `best.${plan.container}`);
  await joinChunks({ chunkPaths: spans.map((_, chunk) => pathOf(chunk)), soundPath, plan, folder, outputPath: path, ...(input.signal ? { signal: input.signal } : {}) });
  await Promise.all(spans.map((_, chunk) => rm(pathOf(chunk), { force: true })));
  const sizeBytes = (await stat(path)).size;
  if (plan.maxBytes !== null && sizeBytes > plan.maxBytes) throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: `The smallest try had ${sizeBytes} bytes.` });
  return { path, witnesses: { path: witness, every } };
}

interface Coding {
  readonly spans: readonly FrameSpan[];
  readonly pathOf: (chunk: number) => string;
  readonly witness: { readonly path: string; readonly every: number };
  readonly chooseCrf: (done: readonly ChunkResult[], running: readonly { chunk: number; crf: number }[]) => number;
  readonly onFrame: (frame: number) => void;
}

/**
 * One decoding of the take; its frames go to one coder after the other. A chunk's quality is always chosen on exactly the results up to
 * the last chunk but one, while the last one is still being finished, so that nothing waits and the result is the same on every machine.
 */
async function codeAll(input: ChunkInput, coding: Coding): Promise<ChunkResult[]> {
  const { plan } = input;
  const picture = startPicture(input);
  const witness = startWitnessCoder(input, coding.witness.path);
  const coders: { tool: StartedTool; crf: number; result: Promise<ChunkResult> }[] = [];
  const start = async (chunk: number) => {
    const done = await Promise.all(coders.slice(0, Math.max(0, chunk - 1)).map((coder) => coder.result));
    const last = coders[chunk - 1];
    const crf = coding.chooseCrf(done, last ? [{ chunk: chunk - 1, crf: last.crf }] : []);
    const tool = startChunkCoder(input, crf, coding.pathOf(chunk));
    const result = tool.ended.then(async (end): Promise<ChunkResult> => {
      if (end.exitCode !== 0) throw buildToolFault(end, 'MAKE_FAILED');
      return { chunk, crf, bytes: await measureMdatBytes(coding.pathOf(chunk)) };
    });
    result.catch(() => picture.kill());
    coders.push({ tool, crf, result });
    return tool;
  };
  const sinkOf = (tool: StartedTool) => ({ stream: need(tool.stdin), ended: tool.ended });
  let current: StartedTool | null = null;
  try {
    const fed = feedFrames(need(picture.stdout), (plan.widthPx * plan.heightPx * 3) / 2, plan.frameCount, async (frame) => {
      coding.onFrame(frame);
      const chunk = coding.spans.findIndex((span) => span.first === frame);
      if (chunk >= 0) {
        current?.stdin?.end();
        current = await start(chunk);
      }
      const isKept = frame % coding.witness.every === 0 || frame === plan.frameCount - 1;
      return [sinkOf(need(current)), ...(isKept ? [sinkOf(witness)] : [])];
    }).catch((error: unknown) => error);
    const fault = await fed;
    (current as StartedTool | null)?.stdin?.end();
    witness.stdin?.end();
    const results = await Promise.allSettled(coders.map((coder) => coder.result));
    const [pictureEnd, witnessEnd] = await Promise.all([picture.ended, witness.ended]);
    throwIfCancelled(input.signal);
    for (const result of results) if (result.status === 'rejected') throw result.reason;
    if (pictureEnd.exitCode !== 0) throw buildToolFault(pictureEnd, 'MAKE_FAILED');
    if (witnessEnd.exitCode !== 0) throw buildToolFault(witnessEnd, 'MAKE_FAILED');
    if (fault !== undefined) throw fault;
    return results.flatMap((result) => (result.status === 'fulfilled' ? [result.value] : []));
  } finally {
    for (const tool of [picture, witness, ...coders.map((coder) => coder.tool)]) tool.kill();
  }
}

function need<T>(value: T | null | undefined): T {
  if (value === null || value === undefined) throw new TypeError('A stream was expected.');
  return value;
}

/** How often a frame is kept for the proof: six a second of a short piece, two of a long one. */
function chooseWitnessStep(rate: number, seconds: number): number {
  return Math.max(1, Math.floor(rate / (seconds <= 60 ? 6 : seconds <= 240 ? 3 : 2)));
}

/** What the bytes of a chunk are expected to be before any is coded: from the samples of the take, else from a few seconds coded now, twice. */
async function findPrior(input: ChunkInput & { readonly keyframesUs: readonly number[]; readonly complexity: TakeComplexity | null }, known: { spans: readonly FrameSpan[]; weights: readonly number[]; rate: number }): Promise<RateModel> {
  const { plan } = input;
  const { spans, weights, rate } = known;
  const totalWeight = weights.reduce((sum, weight) => sum + weight, 0);
  const targetBytes = (plan.videoBps * plan.frameCount) / rate / 8;
  if (plan.rateModel) return { slope: plan.rateModel.slope, level: Math.log2(Math.max(1, targetBytes) / totalWeight) + plan.rateModel.crf / plan.rateModel.slope };
  const pieces = chooseWeighed(spans, rate, plan.keep.startUs, input.picture.isTake ? input.keyframesUs : []);
  const pieceWeights = weighSpans(input.complexity, plan.keep.startUs, pieces, rate);
  const crfs = [guessCrf(plan, rate) - WEIGH_STEP, guessCrf(plan, rate) + WEIGH_STEP] as const;
  const bytes = [0, 0];
  for (const [index, span] of pieces.entries()) {
    const outputs = crfs.map((crf, which) => ({ crf, path: join(input.folder, `weigh-${index}-${which}.mp4`) }));
    for (const [which, size] of (await codeSpan({ ...input, span, isAtKeyframe: span.isAtKeyframe, outputs })).entries()) bytes[which] = (bytes[which] ?? 0) + size;
    await Promise.all(outputs.map((output) => rm(output.path, { force: true })));
  }
  const [fine = 1, coarse = 1] = bytes;
  const slope = Math.max(3, Math.min(10, (crfs[1] - crfs[0]) / Math.max(0.1, Math.log2(fine / coarse))));
  // A piece of one second opens with a keyframe as a group of two seconds does: about a tenth of its bytes too many.
  const shortness = pieces.every((span) => span.last - span.first < rate * 1.5) && plan.frameCount > rate * 1.5 ? 0.92 : 1;
  const weight = pieceWeights.reduce((left, right) => left + right, 0);
  const levels = [fine, coarse].map((size, which) => measureLevel({ weight, crf: crfs[which] ?? 26, bytes: size * shortness }, slope));
  return { slope, level: levels.reduce((sum, level) => sum + level, 0) / levels.length };
}

/** Rate factors on both sides of the first guess that the weighed pieces are coded at. */
const WEIGH_STEP = 3;

/** One second of the middle, for long takes of several places; where the take has its keyframes far apart, at keyframes, so that little is decoded in vain. */
function chooseWeighed(spans: readonly FrameSpan[], rate: number, startUs: number, keyframesUs: readonly number[]): (FrameSpan & { isAtKeyframe: boolean })[] {
  const total = spans.at(-1)?.last ?? 1;
  const shares = total / rate > 20 ? [0.12, 0.37, 0.62, 0.87] : total / rate > 6 ? [0.3, 0.7] : [0.5];
  const length = Math.min(total, Math.max(1, Math.round(rate * WEIGH_S)));
  const keys = keyframesUs.map((timeUs) => Math.ceil(((timeUs - startUs) * rate) / 1e6)).filter((frame) => frame >= 0 && frame + length <= total);
  const firsts = shares.map((share) => {
    const wanted = Math.max(0, Math.min(total - length, Math.floor(total * share - length / 2)));
    return keys.reduce<number | null>((best, key) => (best === null || Math.abs(key - wanted) < Math.abs(best - wanted) ? key : best), null) ?? wanted;
  });
  return [...new Set(firsts)].map((first) => ({ first, last: first + length, isAtKeyframe: keys.includes(first) }));
}

/** A first guess from bits a pixel: 0.1 bit a pixel of usual material is about rate factor 26. */
function guessCrf(plan: MakeVideoInput['plan'], rate: number): number {
  const bits = plan.videoBps / (plan.widthPx * plan.heightPx * rate);
  return Math.round(Math.max(16, Math.min(38, 26 - USUAL_SLOPE * Math.log2(bits / 0.1))));
}

