import {
  HUM_HARMONICS,
  HUM_Q,
  LIMITED_DBTP,
  RUMBLE_HZ,
  type MediaFacts,
  findSeparateTime,
  readStretch,
  type DrawnPart,
  type Recipe,
  type RecipeSource,
  type SoundPlan,
  type Timeline,
  type TimelineSpan,
  type VideoCut,
} from '@apodix/core';
import type { Chain } from '../graph/filter-graph.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { findDrawn, findJoinedFile, type TakeFiles } from '../gather/joined-files.ts';

/** How far before a stretch reading begins, and how far beyond it. */
const RUN_UP_US = 3_000_000;
const RUN_OUT_US = 4_000_000;
const AAC_FRAME = 1024;

export interface SoundCut {
  readonly input: readonly string[];
  /** Chains that end in the pad `sound`. */
  readonly chains: readonly Chain[];
}

/** A separate recording of the sound, and how it lies against the picture. */
export interface SeparateFile {
  readonly path: string;
  readonly facts: MediaFacts;
  readonly source: RecipeSource;
  /** The take's own sound, which may be heard under it. */
  readonly ownSound?: MediaFacts['sound'];
}

/** Samples of sound that a video holds: whole coding frames, none beyond the last picture. */
export function measureSamples(
  cut: Pick<VideoCut, 'frameCount' | 'frameRate'>,
  sound: Pick<SoundPlan, 'codec' | 'rateHz'>,
): number {
  const { numerator, denominator } = cut.frameRate;
  const all = Math.floor((cut.frameCount * denominator * sound.rateHz) / numerator);
  return sound.codec === 'aac' && all > AAC_FRAME ? Math.floor(all / AAC_FRAME) * AAC_FRAME : all;
}

/**
 * The sound of every stretch of the timeline, cut to the sample, filled with silence where it starts late or
 * ends early, joined, and exactly `sampleCount` samples long in the end. `firstInput` is the number of its
 * first file.
 */
export function buildSoundCut(input: {
  readonly take: TakeFiles;
  readonly timeline: Timeline;
  readonly sound: SoundPlan;
  /** A separate recording whose sound is heard in place of the take's own. */
  readonly separate?: SeparateFile | null;
  /** What the recipe asks for beside the gain. */
  readonly wish: Recipe['sound'];
  readonly sampleCount: number;
  readonly firstInput: number;
}): SoundCut {
  const { sound, wish, sampleCount, firstInput } = input;
  const heard = buildLayer(input, input.separate ?? null, 'heard', firstInput);
  const { ownDb } = wish;
  const own =
    input.separate && ownDb !== null
      ? buildLayer(input, null, 'own', firstInput + heard.inputCount, input.separate.ownSound)
      : null;
  const mix = own
    ? [
        { from: ['own'], filters: [`volume=${(ownDb ?? 0).toFixed(2)}dB`], to: ['under'] },
        { from: ['heard', 'under'], filters: ['amix=inputs=2:normalize=0:duration=longest'], to: ['both'] },
      ]
    : [];
  const mending = buildMending(sound, wish, sampleCount);
  const last = {
    from: [own ? 'both' : 'heard'],
    filters: mending.length > 0 ? mending : ['anull'],
    to: ['sound'],
  };
  return {
    input: [...heard.input, ...(own?.input ?? [])],
    chains: [...heard.chains, ...(own?.chains ?? []), ...mix, last],
  };
}

/** All stretches of one recording, joined, in a pad of the layer's name. */
function buildLayer(
  input: Pick<Parameters<typeof buildSoundCut>[0], 'take' | 'timeline' | 'sound' | 'wish' | 'sampleCount'>,
  separate: SeparateFile | null,
  name: string,
  firstInput: number,
  ownSound: MediaFacts['sound'] = null,
): { input: string[]; inputCount: number; chains: Chain[] } {
  const { timeline, sound, wish, sampleCount } = input;
  const source = separate?.source ?? null;
  const toSample = (us: number) => Math.min(sampleCount, Math.floor((us * sound.rateHz) / 1e6));
  let nextInput = firstInput;
  const pieces: Stretch[] = [];
  for (const [index, span] of timeline.spans.entries()) {
    const isLast = index === timeline.spans.length - 1;
    const to = isLast ? sampleCount : toSample(span.outputFinishUs);
    const samples = to - toSample(span.outputStartUs);
    if (samples <= 0) continue;
    const read = (startUs: number): { input: string[]; from: string; filters: string[] } => {
      const joined = findJoinedFile(input.take, { sourceStartUs: startUs });
      const take = separate ?? joined ?? input.take;
      const own = ownSound ?? take.facts.sound;
      const number = nextInput;
      nextInput += 1;
      if (!own) return { from: `${number}:0`, ...buildSilence(sound, samples) };
      const heardUs = findHeardUs(startUs - (joined?.place.startUs ?? 0) - wish.laterUs, source);
      const seekUs = Math.max(0, heardUs - RUN_UP_US);
      const lengthUs = span.outputFinishUs - span.outputStartUs + RUN_UP_US + RUN_OUT_US;
      return {
        from: `${number}:${own.streamIndex}`,
        input: [
          ...(seekUs > 0 ? ['-ss', (seekUs / 1e6).toFixed(6)] : []),
          '-t',
          (lengthUs / 1e6).toFixed(3),
          ...buildInputArgs(take.path, take.facts.container),
        ],
        filters: [
          `asetpts=PTS-(${((heardUs - seekUs) / 1e6).toFixed(6)})/TB`,
          ...buildRate(own.rateHz, sound.rateHz, source ? readStretch(source) : 1),
          ...buildSides(wish.sides, own.channels, sound.channels),
          `atrim=start_sample=0:end_sample=${samples}`,
          `apad=whole_len=${samples}`,
        ],
      };
    };
    const pad = `${name}${index}`;
    const drawn = findDrawn(input.take, span)?.drawn;
    const fades = buildJoinFades(input.take, timeline, index, samples, sound.rateHz);
    if (drawn?.kind === 'dissolve') pieces.push(crossfade(read, drawn, samples, pad, fades));
    else if (drawn) {
      const silence = buildSilence(sound, samples);
      pieces.push({
        input: silence.input,
        end: [`${nextInput}:0`],
        filters: silence.filters,
        before: [],
        pad,
      });
      nextInput += 1;
    } else {
      const own = read(span.sourceStartUs);
      const filters = [...own.filters, ...fades];
      pieces.push({ input: own.input, end: [own.from], filters, before: [], pad });
    }
  }
  const isJoined = pieces.length > 1;
  const chains = pieces.flatMap(({ before, end, filters, pad }): Chain[] => [
    ...before,
    { from: end, filters, to: [isJoined ? pad : name] },
  ]);
  const join: Chain[] = isJoined
    ? [
        {
          from: pieces.map((piece) => piece.pad),
          filters: [`concat=n=${pieces.length}:v=0:a=1`],
          to: [name],
        },
      ]
    : [];
  return {
    input: pieces.flatMap((piece) => piece.input),
    inputCount: nextInput - firstInput,
    chains: [...chains, ...join],
  };
}

/** One stretch of the result: chains that come before its last one, and that. */
interface Stretch {
  readonly input: readonly string[];
  readonly before: readonly Chain[];
  readonly end: readonly string[];
  readonly filters: readonly string[];
  readonly pad: string;
}

/** Two parts over one another, each as loud as `readCrossfade` says: at equal power. */
function crossfade(
  read: (startUs: number) => { input: string[]; from: string; filters: string[] },
  drawn: Extract<DrawnPart, { kind: 'dissolve' }>,
  samples: number,
  pad: string,
  fades: readonly string[],
): Stretch {
  const [left, right] = [read(drawn.from.startUs), read(drawn.to.startUs)];
  const fade = (way: 'in' | 'out') => `afade=t=${way}:ss=0:ns=${samples}:curve=qsin`;
  const [out, into] = [`${pad}out`, `${pad}into`];
  return {
    input: [...left.input, ...right.input],
    before: [
      { from: [left.from], filters: [...left.filters, fade('out')], to: [out] },
      { from: [right.from], filters: [...right.filters, fade('in')], to: [into] },
    ],
    end: [out, into],
    filters: ['amix=inputs=2:normalize=0:duration=longest', ...fades],
    pad,
  };
}

/** Where a joined take has no sound. */
function buildSilence(sound: SoundPlan, samples: number) {
  const layout = sound.channels === 1 ? 'mono' : 'stereo';
  return {
    input: ['-f', 'lavfi', '-i', `anullsrc=r=${sound.rateHz}:cl=${layout}`],
    filters: [`aformat=sample_fmts=fltp:channel_layouts=${layout}`, `atrim=end_sample=${samples}`],
  };
}

/** Both sides as they are, one of them on all, or both mixed. */
function buildSides(wanted: Recipe['sound']['sides'], own: number, channels: number): string[] {
  const layout = channels === 1 ? 'mono' : 'stereo';
  const format = `aformat=sample_fmts=fltp:channel_layouts=${layout}`;
  if (own === 1 || wanted === 'as-recorded') return [format];
  const from = { left: 'FL', right: 'FR', mixed: '0.5*FL+0.5*FR' }[wanted];
  const pan = channels === 1 ? `mono|c0=${from}` : `stereo|c0=${from}|c1=${from}`;
  return ['aformat=sample_fmts=fltp:channel_layouts=stereo', `pan=${pan}`];
}

/** The moment of its own time from which a separate recording is heard. */
const findHeardUs = (pictureUs: number, separate: RecipeSource | null) =>
  separate ? Math.round(findSeparateTime(separate, pictureUs)) : pictureUs;

/** So fine a rate tells clocks apart to three millionths. */
const FINE_RATE_HZ = 192_000;

/**
 * Filled where it starts late or has gaps; another rate by the resampler of highest quality; drawn out where
 * another clock counted it.
 */
function buildRate(ownHz: number, rateHz: number, stretch: number): string[] {
  if (stretch !== 1)
    return [
      `aresample=${FINE_RATE_HZ}:async=1:first_pts=0`,
      `asetrate=${Math.round(FINE_RATE_HZ / stretch)}`,
      `aresample=${rateHz}:resampler=soxr:precision=28`,
    ];
  if (ownHz === rateHz || ownHz === 0) return [`aresample=${rateHz}:async=1:first_pts=0`];
  return [`aresample=${ownHz}:async=1:first_pts=0`, `aresample=${rateHz}:resampler=soxr:precision=28`];
}

/** A cut through a sound clicks; so short a fade on both sides does not, and nobody hears it. */
const JOIN_FADE_S = 0.005;

function buildJoinFades(
  take: TakeFiles,
  timeline: Timeline,
  index: number,
  samples: number,
  rateHz: number,
): string[] {
  const [before, own, after] = [timeline.spans[index - 1], timeline.spans[index], timeline.spans[index + 1]];
  const isDissolve = (span: TimelineSpan) => findDrawn(take, span)?.drawn?.kind === 'dissolve';
  // Where a rate leaves out half a frame there is a step even between a part and what it dissolves into.
  const isWhole = (span: TimelineSpan) =>
    Math.abs(span.sourceFinishUs - span.sourceStartUs - (span.outputFinishUs - span.outputStartUs)) < 100;
  const isJoinedOn = (left: TimelineSpan, right: TimelineSpan) =>
    isDissolve(left) || isDissolve(right)
      ? isWhole(left)
      : left.source === right.source && left.sourceFinishUs === right.sourceStartUs;
  const length = Math.min(Math.round(JOIN_FADE_S * rateHz), samples >> 1);
  return [
    ...(before && own && !isJoinedOn(before, own) ? [`afade=t=in:ss=0:ns=${length}`] : []),
    ...(after && own && !isJoinedOn(own, after) ? [`afade=t=out:ss=${samples - length}:ns=${length}`] : []),
  ];
}

/** Its floor is told for single bands, where steady noise of many bands is so much weaker than in all. */
const NOISE_BAND_DB = 16;
const LEAST_NOISE_BAND_DB = -80;
const MOST_NOISE_BAND_DB = -20;

/** By spectral subtraction; what it holds back, a fortieth of a second, is cut off again. */
function lowerNoise(
  { lowerDb, floorDb }: NonNullable<Recipe['sound']['noise']>,
  rateHz: number,
  sampleCount: number,
): string[] {
  const floor = Math.max(LEAST_NOISE_BAND_DB, Math.min(MOST_NOISE_BAND_DB, floorDb + NOISE_BAND_DB));
  const held = Math.floor(rateHz / 40);
  return [
    `apad=pad_len=${2 * held}`,
    `afftdn=nr=${lowerDb.toFixed(1)}:nf=${floor.toFixed(1)}`,
    `atrim=start_sample=${held}:end_sample=${held + sampleCount}`,
    'asetpts=PTS-STARTPTS',
  ];
}

/** Rumble, hum, noise, the one gain, a limiter where it is wanted, and fades, in this order. */
function buildMending(sound: SoundPlan, wish: Recipe['sound'], sampleCount: number): string[] {
  const toSamples = (us: number) => Math.min(sampleCount, Math.round((us * sound.rateHz) / 1e6));
  const { isRumbleCut, humHz, isLimited } = wish;
  const [fadeIn, fadeOut] = [toSamples(wish.fadeInUs), toSamples(wish.fadeOutUs)];
  const peak = 10 ** (LIMITED_DBTP / 20);
  return [
    ...(isRumbleCut
      ? [0.5412, 1.3066].map((q) => `highpass=f=${RUMBLE_HZ}:width_type=q:w=${q}:precision=f64`)
      : []),
    ...(humHz === null
      ? []
      : Array.from(
          { length: HUM_HARMONICS },
          (_, index) => `bandreject=f=${humHz * (index + 1)}:width_type=q:w=${HUM_Q}:precision=f64`,
        )),
    ...(wish.noise ? lowerNoise(wish.noise, sound.rateHz, sampleCount) : []),
    ...(sound.gainDb === 0 ? [] : [`volume=${sound.gainDb.toFixed(2)}dB`]),
    // Between the samples peaks go higher: they are held at four times the rate.
    ...(isLimited
      ? [
          `aresample=${sound.rateHz * 4}`,
          `alimiter=limit=${peak.toFixed(5)}:attack=5:release=120:level=false:latency=true`,
          `aresample=${sound.rateHz}`,
          `atrim=end_sample=${sampleCount}`,
          `apad=whole_len=${sampleCount}`,
        ]
      : []),
    ...(fadeIn > 0 ? [`afade=t=in:ss=0:ns=${fadeIn}`] : []),
    ...(fadeOut > 0 ? [`afade=t=out:ss=${sampleCount - fadeOut}:ns=${fadeOut}`] : []),
  ];
}
