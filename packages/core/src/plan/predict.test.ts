import { describe, expect, it } from 'vitest';
import { Limit } from '../limits/limit.ts';
import { createPlainRecipe } from '../recipe/recipe.ts';
import { buildRecipe } from '../test-support/recipes.ts';
import { buildPhotoFacts, buildSeries, buildSoundFacts, buildVideoFacts } from '../test-support/facts.ts';
import type { MediaFacts } from '../media/facts.ts';
import type { Plan } from './plan.ts';
import { buildPlan } from './build-plan.ts';
import type { PlanInput } from './plan-input.ts';
import { findWantedName, judgeMade, judgeTake, predictDurationUs, predictSubject } from './predict.ts';

const limits = (...raw: Record<string, unknown>[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));
const origin = { spanCount: 1, clippedCount: 0, continuity: null, inView: null };
const subjectOf = (plan: Plan, facts: MediaFacts) =>
  predictSubject(plan, facts, { wantedName: null, slotId: null, series: buildSeries(facts) });
const planOf = (changes: Partial<PlanInput>) => {
  const { plan } = buildPlan({
    facts: buildVideoFacts(),
    recipe: createPlainRecipe(),
    limits: [],
    series: buildSeries(changes.facts ?? buildVideoFacts()),
    takeName: 'take.mov',
    nameContext: null,
    ...changes,
  });
  if (!plan) throw new TypeError('a plan was expected');
  return plan;
};

describe('what a plan is expected to come out as', () => {
  it('a video: its own frames and size, and the level after the gain', () => {
    const facts = buildVideoFacts();
    const plan = planOf({
      recipe: buildRecipe({ keep: { startUs: 0, finishUs: 10_000_000 }, soundGainDb: 4 }),
      limits: limits({ kind: 'picture-edge', edge: 'lines', max: 720 }),
    });
    expect(predictDurationUs(plan)).toBe(10_000_000);
    expect(subjectOf(plan, facts)).toMatchObject({
      stage: 'planned',
      mediaKind: 'video',
      container: 'mp4',
      videoCodec: 'h264',
      durationUs: 10_000_000,
      widthPx: 1280,
      heightPx: 720,
      frameRate: 25,
      loudnessLufs: expect.closeTo(-19.8, 6) as number,
      truePeakDbtp: -5,
      locationPresent: false,
      sha256: null,
    });
  });
  it('a photograph has no length, sound no picture', () => {
    expect(subjectOf(planOf({ facts: buildPhotoFacts() }), buildPhotoFacts())).toMatchObject({
      mediaKind: 'photo',
      durationUs: null,
      hasSound: false,
      frameRate: null,
    });
    const sound = subjectOf(planOf({ facts: buildSoundFacts() }), buildSoundFacts());
    expect(sound).toMatchObject({
      mediaKind: 'sound',
      durationUs: 60_000_000,
      widthPx: null,
      hasSound: true,
    });
  });
  it('leaves levels unknown that were not measured', () => {
    const silent = buildVideoFacts(
      {},
      { sound: { ...buildSoundFacts().sound!, loudnessLufs: null, truePeakDbtp: null } },
    );
    expect(
      subjectOf(planOf({ facts: silent, recipe: buildRecipe({ soundGainDb: 4 }) }), silent),
    ).toMatchObject({ hasSound: true, loudnessLufs: null, truePeakDbtp: null });
  });
});

describe('judging', () => {
  const asked = limits(
    { kind: 'file-size', maxBytes: 10_000_000 },
    { kind: 'file-name', pattern: 'Surname_Piece' },
  );
  const nameContext = {
    surname: 'Varga',
    firstName: 'Ineke',
    piece: 'Rain on tin',
    course: '',
    candidateNumber: null,
  };
  it('a take is judged by its own bytes', () => {
    expect(
      judgeTake(buildVideoFacts(), 'IMG.MOV', { limits: asked, nameContext }).map((finding) => [
        finding.kind,
        finding.state,
        finding.stage,
      ]),
    ).toEqual([
      ['file-size', 'short', 'measured'],
      ['file-name', 'short', 'measured'],
    ]);
  });
  it('a made file by what was measured on it, whatever its plan had foretold', () => {
    const made = buildVideoFacts({}, { sizeBytes: 9_900_000, container: 'mp4' });
    const findings = judgeMade(made, 'Varga_RainOnTin.mp4', origin, { limits: asked, nameContext });
    expect(
      findings.map((finding) => [finding.kind, finding.state, finding.stage, finding.measuredOn]),
    ).toEqual([
      ['file-size', 'met', 'proven', made.sha256],
      ['file-name', 'met', 'proven', made.sha256],
    ]);
    expect(
      judgeMade({ ...made, sizeBytes: 10_000_001 }, 'Varga_RainOnTin.mp4', origin, {
        limits: asked,
        nameContext,
      })[0]?.state,
    ).toBe('short');
  });
  it('no name is wanted of somebody who has none', () => {
    expect(findWantedName(asked, null)).toBeNull();
    expect(findWantedName([], nameContext)).toBeNull();
    expect(findWantedName(asked, nameContext)).toBe('Varga_RainOnTin');
  });
});
