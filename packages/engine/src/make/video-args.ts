import type { FrameSpan, MediaFacts, VideoPlan } from '@apodix/core';
import { buildPictureFilters } from '../bring-in/picture-filters.ts';
import { buildInputArgs } from '../process/input-args.ts';
import type { PictureSource } from './working-files.ts';

/** How far before the start decoding begins, so that the frame at the start is surely decoded. */
const RUN_UP_US = 3_000_000;
/** Before a chunk in the middle of a take of constant rate less will do: only time stamps have to be found again. */
const SHORT_RUN_UP_US = 700_000;
const AAC_FRAME = 1024;

export interface CutInput {
  readonly picture: PictureSource;
  readonly take: { readonly path: string; readonly facts: MediaFacts };
  readonly plan: VideoPlan;
  readonly previousFrameUs: number | null;
  readonly hasSound: boolean;
  /** Only these frames of the output, starting at time 0; all of them without it. */
  readonly span?: FrameSpan;
  /** The span starts on a keyframe of the picture's file: nothing before it has to be decoded. */
  readonly isAtKeyframe?: boolean;
}

/** How far beyond a keyframe to seek so that demuxers that step back by their reordering delay still land on it. */
const BEYOND_KEYFRAME_US = 160_000;

export interface CutArgs {
  readonly input: readonly string[];
  /** Filter graph that ends in `[v]` and, with sound, `[a]`. */
  readonly graph: string;
}

/**
 * The frame-exact cut. Times are the take's own; half a frame of room on each side makes rounding harmless.
 * Sound is cut at the same instants, filled with silence where it starts late, and ends no later than the picture.
 */
export function buildVideoCut(cut: CutInput): CutArgs {
  const { picture: source, take, plan, previousFrameUs, hasSound } = cut;
  const { video } = source;
  const first = cut.span?.first ?? 0;
  const last = cut.span?.last ?? plan.frameCount;
  const firstUs = (first * plan.frameRate.denominator * 1e6) / plan.frameRate.numerator;
  const runUpUs =
    first > 0 && take.facts.video?.rateKind === 'constant' && !plan.isDeinterlaced
      ? SHORT_RUN_UP_US
      : RUN_UP_US;
  const seekUs = Math.floor(
    Math.max(0, plan.keep.startUs + firstUs + (cut.isAtKeyframe ? BEYOND_KEYFRAME_US : -runUpUs)),
  );
  const half = previousFrameUs === null ? 0 : Math.floor((plan.keep.startUs - previousFrameUs) / 2);
  const startS = (plan.keep.startUs - half - seekUs) / 1e6;
  const zeroS = (plan.keep.startUs - seekUs) / 1e6;
  const rate = `${plan.frameRate.numerator}/${plan.frameRate.denominator}`;
  const size = { widthPx: plan.widthPx, heightPx: plan.heightPx };
  const turned = plan.recipe.turnDegrees;
  const sizeBeforeTurn =
    turned === 90 || turned === 270 ? { widthPx: size.heightPx, heightPx: size.widthPx } : size;
  const picture = [
    ...(half > 0 && startS > 0 ? [`trim=start=${startS.toFixed(6)}`] : []),
    `setpts=PTS-(${zeroS.toFixed(6)})/TB`,
    ...(plan.isDeinterlaced && source.isTake ? ['yadif=mode=send_frame:deint=interlaced'] : []),
    `fps=${rate}:start_time=${(firstUs / 1e6).toFixed(6)}:round=near`,
    `trim=end_frame=${last - first}`,
    ...(first > 0 ? ['setpts=PTS-STARTPTS'] : []),
    ...buildPictureFilters(video, sizeBeforeTurn, { isFast: false }),
    ...buildTurn(turned, plan.recipe.isMirrored),
  ];
  const chains = [`[0:v:0]${picture.join(',')}[v]`];
  const isApart = !source.isTake;
  if (plan.sound && hasSound)
    chains.push(
      `[${isApart ? 1 : 0}:a:0]${buildSoundChain(plan.sound, zeroS, measureSamples(plan)).join(',')}[a]`,
    );
  const seek =
    seekUs > 0 ? [...(cut.isAtKeyframe ? ['-noaccurate_seek'] : []), '-ss', (seekUs / 1e6).toFixed(6)] : [];
  const sound =
    plan.sound && hasSound && isApart ? [...seek, ...buildInputArgs(take.path, take.facts.container)] : [];
  return {
    input: [...seek, ...buildInputArgs(source.path, source.container), ...sound],
    graph: chains.join(';'),
  };
}

/** Samples of sound that a plan holds: whole coding frames, none beyond the last picture. */
export function measureSamples(plan: VideoPlan): number {
  const rateHz = plan.sound?.rateHz ?? 48_000;
  const all = Math.floor((plan.frameCount * plan.frameRate.denominator * rateHz) / plan.frameRate.numerator);
  return plan.sound?.codec === 'aac' && all > AAC_FRAME ? Math.floor(all / AAC_FRAME) * AAC_FRAME : all;
}

/** Filters that cut sound from `zeroS` on, in exactly `samples` samples at the planned rate, channels and gain. */
export function buildSoundChain(
  sound: NonNullable<VideoPlan['sound']>,
  zeroS: number,
  samples: number,
): string[] {
  const layout = sound.channels === 1 ? 'mono' : 'stereo';
  return [
    `asetpts=PTS-(${zeroS.toFixed(6)})/TB`,
    `aresample=${sound.rateHz}:async=1:first_pts=0`,
    `aformat=sample_fmts=fltp:channel_layouts=${layout}`,
    ...(sound.gainDb === 0 ? [] : [`volume=${sound.gainDb.toFixed(2)}dB`]),
    `atrim=start_sample=0:end_sample=${samples}`,
    `apad=whole_len=${samples}`,
  ];
}

function buildTurn(turnDegrees: number, isMirrored: boolean): string[] {
  const turn =
    { 0: [], 90: ['transpose=clock'], 180: ['hflip', 'vflip'], 270: ['transpose=cclock'] }[turnDegrees] ?? [];
  return [...turn, ...(isMirrored ? ['hflip'] : [])];
}
