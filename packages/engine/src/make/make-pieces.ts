import {
  AIM_SHARE,
  ApodixError,
  chooseGroupsOfPiece,
  chooseKnownPieces,
  countGroupFrames,
  estimateMp4Overhead,
  findDivisor,
  orderPieces,
  planPieces,
  readRate,
  suggestNextPiece,
  suggestRepair,
  weighSpans,
  type RateModel,
  type TakeComplexity,
  type Timeline,
  type VideoPlan,
} from '@apodix/core';
import { rename, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { isKeptFrame } from '../likeness/kept-frames.ts';
import { chooseWitnessStep, type Witnesses } from '../likeness/witnesses.ts';
import { throwIfCancelled } from '../process/fail.ts';
import { readToolVersion } from '../process/tool-version.ts';
import { describePiece, type Piece, type PieceInput } from './code-piece.ts';
import { codePieces, SLOWED_SHARE, UNKNOWN_STEPS, type Coded } from './code-pieces.ts';
import { joinPieces } from './join-pieces.ts';
import { describeSoundTrack, makeSoundTrack } from './make-sound.ts';
import { findProvingShare, type MakeVideoInput } from './make-video-input.ts';
import { holdFile, PieceStore } from './piece-store.ts';
import { weighTake } from './weigh-take.ts';
import { listSeekable, type PictureSource } from './working-files.ts';

const LEAST_SHARE = 0.97;
const MOST_REPAIRS = 8;
/** Where the limit leaves room, this much more than was foretold is let be. */
const MOST_OVER_PREDICTED = 1.03;
const WEIGHED_SHARE = 0.04;
/** This share of the pieces is begun by what the sound is planned to take: making it takes as long. */
const EARLY_SHARE = 0.25;
/** So much of the whole may be left for mending. */
const MENDED_SHARE = 0.01;

/**
 * Codes the picture in pieces at constant quality, side by side, each steered by the size of those before it,
 * so that one coding lands on the size; where it does not, single pieces are coded again. Pieces that the
 * store has already are taken from there, and new ones stay in it.
 */
export async function makeInPieces(input: MakeVideoInput, picture: PictureSource): Promise<MadeInPieces> {
  const stop = new AbortController();
  const signal = input.signal ? AbortSignal.any([input.signal, stop.signal]) : stop.signal;
  const store = input.store ?? new PieceStore(join(input.folder, 'pieces'));
  const sound = makeOwnSound({ ...input, store, signal });
  // Its failure is told where it is waited for.
  sound.catch(() => undefined);
  try {
    return await makePieces({ ...input, store }, picture, sound);
  } finally {
    // Nothing is under way any more when it ends, however it does: without the picture there is no use in it.
    stop.abort();
    await sound.catch(() => undefined);
  }
}

export interface MadeInPieces {
  readonly path: string;
  readonly witnesses: Witnesses;
  readonly storeKeys: string[];
}

interface StoringInput extends MakeVideoInput {
  readonly store: PieceStore;
}

interface OwnSound {
  readonly path: string;
  readonly bytes: number;
  /** Where it is found in the store. */
  readonly key: string;
}

/**
 * The sound track, of the store or made while the first pieces are coded; null where there is to be none.
 */
async function makeOwnSound(input: StoringInput): Promise<OwnSound | null> {
  if (!input.plan.sound) return null;
  const { store } = input;
  const path = join(input.folder, 'sound.m4a');
  const key = await describeSoundTrack(input);
  const make = async () => {
    const fresh = await store.beginSound(key);
    const startedAt = performance.now();
    await makeSoundTrack(input, fresh.path, (share) => {
      const spentS = (SLOWED_SHARE * (performance.now() - startedAt)) / 1000;
      if (share > 0) input.meter.countBeside(spentS, (spentS * (1 - share)) / share);
    });
    return fresh.keep();
  };
  await holdFile((await store.findSound(key)) ?? (await make()), path);
  return { path, key, bytes: (await stat(path)).size };
}

async function makePieces(
  input: StoringInput,
  picture: PictureSource,
  sound: Promise<OwnSound | null>,
): Promise<MadeInPieces> {
  const { plan, folder, meter, store } = input;
  const rate = readRate(plan.cut.frameRate);
  const seconds = plan.cut.frameCount / rate;
  const pieceInput: PieceInput = {
    take: input,
    picture,
    frames: input.frames,
    timeline: input.timeline,
    cut: plan.cut,
    folder,
    keyframesUs: listSeekable(input, picture),
    ...(input.signal ? { signal: input.signal } : {}),
  };
  const pieces = await describePieces(input, pieceInput);
  const spans = pieces.map(({ span }) => span);
  // What samples told need not be weighed; shares are what the stages take of the time.
  const weighed = plan.rate.model ? 0 : WEIGHED_SHARE;
  const provingFrom = findProvingShare(plan.cut);
  const codedShare = provingFrom - MENDED_SHARE;
  meter.begin(plan.rate.model ? 'Making the file' : 'Weighing the picture', 0, weighed);
  const weights = weighSpans(input.series.complexity, findStart(input.timeline), spans, rate);
  const { leastCrf } = plan.rate;
  const prior = await findPrior(
    { ...pieceInput, plan, complexity: input.series.complexity },
    { weights, rate },
  );
  meter.begin('Making the file', weighed, codedShare);
  const steering = {
    prior,
    weights,
    sampledShare: plan.rate.model?.sampledShare ?? 0,
    order: orderPieces(weights),
    leastCrf,
  };
  const planned = findTargetBytes(plan, seconds, estimateSoundBytes(plan));
  let targetBytes = planned;
  const settled = sound.then((made) => {
    targetBytes = findTargetBytes(plan, seconds, made?.bytes ?? 0);
  });
  // By the number of pieces, never by time: the same input gives the same bytes.
  const earlyCount = Math.max(UNKNOWN_STEPS, Math.floor(pieces.length * EARLY_SHARE));
  const coded = await codePieces(
    {
      ...pieceInput,
      ...{ store, pieces, onShare: (share: number) => meter.tell(share) },
      settling: { end: settled, earlyCount },
      ...(input.enough ? { enough: input.enough } : {}),
      chooseKnown: (known) => chooseKnownPieces({ ...steering, targetBytes: planned }, known),
    },
    // The first go by what the sound was planned to take, however soon it is there.
    ({ steps, isEarly }) =>
      suggestNextPiece({ ...steering, targetBytes: isEarly ? planned : targetBytes, steps }),
  );
  await settled;
  const heard = await sound;
  const soundPath = heard?.path ?? null;
  const path = join(folder, `best.${plan.container}`);
  const joinAll = async () => {
    const held = spans.map((span, piece) => ({
      path: join(folder, `piece-${piece}.mp4`),
      frameCount: span.last - span.first,
    }));
    await Promise.all(held.map((each, piece) => holdFile(coded.pathOf(piece), each.path)));
    await joinPieces({
      pieces: held,
      soundPath,
      plan,
      folder,
      outputPath: path,
      ...(input.signal ? { signal: input.signal } : {}),
    });
  };
  // A recording that needs less than the limit allows is not padded to it.
  const isBound =
    plan.rate.maxBytes !== null &&
    plan.prediction.bytes >= plan.rate.maxBytes * LEAST_SHARE &&
    targetBytes < findUsefulBytes(plan, seconds);
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
    const overBytes = sizeBytes - sumBytes(coded);
    const leastBytes =
      isBound && plan.rate.maxBytes !== null ? plan.rate.maxBytes * LEAST_SHARE - overBytes + 1 : 0;
    const repair = suggestRepair({
      tries: coded.results,
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
    if (!repair || round >= MOST_REPAIRS) break;
    throwIfCancelled(input.signal);
    meter.begin('Making it fit more closely', codedShare, provingFrom);
    await coded.code(repair);
  }
  if (keptBytes === 0)
    throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: `The smallest try had ${sizeBytes} bytes.` });
  await rename(keptPath, path);
  return {
    path,
    witnesses: { files: await holdWitnesses(coded, pieces, folder) },
    storeKeys: [...pieces.map(({ key }) => key), ...(heard ? [heard.key] : [])],
  };
}

/** Bytes that the picture can use at all. */
const findUsefulBytes = ({ rate }: VideoPlan, seconds: number) => Math.floor((rate.usefulBps * seconds) / 8);

/**
 * Bytes that the picture may take beside the sound and the file's own tables. Throws `LIMITS_CANNOT_BE_MET`
 * where none are left.
 */
function findTargetBytes(plan: VideoPlan, seconds: number, soundBytes: number): number {
  const { maxBytes } = plan.rate;
  const packets = plan.sound ? (seconds * plan.sound.rateHz) / 1024 : 0;
  const otherBytes = Math.ceil(soundBytes + estimateMp4Overhead(plan.cut.frameCount, packets, seconds * 1e6));
  if (maxBytes !== null && maxBytes - otherBytes < 1)
    throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: 'Sound and tables alone take all the bytes.' });
  const usefulBytes = findUsefulBytes(plan, seconds);
  const targetBytes =
    maxBytes === null ? usefulBytes : Math.min(plan.prediction.bytes - otherBytes, usefulBytes);
  if (targetBytes < 1)
    throw new ApodixError('LIMITS_CANNOT_BE_MET', { detail: 'Nothing is left for the picture.' });
  return targetBytes;
}

/** What its sound is planned to take. */
const estimateSoundBytes = ({ sound, cut }: VideoPlan) =>
  Math.ceil(((sound?.bitrateBps ?? 0) * cut.frameCount) / readRate(cut.frameRate) / 8);

/** Divides the output into pieces and tells what each is. */
async function describePieces(input: MakeVideoInput, pieceInput: PieceInput): Promise<Piece[]> {
  const { timeline, plan, facts, frames } = input;
  const { cut } = plan;
  const rate = readRate(cut.frameRate);
  const { video } = facts;
  const divisor = video?.rateKind === 'constant' ? findDivisor(video.frameRate, cut.frameRate) : null;
  const sourcePerOutput = divisor ?? (video ? readRate(video.frameRate) / rate : 1);
  const takeSeconds = frames.endUs / 1e6;
  const group = countGroupFrames(rate);
  const every = chooseWitnessStep(rate, takeSeconds);
  const spans = planPieces({
    spans: timeline.spans,
    sourceFrames: timeline.sourceFrames,
    sourcePerOutput,
    pieceFrames: group * chooseGroupsOfPiece(takeSeconds, cut.widthPx * cut.heightPx * rate),
    leastFrames: Math.ceil(group / 2),
  });
  const toolVersion = await readToolVersion();
  return Promise.all(
    spans.map((span) => {
      const first = Math.max(0, Math.round((timeline.sourceFrames[span.first] ?? 0) / sourcePerOutput));
      const isAny = Array.from({ length: span.last - span.first }).some((_, at) =>
        isKeptFrame(first + at, every),
      );
      // The very last frame stands for a piece so short that none else would.
      const surely = span.last === cut.frameCount && !isAny ? span.last - span.first - 1 : null;
      return describePiece(pieceInput, span, { every, first, surely }, toolVersion);
    }),
  );
}

/** The frames that were kept of each piece as it is now, in the folder and in order. */
async function holdWitnesses(
  coded: Coded,
  pieces: readonly Piece[],
  folder: string,
): Promise<Witnesses['files']> {
  return Promise.all(
    pieces.map(async ({ span, witness: pattern }, piece) => {
      const path = join(folder, `witness-${piece}.mkv`);
      await holdFile(coded.witnessPathOf(piece), path);
      return { path, ...span, pattern };
    }),
  );
}

/** Where the first stretch that is kept begins in the take. */
const findStart = (timeline: Timeline) => timeline.spans[0]?.sourceStartUs ?? 0;

/** Bytes of the pieces as they are now: of each the last try. */
function sumBytes({ results }: Coded): number {
  return [...new Map(results.map((each) => [each.piece, each])).values()].reduce(
    (sum, each) => sum + each.bytes,
    0,
  );
}

/** What is expected of pieces before any is coded: by the samples of the take, else by a second coded now. */
async function findPrior(
  input: PieceInput & {
    readonly plan: VideoPlan;
    readonly complexity: TakeComplexity | null;
  },
  { weights, rate }: { weights: readonly number[]; rate: number },
): Promise<RateModel> {
  const { plan } = input;
  const { model } = plan.rate;
  const totalWeight = weights.reduce((sum, weight) => sum + weight, 0);
  if (!model) return weighTake(input, rate, totalWeight);
  const targetBytes = (plan.rate.videoBps * plan.cut.frameCount) / rate / 8;
  return {
    slope: model.slope,
    level: Math.log2(Math.max(1, targetBytes) / totalWeight) + model.crf / model.slope,
  };
}
