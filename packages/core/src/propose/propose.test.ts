import { describe, expect, it } from 'vitest';
import { Limit } from '../limits/limit.ts';
import { buildPhotoFacts, buildSeries, buildVideoFacts } from '../test-support/facts.ts';
import { readKeptRange } from '../recipe/recipe.ts';
import { EMPTY_SERIES } from '../series/take-series.ts';
import { propose } from './propose.ts';

const series = buildSeries(buildVideoFacts(), {
  peaks: {
    columnsPerSecond: 20,
    peaks: [
      ...new Array<number>(100).fill(0.001),
      ...new Array<number>(1000).fill(0.3),
      ...new Array<number>(100).fill(0.001),
    ],
  },
});
const limits = (...raw: Record<string, unknown>[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));

describe('propose', () => {
  it('keeps a performance that is too long whole, on frames, and asks where it shall end', () => {
    const { recipe, remarks } = propose(
      buildVideoFacts(),
      series,
      limits({ kind: 'length', maxUs: 30_010_000 }),
    );
    expect(readKeptRange(recipe)).toEqual({ startUs: 5_000_000, finishUs: 55_000_000 });
    expect(remarks).toEqual(['0:19.9 longer than is allowed: choose where it shall end.']);
  });

  it('raises quiet sound to the middle of what is wanted, as far as the peak allows', () => {
    const asked = limits({ kind: 'loudness', min: -20, max: -14 });
    const gain = (loudnessLufs: number, truePeakDbtp: number) => {
      const facts = buildVideoFacts();
      return propose(
        { ...facts, sound: facts.sound && { ...facts.sound, loudnessLufs, truePeakDbtp } },
        series,
        asked,
      ).recipe.sound.gainDb;
    };
    expect([gain(-23.8, -9), gain(-23.8, -3), gain(-17, -1), gain(-8, -0.2)]).toEqual([6.8, 1.3, 0, -9]);
  });

  it('brings a piece flat, unless a limit would refuse what is left of it', () => {
    const facts = buildPhotoFacts();
    const corners = [
      { x: 0.3, y: 0.3 },
      { x: 0.6, y: 0.3 },
      { x: 0.6, y: 0.7 },
      { x: 0.3, y: 0.7 },
    ] as const;
    const piece = { corners, aspect: 1, confidence: 0.9, isCutOff: false };
    const photo = facts.photo && { ...facts.photo, piece: piece as never };
    const flatOf = (least: number) =>
      propose({ ...facts, photo }, EMPTY_SERIES, limits({ kind: 'picture-edge', edge: 'long', min: least }));
    expect(flatOf(1000).recipe.picture.flatten).not.toBeNull();
    expect(flatOf(2000).recipe.picture.flatten).toBeNull();
    expect(flatOf(2000).remarks.join()).toContain('whole picture is kept');
  });

  it('leaves a photograph as it is', () =>
    expect(propose(buildPhotoFacts(), EMPTY_SERIES, []).recipe).toMatchObject({
      spans: [],
      picture: { turnDegrees: 0, isMirrored: false },
    }));
});
