import { describe, expect, it } from 'vitest';
import { Limit } from '../limits/limit.ts';
import { buildPhotoFacts, buildVideoFacts } from '../test-support/facts.ts';
import { buildConstantFrameTimes } from '../time/frame-times.ts';
import { propose } from './propose.ts';

const frames = buildConstantFrameTimes(0, 1500, { numerator: 25, denominator: 1 });
const analysis = {
  frameTimesUs: [...frames.timesUs],
  frameEndUs: frames.endUs,
  peaks: {
    columnsPerSecond: 20,
    peaks: [
      ...new Array<number>(100).fill(0.001),
      ...new Array<number>(1000).fill(0.3),
      ...new Array<number>(100).fill(0.001),
    ],
  },
  filmstrip: null,
  complexity: null,
  keyframesUs: [],
};
const limits = (...raw: Record<string, unknown>[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));

describe('propose', () => {
  it('cuts on frames, inside the longest length', () => {
    const { recipe } = propose(buildVideoFacts(), analysis, limits({ kind: 'length', maxUs: 30_010_000 }));
    expect(recipe.keep?.startUs).toBe(4_520_000);
    expect((recipe.keep?.finishUs ?? 0) - (recipe.keep?.startUs ?? 0)).toBe(30_000_000);
  });

  it('raises quiet sound to the middle of what is wanted, as far as the peak allows', () => {
    const asked = limits({ kind: 'loudness', min: -20, max: -14 });
    const gain = (loudnessLufs: number, truePeakDbtp: number) => {
      const facts = buildVideoFacts();
      return propose(
        { ...facts, sound: facts.sound && { ...facts.sound, loudnessLufs, truePeakDbtp } },
        analysis,
        asked,
      ).recipe.soundGainDb;
    };
    expect([gain(-23.8, -9), gain(-23.8, -3), gain(-17, -1), gain(-8, -0.2)]).toEqual([6.8, 1.5, 0, -9]);
  });

  it('leaves a photograph as it is', () =>
    expect(propose(buildPhotoFacts(), { ...analysis, peaks: null }, []).recipe).toMatchObject({
      keep: null,
      turnDegrees: 0,
      isMirrored: false,
    }));
});
