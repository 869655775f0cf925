import {
  EMPTY_EVIDENCE,
  findJumps,
  measureConditions,
  measureTakeLikeness,
  type Evidence,
  readCourse,
  suggestPerformances,
} from '@apodix/core';
import type { KnownEarly, TimedInspection } from '../inspect-timed.ts';
import { chooseEvidenceSizes, probePictureEvidence, type EvidenceSizes } from './picture-evidence.ts';
import { probeSharpness } from './sharpness.ts';
import { probeFlatTops, probeSoundBlocks } from './sound-blocks.ts';
import { probeSoundEvidence } from './sound-evidence.ts';

/** The probes of what a proof is held by, and what they leave together. */
class EvidenceProbes {
  #picture: ReturnType<typeof probePictureEvidence> | null = null;
  #sound: ReturnType<typeof probeSoundEvidence> | null = null;

  build({ video, sound }: KnownEarly, sizes: EvidenceSizes | null, colorFrames: readonly number[] | null) {
    this.#picture = video
      ? probePictureEvidence(video, sizes ?? chooseEvidenceSizes(video), colorFrames)
      : null;
    this.#sound = sound ? probeSoundEvidence(sound) : null;
    return [this.#picture, this.#sound].filter((probe) => probe !== null);
  }

  finish({ facts, frames }: TimedInspection, clippedCount: number | null) {
    const picture = this.#picture?.finish() ?? null;
    const evidence: Evidence = {
      ...EMPTY_EVIDENCE,
      signatures: picture?.signatures ?? null,
      colors: picture?.colors ?? null,
      sound: this.#sound?.finish() ?? null,
    };
    const continuity = frames ? findJumps(frames, evidence.signatures) : null;
    return {
      evidence,
      facts: { ...facts, continuity, sound: facts.sound && { ...facts.sound, clippedCount } },
    };
  }
}

/** The probes of a take: what a proof is held by, and the blocks of its sound. */
export class TakeProbes {
  readonly #evidence = new EvidenceProbes();
  #sharpness: ReturnType<typeof probeSharpness> | null = null;
  #blocks: ReturnType<typeof probeSoundBlocks> | null = null;

  build(known: KnownEarly) {
    this.#blocks = known.sound ? probeSoundBlocks(known.sound) : null;
    this.#sharpness = known.video ? probeSharpness(known.video) : null;
    return [
      ...this.#evidence.build(known, null, null),
      ...[this.#sharpness, this.#blocks].filter((probe) => probe !== null),
    ];
  }

  finish(inspection: TimedInspection) {
    const blocks = this.#blocks?.finish() ?? null;
    const clippedCount = blocks ? blocks.clipped.reduce((sum, count) => sum + count, 0) : null;
    const { evidence, facts } = this.#evidence.finish(inspection, clippedCount);
    const sharpness = this.#sharpness?.finish() ?? null;
    const course = readCourse(evidence, inspection.frames, facts.durationUs ?? 0);
    return {
      blocks,
      sharpness: sharpness?.series ?? null,
      movement: course.movement && { ...course.movement, change: Array.from(course.movement.change) },
      suggestions: suggestPerformances(course),
      evidence,
      facts: {
        ...facts,
        likeness: measureTakeLikeness(evidence),
        conditions: measureConditions(
          evidence,
          sharpness?.sharpest ?? null,
          inspection.frames,
          facts.durationUs,
        ),
      },
    };
  }
}

/** The probes of a made file: of its sound's level a proof needs the flat tops alone. */
export class ProofProbes {
  readonly #sizes: EvidenceSizes | null;
  readonly #evidence = new EvidenceProbes();
  #flatTops: ReturnType<typeof probeFlatTops> | null = null;

  constructor(sizes: EvidenceSizes | null) {
    this.#sizes = sizes;
  }

  build(known: KnownEarly, colorFrames: readonly number[]) {
    this.#flatTops = known.sound ? probeFlatTops(known.sound) : null;
    const own = this.#evidence.build(known, this.#sizes, colorFrames);
    return [...own, ...(this.#flatTops ? [this.#flatTops] : [])];
  }

  finish(inspection: TimedInspection) {
    return this.#evidence.finish(inspection, this.#flatTops?.finish() ?? null);
  }
}
