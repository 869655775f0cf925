import fc from 'fast-check';
import type { PartInView } from '../presence/seen.ts';
import { describe, expect, it } from 'vitest';
import { buildPhotoFacts, buildSoundFacts, buildVideoFacts } from '../test-support/facts.ts';
import { checkLimit, checkLimits } from './check.ts';
import { isEveryMustMet } from './finding.ts';
import { Limit, type LimitKind } from './limit.ts';
import { findMissingStream } from './find-missing-stream.ts';
import { convertFactsToSubject } from './subject.ts';
import { describeLimit, limitTable } from './table.ts';

const limit = (raw: Record<string, unknown>): Limit => Limit.parse({ id: 'l1', ...raw });
const context = {
  stage: 'proven',
  fileName: 'Varga_Ineke_Marimba.mov',
  wantedName: null,
  spanCount: 1,
  slotId: null,
  clippedCount: 0,
  continuity: null,
  inView: null,
} as const;
const video = convertFactsToSubject(buildVideoFacts(), context);
const photo = convertFactsToSubject(buildPhotoFacts(), context);
const sound = convertFactsToSubject(buildSoundFacts(), context);

type Row = [
  kind: LimitKind,
  raw: Record<string, unknown>,
  subject: typeof video,
  state: string,
  words: string,
];
const rows: Row[] = [
  ['format', { wanted: ['mp4'] }, video, 'short', 'MP4'],
  ['format', { wanted: ['mp4', 'mov'] }, video, 'met', 'MP4 or MOV'],
  ['format', { refused: ['mov'] }, video, 'short', 'not MOV'],
  ['video-codec', { wanted: ['h264'] }, video, 'met', 'H.264'],
  ['sound-codec', { refused: ['aac'] }, video, 'short', 'not AAC'],
  ['file-size', { maxBytes: 121_000_000 }, video, 'met', 'at most 121 MB'],
  ['file-size', { maxBytes: 120_999_999 }, video, 'short', 'at most 121 MB'],
  ['file-size', { minBytes: 121_000_001 }, video, 'short', 'at least 121 MB'],
  ['length', { minUs: 60_000_000, maxUs: 60_000_000 }, video, 'met', 'exactly 1:00'],
  ['length', { maxUs: 59_999_999 }, video, 'short', 'at most 0:59.9'],
  [
    'length',
    { minUs: 66_000_000, maxUs: 66_000_000, isAbout: true },
    video,
    'met',
    'about, 0:59.4 to 1:12.6',
  ],
  [
    'length',
    { minUs: 67_000_000, maxUs: 67_000_000, isAbout: true },
    video,
    'short',
    'about, 1:00.3 to 1:13.7',
  ],
  ['picture-edge', { edge: 'lines', max: 1080 }, video, 'met', 'at most 1080 lines'],
  ['picture-edge', { edge: 'height', max: 720 }, video, 'short', 'at most 720 px'],
  ['picture-edge', { edge: 'long', min: 2000, max: 3000 }, photo, 'short', '2000 px to 3000 px'],
  ['aspect', { width: 16, height: 9 }, video, 'met', '16:9'],
  ['aspect', { width: 16, height: 9 }, photo, 'short', '16:9'],
  ['orientation', { wanted: 'portrait' }, video, 'short', 'upright'],
  ['frame-rate', { min: 25, max: 30 }, video, 'met', '25 a second to 30 a second'],
  ['frame-rate', { min: 50 }, video, 'short', 'at least 50 a second'],
  // A4 is 11.69 in long: 4032 px make 344.8 dpi; 3024 px over 8.27 in make 365.8.
  [
    'print-resolution',
    { minDpi: 344, paperWidthMm: 210, paperHeightMm: 297 },
    photo,
    'met',
    'at least 344 dpi at 210×297 mm',
  ],
  [
    'print-resolution',
    { minDpi: 346, paperWidthMm: 210, paperHeightMm: 297 },
    photo,
    'short',
    'at least 346 dpi at 210×297 mm',
  ],
  ['sound-present', { isWanted: false }, video, 'short', 'without sound'],
  ['channels', { wanted: 1 }, sound, 'short', 'mono'],
  ['sample-rate', { min: 44_100 }, sound, 'met', 'at least 44.1 kHz'],
  ['loudness', { min: -20, max: -14 }, video, 'short', '−20 LUFS to −14 LUFS'],
  ['true-peak', { maxDbtp: -1 }, video, 'met', 'at most −1 dBTP'],
  ['no-clipping', {}, video, 'met', 'no flat tops, true peak below 0 dBTP'],
  ['one-take', {}, video, 'person', 'no joins'],
  ['whole-piece', {}, photo, 'person', 'all edges inside'],
  ['sharp', {}, photo, 'person', 'in focus'],
  ['in-view', { parts: ['face', 'hands'] }, video, 'person', 'face and both hands'],
  ['file-name', { pattern: 'Surname_Firstname_Piece' }, video, 'met', 'Surname_Firstname_Piece'],
  ['location-removed', {}, video, 'met', 'no location inside'],
];

describe('checks', () => {
  it.each(rows)('%s %j', (kind, raw, subject, state, words) => {
    const each = limit({ kind, ...raw });
    const finding = checkLimit(each, subject);
    expect([finding.state, describeLimit(each).wanted]).toEqual([state, words]);
    expect(finding.measuredOn).toBe('a'.repeat(64));
    expect(finding.method).not.toBe('');
    if (finding.state === 'short') expect(finding.fix).not.toBeNull();
  });

  it('tells figure, reason and what to do in one sentence', () => {
    expect(checkLimit(limit({ kind: 'loudness', min: -20, max: -14 }), video).sentence).toBe(
      'Too quiet by 3.8 LU · wanted: −20 LUFS to −14 LUFS',
    );
  });

  it('tells how long hands can be seen, where they were lost, and what is left to a person', () => {
    const both = limit({ kind: 'in-view', parts: ['face', 'hands'] });
    const none = { coveredShare: 0, unsureShare: 0, lost: [] };
    const face = { ...none, part: 'face' as const, seenShare: 0.97 };
    const judge = (hands: Partial<PartInView>) =>
      checkLimit(both, { ...video, inView: [face, { ...none, part: 'hands', seenShare: 0, ...hands }] });
    const lost = [{ startUs: 12_000_000, finishUs: 20_000_000 }];
    expect(judge({ seenShare: 0.95 }).state).toBe('met');
    expect(judge({ seenShare: 0.5, coveredShare: 0.45 }).state).toBe('person');
    expect(judge({ seenShare: 0.6, lost })).toMatchObject({
      state: 'short',
      sentence: 'Both hands: seen 60 % of the time, lost at 0:12 to 0:20 · wanted: face and both hands',
    });
  });

  it('speaks only about files that a limit concerns', () => {
    const limits = [
      limit({ kind: 'frame-rate', min: 25 }),
      limit({ kind: 'file-size', maxBytes: 1, appliesTo: 'video' }),
      limit({ kind: 'participants' }),
    ];
    expect(checkLimits(limits, photo)).toEqual([]);
    expect(checkLimits(limits, video).map((finding) => finding.kind)).toEqual(['frame-rate', 'file-size']);
  });

  it('does not call met what is not known', () => {
    expect(checkLimit(limit({ kind: 'loudness', min: -20 }), { ...video, loudnessLufs: null }).state).toBe(
      'unknown',
    );
    expect(checkLimit(limit({ kind: 'no-clipping' }), { ...video, clippedCount: null }).state).toBe(
      'unknown',
    );
  });

  it('leaves one take to the person, unless whoever recorded it knows, and sees joins and jumps', () => {
    const one = (changes: Partial<typeof video>) =>
      checkLimit(limit({ kind: 'one-take' }), { ...video, ...changes });
    const whole = { gaps: [], cuts: [], isSure: true };
    expect(one({ continuity: whole }).state).toBe('met');
    expect(one({ continuity: { ...whole, isSure: false } }).state).toBe('person');
    expect(one({ spanCount: 2, continuity: whole }).state).toBe('short');
    const jump = { ...whole, isSure: false, cuts: [{ atUs: 12_000_000 }] };
    expect(one({ continuity: jump })).toMatchObject({ state: 'person' });
    expect(one({ continuity: jump }).sentence).toContain('jumps at 0:12');
  });

  it('finds clipping that was turned down', () => {
    const quiet = { ...video, truePeakDbtp: -12, clippedCount: 7 };
    expect(checkLimit(limit({ kind: 'no-clipping' }), quiet)).toMatchObject({ state: 'short', value: 7 });
  });

  it('calls a planned level so near to its bound unknown that only the made file can tell', () => {
    const near = { ...video, stage: 'planned' as const, loudnessLufs: -19.6 };
    const uncertainty = { bytesShare: 0, loudnessLu: 1, peakDb: 0.6 };
    const of = (loudnessLufs: number) =>
      checkLimit(limit({ kind: 'loudness', min: -20 }), { ...near, loudnessLufs, uncertainty }).state;
    expect([of(-18.9), of(-19.1), of(-20.9), of(-21.1)]).toEqual(['met', 'unknown', 'unknown', 'short']);
  });

  it('tells a blurred photograph and a clear one apart, and leaves a soft one to a person', () => {
    const of = (blur: number | null, subject = photo) =>
      checkLimit(limit({ kind: 'sharp' }), { ...subject, blur }).state;
    expect([of(0.2), of(0.5), of(0.8), of(null)]).toEqual(['met', 'person', 'short', 'person']);
    // Parts that are clear or soft on their own are for a person to look at.
    const parts = (blur: number, clearness: 'clear' | 'partly' | 'soft') =>
      checkLimit(limit({ kind: 'sharp' }), { ...photo, blur, clearness }).state;
    expect([parts(0.2, 'clear'), parts(0.2, 'partly'), parts(0.8, 'partly')]).toEqual([
      'met',
      'person',
      'person',
    ]);
    expect([parts(0.8, 'clear'), parts(0.8, 'soft')]).toEqual(['person', 'short']);
    // A video is sharp at one moment and not at another.
    expect(of(0.2, video)).toBe('person');
  });

  it('leaves to the person what no machine measures, and holds back what is short or could have been measured', () => {
    const of = (raw: Record<string, unknown>, subject = photo) => checkLimit(limit(raw), subject);
    expect(isEveryMustMet([of({ kind: 'whole-piece' }), of({ kind: 'sharp' })])).toBe(true);
    expect(isEveryMustMet([of({ kind: 'one-take' }, { ...video, spanCount: null })])).toBe(true);
    expect(isEveryMustMet([of({ kind: 'one-take' }, { ...video, spanCount: 2 })])).toBe(false);
    expect(isEveryMustMet([of({ kind: 'loudness', min: -20 }, { ...video, loudnessLufs: null })])).toBe(
      false,
    );
  });

  it('is monotone: a smaller file never fails where a larger one passes, and the margin shrinks byte by byte', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 2e9 }),
        fc.integer({ min: 1, max: 2e9 }),
        fc.integer({ min: 1, max: 2e9 }),
        (a, b, maxBytes) => {
          const [small, large] = [Math.min(a, b), Math.max(a, b)];
          const of = (sizeBytes: number) =>
            checkLimit(limit({ kind: 'file-size', maxBytes }), { ...video, sizeBytes });
          if (of(large).state === 'met') expect(of(small).state).toBe('met');
          expect((of(small).margin ?? 0) - (of(large).margin ?? 0)).toBe(large - small);
        },
      ),
    );
  });

  it('refuses limits whose least is more than their most', () => {
    expect(Limit.safeParse({ id: 'x', kind: 'length', minUs: 10, maxUs: 5 }).success).toBe(false);
  });

  it('every row of the table names its own kind', () => {
    for (const [kind, row] of Object.entries(limitTable)) expect(row.kind).toBe(kind);
  });
});

describe('findMissingStream', () => {
  it('refuses sound alone where a video is wanted, and silence where sound is wanted', () => {
    expect(findMissingStream([limit({ kind: 'format', wanted: ['mp4'] })], buildSoundFacts())).toBe(
      'MISSING_PICTURE',
    );
    expect(
      findMissingStream([limit({ kind: 'format', wanted: ['mp4', 'm4a'] })], buildSoundFacts()),
    ).toBeNull();
    expect(
      findMissingStream(
        [limit({ kind: 'sound-present', isWanted: true })],
        buildVideoFacts({}, { sound: null }),
      ),
    ).toBe('MISSING_SOUND');
    expect(
      findMissingStream(
        [limit({ kind: 'sound-present', isWanted: true, severity: 'should' })],
        buildVideoFacts({}, { sound: null }),
      ),
    ).toBeNull();
  });
});
