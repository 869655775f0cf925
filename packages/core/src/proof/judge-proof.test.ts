import { describe, expect, it } from 'vitest';
import { buildPhotoFacts, buildSeries, buildVideoFacts } from '../test-support/facts.ts';
import { buildTimeline } from '../timeline/timeline.ts';
import { judgeProof } from './judge-proof.ts';
import type { ProofEvidence } from './proof-evidence.ts';

const RATE = { numerator: 25, denominator: 1 };
const facts = buildVideoFacts();
const timeline = buildTimeline({
  recipe: { spans: [] },
  sources: [{ frames: buildSeries(facts).frames, constantRate: RATE, endUs: 60_000_000 }],
  rate: RATE,
});
const same = { atUs: 0, offsetUs: 0, correlation: 0.99, state: 'same' } as const;
/** What a file that is right in everything leaves. */
const right: ProofEvidence = {
  facts,
  timeline,
  decoded: { frameCount: 1500, errorCount: 0 },
  frames: {
    compared: 1500,
    toldApart: 1400,
    misplacedCount: 0,
    misplaced: [],
    unlikeCount: 0,
    unlike: [],
    leastCorrelation: 0.99,
    contrast: 1,
    shiftLevels: 0,
    offLevelCount: 0,
  },
  color: {
    picturesCompared: 200,
    meanDeltaE: 0.4,
    highDeltaE: 2,
    worstPart: { x: 0.5, y: 0.5, deltaE: 1.2 },
  },
  geometry: { picturesCompared: 200, zoomX: 0, zoomY: 0, shiftX: 0, shiftY: 0, turn: 0 },
  proportions: { found: 1.779, wanted: 16 / 9 },
  clarity: { kind: 'ssim', ssimMean: 0.95, ssimWorst: 0.9, framesCompared: 7, promised: null },
  isToneMapped: false,
  isSoundWanted: true,
  sound: {
    columns: 6000,
    audible: 5800,
    longestOffUs: 0,
    offAtUs: null,
    offShare: 0,
    leftDb: 0,
    rightDb: 0,
    places: [same],
  },
  expectedLufs: -23.8,
  pages: null,
};
const judge = (changes: Partial<ProofEvidence>) =>
  Object.fromEntries(
    judgeProof({ ...right, ...changes })
      .filter((finding) => finding.state !== 'met')
      .map((finding) => [finding.row, finding.state]),
  );
const frames = (changes: Partial<NonNullable<ProofEvidence['frames']>>) => ({
  frames: right.frames && { ...right.frames, ...changes },
});
const sound = (changes: Partial<NonNullable<ProofEvidence['sound']>>) => ({
  sound: right.sound && { ...right.sound, ...changes },
});
const ssim = (ssimMean: number, ssimWorst: number, framesCompared = 7, promised: number | null = null) => ({
  clarity: { kind: 'ssim', ssimMean, ssimWorst, framesCompared, promised } as const,
});

describe('a proof', () => {
  it('is met where everything was measured and right', () => expect(judge({})).toEqual({}));

  it.each<[string, Partial<ProofEvidence>, Record<string, string>]>([
    ['nothing was compared', frames({ compared: 0, toldApart: 0 }), { picture: 'unknown' }],
    ['no frame was held', { frames: null }, { picture: 'unknown' }],
    ['no color was held', { color: null }, { color: 'unknown' }],
    ['clarity came to nothing', { clarity: null }, { clarity: 'unknown' }],
    ['clarity is of no frame', ssim(0, 0, 0), { clarity: 'unknown' }],
    ['nobody decoded it', { decoded: null }, { frames: 'unknown' }],
    ['nobody held its sound', { sound: null }, { sound: 'unknown' }],
    [
      'nobody knows what it tells of the place',
      { facts: { ...facts, locationPresent: null } },
      { private: 'unknown' },
    ],
  ])('is not met where %s', (_name, changes, wanted) => expect(judge(changes)).toEqual(wanted));

  it.each<[string, Partial<ProofEvidence>, string]>([
    ['is unclear all along alike', ssim(0.3, 0.3), 'clarity'],
    ['is less clear than samples promised', ssim(0.85, 0.8, 90, 0.93), 'clarity'],
    [
      'is taken over, but not all of it',
      { clarity: { kind: 'taken-over', sameCount: 90, wantedCount: 100, total: 120 } },
      'clarity',
    ],
    ['has an error', { decoded: { frameCount: 1500, errorCount: 1 } }, 'whole'],
    ['has a frame less than its index says', { decoded: { frameCount: 1499, errorCount: 0 } }, 'whole'],
    [
      'shows a frame of something else',
      frames({ unlikeCount: 1, unlike: [{ output: 3, correlation: 0.2 }] }),
      'picture',
    ],
    ['is flat', frames({ contrast: 0.88 }), 'picture'],
    [
      'has one frame out of place',
      frames({ misplacedCount: 1, misplaced: [{ output: 3, expected: 3, found: 4 }] }),
      'order',
    ],
    [
      'is cropped by 1.2 %',
      { geometry: { picturesCompared: 200, zoomX: 0.012, zoomY: 0.012, shiftX: 0, shiftY: 0, turn: 0 } },
      'geometry',
    ],
    ['is shown too wide', { proportions: { found: 2.37, wanted: 16 / 9 } }, 'geometry'],
    [
      'has other colors',
      { color: { picturesCompared: 200, meanDeltaE: 2, highDeltaE: 6, worstPart: null } },
      'color',
    ],
    [
      'has a mark in one corner',
      {
        color: {
          picturesCompared: 200,
          meanDeltaE: 0.5,
          highDeltaE: 2,
          worstPart: { x: 0.1, y: 0.1, deltaE: 20 },
        },
      },
      'color',
    ],
    ['has sound that comes 45 ms late', sound({ places: [same, { ...same, offsetUs: 45_000 }] }), 'step'],
    [
      'has another sound somewhere',
      sound({ places: [same, { ...same, state: 'unlike', offsetUs: null }] }),
      'sound',
    ],
    ['misses a fifth of a second of sound', sound({ longestOffUs: 200_000, offAtUs: 1_000_000 }), 'sound'],
    ['lost one side', sound({ leftDb: -60 }), 'sound'],
    ['is 3 LU too loud', { expectedLufs: -26.8 }, 'loudness'],
    ['has sound that was not to be', { isSoundWanted: false }, 'sound'],
    ['tells the place', { facts: { ...facts, locationPresent: true } }, 'private'],
  ])('falls short where the file %s', (_name, changes, row) => expect(judge(changes)[row]).toBe('short'));

  it('falls short where picture or sound is shorter than what was kept, each by itself', () => {
    const { video, sound: own } = facts;
    if (!video || !own) throw new Error('Both were expected.');
    const short = { ...facts, video: { ...video, durationUs: 59_000_000 } };
    expect(judge({ facts: short }).lengths).toBe('short');
    expect(judge({ facts: { ...facts, sound: { ...own, durationUs: 59_000_000 } } }).lengths).toBe('short');
  });

  it('leaves to a person what stands still, and a tone that is the same everywhere', () => {
    expect(judge(frames({ toldApart: 0 }))).toEqual({ order: 'person' });
    expect(judge(sound({ places: [{ ...same, offsetUs: null }] }))).toEqual({ step: 'person' });
  });

  it('of a photograph needs its colors, and of a document its pages', () => {
    const photo = { ...right, facts: buildPhotoFacts(), timeline: null, decoded: null, frames: null };
    expect(judge({ ...photo, sound: null, isSoundWanted: false, clarity: undefined, color: null })).toEqual({
      color: 'unknown',
    });
    expect(judge({ pages: { found: 2, wanted: 3 } })).toEqual({ pages: 'short' });
  });

  it('measures on the bytes of the file, and says how to go on', () => {
    const [finding] = judgeProof({ ...right, decoded: { frameCount: 1500, errorCount: 2 } });
    expect(finding).toMatchObject({ measuredOn: facts.sha256, fix: { by: 'machine' }, value: 2 });
  });
});
