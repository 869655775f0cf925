import { describe, expect, it } from 'vitest';
import { Limit } from '../limits/limit.ts';
import { createPlainRecipe } from '../recipe/recipe.ts';
import { buildRecipe } from '../test-support/recipes.ts';
import { buildPhotoFacts, buildSeries, buildSoundFacts, buildVideoFacts } from '../test-support/facts.ts';
import { buildPlan } from './build-plan.ts';
import type { PlanInput } from './plan-input.ts';
import { judgePlan } from './predict.ts';

const limits = (...raw: Record<string, unknown>[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));
const input = (changes: Partial<PlanInput> = {}): PlanInput => ({
  facts: buildVideoFacts(),
  recipe: createPlainRecipe(),
  limits: [],
  series: buildSeries(changes.facts ?? buildVideoFacts()),
  takeName: 'IMG_0042.MOV',
  nameContext: null,
  ...changes,
});

describe('buildPlan for video', () => {
  it('makes an MP4 of the kept frames under the limit', () => {
    const { plan, refusals } = buildPlan(
      input({
        recipe: buildRecipe({ keep: { startUs: 2_000_000, finishUs: 12_000_000 } }),
        limits: limits({ kind: 'file-size', maxBytes: 10_000_000 }),
      }),
    );
    expect(refusals).toEqual([]);
    expect(plan).toMatchObject({
      kind: 'video',
      container: 'mp4',
      cut: { frameCount: 250 },
      fileName: 'IMG_0042.mp4',
      rate: { maxBytes: 10_000_000, videoCodec: 'h264' },
      sound: { codec: 'aac', channels: 2 },
    });
    expect(plan?.prediction.bytes).toBeLessThanOrEqual(10_000_000);
  });

  it('turns first and then fits, with even edges', () => {
    const { plan } = buildPlan(
      input({
        recipe: buildRecipe({ turnDegrees: 90 }),
        limits: limits({ kind: 'picture-edge', edge: 'lines', max: 721 }),
      }),
    );
    expect(plan).toMatchObject({ cut: { widthPx: 720, heightPx: 1280 } });
  });

  it('leaves out frames evenly where the rate is limited, never adds any', () => {
    const fast = buildVideoFacts({ frameRate: { numerator: 60, denominator: 1 }, frameCount: 3600 });
    expect(
      buildPlan(input({ facts: fast, limits: limits({ kind: 'frame-rate', max: 30 }) })).plan,
    ).toMatchObject({ cut: { frameRate: { numerator: 60, denominator: 2 }, frameCount: 1800 } });
    expect(buildPlan(input({ limits: limits({ kind: 'frame-rate', min: 50 }) })).plan).toMatchObject({
      cut: { frameRate: { numerator: 25, denominator: 1 } },
    });
  });

  it('refuses an impossible size as data with what would be possible', () => {
    const { plan, refusals } = buildPlan(input({ limits: limits({ kind: 'file-size', maxBytes: 200_000 }) }));
    expect(plan).toBeNull();
    expect(refusals[0]).toMatchObject({ reason: 'too-long-for-size' });
    const [refusal] = refusals;
    if (refusal?.reason !== 'too-long-for-size') throw new TypeError('wrong refusal');
    expect(
      buildPlan(
        input({
          recipe: buildRecipe({
            keep: { startUs: 0, finishUs: Math.floor(refusal.atMostUs / 40_000) * 40_000 },
          }),
          limits: limits({ kind: 'file-size', maxBytes: 200_000 }),
        }),
      ).plan,
    ).not.toBeNull();
    expect(
      buildPlan(input({ limits: limits({ kind: 'file-size', maxBytes: refusal.needsBytes }) })).plan,
    ).not.toBeNull();
  });

  it('says at how many lines how much of a long take fits', () => {
    const n = 15_000;
    const long = buildVideoFacts({ frameCount: n, durationUs: 600_000_000 });
    const [refusal] = buildPlan(
      input({
        facts: { ...long, durationUs: 600_000_000 },
        limits: limits({ kind: 'file-size', maxBytes: 5_000_000 }),
      }),
    ).refusals;
    expect(refusal).toMatchObject({ reason: 'too-long-for-size', lines: 480 });
    // 854×480 at 25 a second and 0.02 bits a pixel with 48 kbit/s of sound: 253 kbit/s, 5 MB in 158 s, 19 MB
    // for 600 s; tables come on top.
    expect(refusal?.message).toMatch(
      /^10:00 does not fit in 5 MB: at most 2:[23]\d would at 480 lines, or ask for (19|20)(\.\d)? MB\.$/,
    );
  });

  it('codes the picture as it is asked for, and says what it does not make', () => {
    const coded = (...wanted: string[]) =>
      buildPlan(input({ limits: limits({ kind: 'video-codec', wanted }) }));
    expect(
      [coded('h264'), coded('hevc'), coded('vp9'), coded('h264', 'hevc')].map(
        ({ plan }) => plan?.kind === 'video' && [plan.container, plan.rate.videoCodec],
      ),
    ).toEqual([
      ['mp4', 'h264'],
      ['mp4', 'hevc'],
      ['webm', 'vp9'],
      ['mp4', 'h264'],
    ]);
    expect(coded('prores').refusals[0]?.message).toBe(
      'ProRes cannot be made from this take. Possible: MP4 (H.264 or HEVC), MOV (H.264 or HEVC), WebM (VP9).',
    );
    expect(
      buildPlan(
        input({
          limits: limits({ kind: 'video-codec', refused: ['h264'] }, { kind: 'format', wanted: ['mp4'] }),
        }),
      ).plan,
    ).toMatchObject({ rate: { videoCodec: 'hevc' } });
  });

  it('puts photographs into a PDF where one is asked for', () => {
    const asked = (...raw: Record<string, unknown>[]) =>
      buildPlan({ ...input({ limits: limits(...raw) }), facts: buildPhotoFacts() }).plan?.container;
    expect(asked({ kind: 'format', wanted: ['pdf'] })).toBe('pdf');
    expect(asked({ kind: 'format', wanted: ['jpeg', 'pdf'] })).toBe('jpeg');
    expect(asked({ kind: 'format', wanted: ['pdf'], appliesTo: 'document' })).toBe('pdf');
    expect(
      asked(
        { kind: 'format', wanted: ['pdf'], appliesTo: 'document' },
        { kind: 'format', wanted: ['jpeg'], appliesTo: 'photo' },
      ),
    ).toBe('jpeg');
  });

  it('tells what no making can change', () => {
    const { refusals } = buildPlan(
      input({
        limits: limits(
          { kind: 'length', minUs: 90_000_000 },
          { kind: 'picture-edge', edge: 'lines', min: 2160 },
          { kind: 'orientation', wanted: 'portrait' },
        ),
      }),
    );
    expect(refusals.map((refusal) => refusal.reason)).toEqual([
      'too-short',
      'picture-too-small',
      'cannot-be-changed',
    ]);
  });

  it('names the file by the pattern', () => {
    const nameContext = {
      surname: 'Varga',
      firstName: 'Ineke',
      piece: 'Marimba solo',
      course: '',
      candidateNumber: null,
    };
    expect(
      buildPlan(
        input({ nameContext, limits: limits({ kind: 'file-name', pattern: 'Surname_Firstname_Piece' }) }),
      ).plan?.fileName,
    ).toBe('Varga_Ineke_MarimbaSolo.mp4');
  });

  it('does not claim a format that it cannot make', () => {
    expect(
      buildPlan(input({ limits: limits({ kind: 'format', wanted: ['avi'] }) })).refusals[0],
    ).toMatchObject({ reason: 'format-not-made', wanted: ['AVI'], possible: ['MP4', 'MOV', 'WebM'] });
  });
});

describe('buildPlan for photographs and sound', () => {
  it('only a photograph is flattened, and none is steadied', () => {
    const { picture } = createPlainRecipe();
    const corner = (x: number, y: number) => ({ x, y });
    const corners = [corner(0.1, 0.1), corner(0.9, 0.2), corner(0.9, 0.8), corner(0.1, 0.9)] as never;
    const recipe = { ...createPlainRecipe(), picture: { ...picture, flatten: { corners, aspect: 1.5 } } };
    expect(buildPlan(input({ recipe })).refusals.map(({ message }) => message)).toEqual([
      'Only a photograph can be flattened.',
    ]);
    const { plan } = buildPlan(input({ facts: buildPhotoFacts(), recipe }));
    // Of 4032 by 3024 its longer upright side is 0.8 of the height, and it is half as wide again.
    const size = plan?.kind === 'photo' ? plan : { widthPx: 0, heightPx: 0 };
    expect(Math.abs(size.heightPx - 2419.2)).toBeLessThan(1);
    expect(Math.abs(size.widthPx - 3628.8)).toBeLessThan(1);
    const calm = { ...createPlainRecipe(), picture: { ...picture, steady: 0.4 } };
    expect(buildPlan(input({ facts: buildPhotoFacts(), recipe: calm })).plan).toBeNull();
  });

  it('a photograph gets the wanted long edge and no more', () => {
    const { plan } = buildPlan(
      input({
        facts: buildPhotoFacts(),
        limits: limits(
          { kind: 'picture-edge', edge: 'long', min: 2000, max: 3000 },
          { kind: 'file-size', maxBytes: 900_000 },
        ),
      }),
    );
    expect(plan).toMatchObject({
      kind: 'photo',
      container: 'jpeg',
      widthPx: 3000,
      heightPx: 2250,
      leastShortEdgePx: 1500,
    });
  });

  it('a moment of sound that no coder can hold is refused, and a tenth of a second is not', () => {
    const facts = buildSoundFacts();
    const of = (finishUs: number) =>
      buildPlan(input({ facts, recipe: buildRecipe({ keep: { startUs: 0, finishUs } }) }));
    expect(of(1)).toMatchObject({ plan: null, refusals: [{ reason: 'too-short' }] });
    expect(of(100_000)).toMatchObject({ plan: { kind: 'sound' }, refusals: [] });
  });

  it('sound keeps its format where nothing is asked, and is refused where it cannot fit', () => {
    expect(buildPlan(input({ facts: buildSoundFacts() })).plan).toMatchObject({
      container: 'wav',
      sound: { codec: 'pcm', rateHz: 48_000 },
    });
    expect(
      buildPlan(
        input({
          facts: buildSoundFacts(),
          limits: limits({ kind: 'format', wanted: ['wav'] }, { kind: 'file-size', maxBytes: 1_000_000 }),
        }),
      ).plan,
    ).toBeNull();
  });
});

describe('judgePlan', () => {
  it('foretells loudness after the gain', () => {
    const asked = limits({ kind: 'loudness', min: -20, max: -14 });
    const facts = buildVideoFacts();
    const { plan } = buildPlan(input({ facts, recipe: buildRecipe({ soundGainDb: 6.8 }), limits: asked }));
    if (!plan) throw new TypeError('a plan was expected');
    expect(
      judgePlan(plan, facts, { limits: asked, nameContext: null, series: buildSeries(facts) })[0],
    ).toMatchObject({
      stage: 'planned',
      state: 'met',
      value: -17,
    });
  });
});
