import type { ColorSignatures, Evidence } from '../series/evidence.ts';
import type { Timeline, TimelineSource } from '../timeline/timeline.ts';
import { holdColors, type ColorMatch, type ColorPair } from './hold-color.ts';
import { holdGeometry, type GeometryMatch } from './hold-geometry.ts';
import { holdSound, type SoundMatch, type SoundWish } from './hold-sound.ts';
import { matchFrames, type FrameMatch } from './match-frames.ts';
import type { Stance } from './orient.ts';

export interface HeldEvidence {
  readonly frames: FrameMatch | null;
  readonly color: ColorMatch | null;
  readonly geometry: GeometryMatch | null;
  readonly sound: SoundMatch | null;
}

export interface HoldInput {
  /** Evidence of each source, in the order of the recipe. */
  readonly sources: readonly Evidence[];
  readonly timelineSources: readonly TimelineSource[];
  readonly made: Evidence;
  readonly timeline: Timeline;
  readonly stance: Stance;
  readonly wish: SoundWish;
}

/** Holds everything that inspection left of a made file against what it left of the recording. */
export function holdEvidence(input: HoldInput): HeldEvidence {
  const { sources, made, timeline, stance } = input;
  const signatures = sources.flatMap((source) => (source.signatures ? [source.signatures] : []));
  const frames =
    made.signatures && timeline.rate && signatures.length === sources.length
      ? matchFrames({
          sources: signatures,
          timelineSources: input.timelineSources,
          made: made.signatures,
          timeline,
          stance,
        })
      : null;
  const pairs = made.colors
    ? pairColors(
        sources.map((source) => source.colors),
        made.colors,
        timeline,
      )
    : [];
  const color = made.colors && pairs.length > 0 ? holdColors(made.colors, pairs, stance) : null;
  return {
    frames,
    color,
    geometry: made.colors && pairs.length > 0 ? holdGeometry(made.colors, pairs, stance) : null,
    sound: made.sound
      ? holdSound({
          sources: sources.map((source) => source.sound),
          made: made.sound,
          timeline,
          wish: input.wish,
        })
      : null,
  };
}

/** Made pictures whose source picture is there in color too. */
export function pairColors(
  sources: readonly (ColorSignatures | null)[],
  made: ColorSignatures,
  timeline: Timeline,
): ColorPair[] {
  const places = sources.map(
    (source) => new Map(Array.from(source?.frameIndices ?? [], (frame, at) => [frame, at] as const)),
  );
  return Array.from(made.frameIndices).flatMap((output, madeAt) => {
    const span = timeline.spans.find((each) => output >= each.firstOutput && output < each.lastOutput);
    const source = span ? sources[span.source] : null;
    const sourceAt = span ? places[span.source]?.get(timeline.sourceFrames[output] ?? -1) : undefined;
    return source && sourceAt !== undefined ? [{ output, madeAt, source, sourceAt }] : [];
  });
}

/**
 * Frames of a made file that are wanted in color: those whose source frame is there in color, no more than so
 * many.
 */
export function chooseColorFrames(
  sources: readonly (ColorSignatures | null)[],
  timeline: Timeline,
  most: number,
): number[] {
  const known = sources.map((source) => new Set(source?.frameIndices ?? []));
  const all: number[] = [];
  for (const span of timeline.spans)
    for (let output = span.firstOutput; output < span.lastOutput; output += 1)
      if (known[span.source]?.has(timeline.sourceFrames[output] ?? -1)) all.push(output);
  const step = Math.max(1, Math.ceil(all.length / most));
  return all.filter((_, index) => index % step === 0);
}
