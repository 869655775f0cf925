import type { MediaFacts, SoundPlan, Timeline, VideoCut } from '@apodix/core';
import type { Chain } from '../graph/filter-graph.ts';
import { buildInputArgs } from '../process/input-args.ts';

/** How far before a stretch reading begins, and how far beyond it. */
const RUN_UP_US = 3_000_000;
const RUN_OUT_US = 4_000_000;
const AAC_FRAME = 1024;

export interface SoundCut {
  readonly input: readonly string[];
  /** Chains that end in the pad `sound`. */
  readonly chains: readonly Chain[];
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
  readonly take: { readonly path: string; readonly facts: MediaFacts };
  readonly timeline: Timeline;
  readonly sound: SoundPlan;
  readonly sampleCount: number;
  readonly firstInput: number;
}): SoundCut {
  const { take, timeline, sound, sampleCount, firstInput } = input;
  const layout = sound.channels === 1 ? 'mono' : 'stereo';
  const toSample = (us: number) => Math.min(sampleCount, Math.floor((us * sound.rateHz) / 1e6));
  const streamIndex = take.facts.sound?.streamIndex ?? 0;
  const pieces = timeline.spans
    .map((span, index) => {
      const isLast = index === timeline.spans.length - 1;
      const to = isLast ? sampleCount : toSample(span.outputFinishUs);
      const samples = to - toSample(span.outputStartUs);
      const seekUs = Math.max(0, span.sourceStartUs - RUN_UP_US);
      const lengthUs = span.outputFinishUs - span.outputStartUs + RUN_UP_US + RUN_OUT_US;
      return {
        samples,
        input: [
          ...(seekUs > 0 ? ['-ss', (seekUs / 1e6).toFixed(6)] : []),
          '-t',
          (lengthUs / 1e6).toFixed(3),
          ...buildInputArgs(take.path, take.facts.container),
        ],
        filters: [
          `asetpts=PTS-(${((span.sourceStartUs - seekUs) / 1e6).toFixed(6)})/TB`,
          `aresample=${sound.rateHz}:async=1:first_pts=0`,
          `aformat=sample_fmts=fltp:channel_layouts=${layout}`,
          `atrim=start_sample=0:end_sample=${samples}`,
          `apad=whole_len=${samples}`,
        ],
      };
    })
    .filter((piece) => piece.samples > 0);
  const gain = sound.gainDb === 0 ? [] : [`volume=${sound.gainDb.toFixed(2)}dB`];
  const pads = pieces.map((_, index) => `heard${index}`);
  const chains = pieces.map((piece, index): Chain => {
    const isOnly = pieces.length === 1;
    return {
      from: [`${firstInput + index}:${streamIndex}`],
      filters: isOnly ? [...piece.filters, ...gain] : piece.filters,
      to: [isOnly ? 'sound' : (pads[index] ?? '')],
    };
  });
  const join: Chain[] =
    pieces.length > 1
      ? [{ from: pads, filters: [`concat=n=${pieces.length}:v=0:a=1`, ...gain], to: ['sound'] }]
      : [];
  return { input: pieces.flatMap((piece) => piece.input), chains: [...chains, ...join] };
}
