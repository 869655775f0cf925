import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { findConflicts, MAX_INSTRUCTIONS, readInstructions } from './read-instructions.ts';
import { Limit } from '../limits/limit.ts';

const NOW = '2026-11-24T09:00';
const read = (text: string) => readInstructions(text, { now: NOW });
const only = (text: string) => {
  const { limits } = read(text);
  expect(limits).toHaveLength(1);
  return limits[0];
};

describe('readInstructions', () => {
  it.each([
    ['2\'30" at most', { minUs: null, maxUs: 150_000_000 }],
    ['between two and three minutes long', { minUs: 120_000_000, maxUs: 180_000_000 }],
    ['a minute and a half maximum', { minUs: null, maxUs: 90_000_000 }],
    ['at least three quarters of an hour of video', { minUs: 2_700_000_000, maxUs: null }],
    ['exactly 1 h 30 min', { minUs: 5_400_000_000, maxUs: 5_400_000_000 }],
    ['no longer than 2m30s', { minUs: null, maxUs: 150_000_000 }],
    ['1½ minutes max', { minUs: null, maxUs: 90_000_000 }],
    ['about 3 minutes long', { minUs: 180_000_000, maxUs: 180_000_000, isAbout: true }],
    ['not shorter than 4 or longer than 6 minutes', { minUs: 240_000_000, maxUs: 360_000_000 }],
  ])('length: %s', (text, wanted) => expect(only(text)).toMatchObject({ kind: 'length', ...wanted }));

  it.each([
    ['a hundred megs max', 100_000_000],
    ['1.5 gigs max', 1_500_000_000],
    ['under 20 MiB', 20_971_520],
    ['1,000 kB or less', 1_000_000],
    ['half a gig tops', 500_000_000],
    ['≤ 7,5 MB', 7_500_000],
    ['files over 50MB will be rejected', 50_000_000],
  ])('size: %s', (text, maxBytes) =>
    expect(only(text)).toMatchObject({ kind: 'file-size', minBytes: null, maxBytes }),
  );

  it('says where MB could be either, and takes the stricter', () => {
    expect([only('at most 5 MB'), only('at most 5 MiB')]).toMatchObject([
      { maxBytes: 5_000_000, isAmbiguous: true },
      { maxBytes: 5_242_880, isAmbiguous: false },
    ]);
  });

  it('knows which kind of file a limit is about', () => {
    expect(read('Videos up to 100 MB, photos up to 5 MB.').limits).toMatchObject([
      { appliesTo: 'video', maxBytes: 100_000_000 },
      { appliesTo: 'photo', maxBytes: 5_000_000 },
    ]);
  });

  it('a format for a document stands in no video’s way', () => {
    const { limits } = read('Send the score as a PDF and the performance as an MP4.');
    expect(limits.flatMap((each) => (each.kind === 'count' ? [each.item] : [])).sort()).toEqual([
      'document',
      'video',
    ]);
    expect(limits.filter(({ kind }) => kind !== 'count')).toMatchObject([
      { kind: 'format', wanted: ['pdf'], appliesTo: 'document' },
      { kind: 'format', wanted: ['mp4'], appliesTo: 'video' },
    ]);
  });

  it.each([
    ['en-GB', '2027-04-03T23:59'],
    ['en-US', '2027-03-04T23:59'],
    ['nl', '2027-04-03T23:59'],
    ['sv', '2027-04-03T23:59'],
    ['ja', '2027-03-04T23:59'],
    ['no such place', '2027-04-03T23:59'],
  ])('takes 3/4 in the order of %s', (locale, at) =>
    expect(readInstructions('Film it. Due 3/4.', { now: '2027-01-10T12:00', locale }).limits).toEqual(
      expect.arrayContaining([expect.objectContaining({ kind: 'due', at })]),
    ),
  );

  it('lets a correction replace what stood before, and reports what contradicts itself', () => {
    expect(read('At most 50 MB. Update: ignore that, 100 MB now.').limits).toMatchObject([
      { maxBytes: 100_000_000 },
    ]);
    expect(read('At most 50 MB. Update: ignore that, 100 MB now.').conflicts).toEqual([]);
    expect(read('At most 50 MB. Files must be under 100 MB.').conflicts).toMatchObject([
      { limitIds: ['file-size'], message: expect.stringContaining('100 MB') as string },
    ]);
  });

  it('marks the very words', () => {
    const text = 'Hand in an MP4 of no more than 12 megs, and call it Surname_Firstname_Piece.';
    const { limits, spans } = read(text);
    expect(spans.map((span) => [span.limitId, text.slice(span.start, span.end)])).toEqual([
      ['count', 'an MP4'],
      ['format', 'MP4'],
      ['file-size', 'no more than 12 megs'],
      ['file-name', 'Surname_Firstname_Piece'],
    ]);
    expect(limits.map((limit) => limit.words)).toEqual([
      'an MP4',
      'MP4',
      'no more than 12 megs',
      'Surname_Firstname_Piece',
    ]);
  });

  it('keeps positions where HTML and control characters stand between', () => {
    const text = '<p>At most\u0007 <b>20&nbsp;MB</b></p>';
    const { limits, spans } = read(text);
    expect(limits).toMatchObject([{ kind: 'file-size', maxBytes: 20_000_000 }]);
    expect(text.slice(spans[0]?.start, spans[0]?.end)).toContain('At most');
    expect(text.slice(0, spans[0]?.end)).toMatch(/MB$/);
  });

  it('tells what was not understood', () => {
    expect(
      read('MP4. Make sure the balance is nice. Room 12 is free at lunch.').notUnderstood.map(
        (wish) => wish.text,
      ),
    ).toEqual(['Make sure the balance is nice']);
  });

  it.each([
    [
      'Exactly 10 minutes at 1080p or more, at most 5 MB.',
      /10:00 at 1080 lines does not fit in 5 MB/,
      /ask for/,
    ],
    ['Due on 3 March 2026.', /has passed/, /teacher/],
    ['At least 3 minutes and no more than 2 minutes.', /no file can meet both/, /teacher/],
  ])('conflict: %s', (text, message, possible) => {
    const [conflict] = read(text).conflicts;
    expect(conflict?.message).toMatch(message);
    expect(conflict?.possible).toMatch(possible);
  });

  it('reads due times against the given instant', () => {
    expect(only('Due by next Friday at 4 pm.')).toMatchObject({
      kind: 'due',
      at: expect.stringMatching(/^2026-(11-27|12-04)T16:00$/) as string,
    });
    expect(readInstructions('Due by Friday at 4 pm.').limits).toEqual([]);
  });

  it('takes the clock as words or as a date, and none that is wrong', () => {
    const dueAt = (now: string | Date) =>
      readInstructions('Due on 12 March at 4 pm.', { now }).limits.flatMap((limit) =>
        limit.kind === 'due' ? [limit.at] : [],
      );
    expect(dueAt('2027-01-10T12:00')).toEqual(['2027-03-12T16:00']);
    expect(dueAt(new Date('2027-01-10T12:00:00Z'))).toEqual(['2027-03-12T16:00']);
    expect(dueAt(new Date(Number.NaN))).toEqual([]);
    expect(dueAt('soon')).toEqual([]);
  });

  it('takes 200 kB of text and tells the rest as not read', () => {
    const text = 'Play it again. At most 20 MB. '.repeat(9000);
    const result = read(text);
    expect(result.limits).toMatchObject([{ kind: 'file-size', maxBytes: 20_000_000 }]);
    expect(result.notUnderstood.at(-1)).toMatchObject({ start: MAX_INSTRUCTIONS, end: text.length });
  });

  it('never throws, and every span lies inside the text', () => {
    const word = fc.oneof(
      fc.constantFrom(
        'at most',
        'no',
        'between',
        '2',
        'MB',
        'minutes',
        'or',
        'and',
        'MP4',
        ':',
        '-',
        '2\'30"',
        'a',
        'half',
        'not',
        'either',
        'photos',
        'video',
        '(',
        '1920x1080',
        'due',
        'Friday',
        '.',
        '\n',
        '16:9',
        'dpi',
        'A4',
        'name it',
        '<b>',
        '±',
      ),
      fc.string({ unit: 'binary', maxLength: 12 }),
    );
    fc.assert(
      fc.property(fc.array(word, { maxLength: 40 }), (words) => {
        const text = words.join(' ');
        const { spans, limits, notUnderstood } = read(text);
        for (const span of [...spans, ...notUnderstood])
          expect(span.start >= 0 && span.start < span.end && span.end <= text.length).toBe(true);
        for (const limit of limits) expect(spans.some((span) => span.limitId === limit.id)).toBe(true);
      }),
      { numRuns: 400 },
    );
  });

  it('never invents a number: text without figures gives no numeric limit', () => {
    const word = fc.constantFrom(
      'the',
      'video',
      'must',
      'be',
      'at',
      'most',
      'long',
      'photos',
      'under',
      'MB',
      'minutes',
      'no',
      'more',
      'than',
      'please',
      'MP4',
      'landscape',
      'limit',
      'and',
      'or',
      'maximum',
      'length',
      'file',
      'pixels',
      '.',
      ',',
      'name',
      'sound',
    );
    fc.assert(
      fc.property(fc.array(word, { maxLength: 30 }), (words) => {
        const numeric = read(words.join(' ')).limits.filter((limit) =>
          [
            'file-size',
            'length',
            'picture-edge',
            'frame-rate',
            'sample-rate',
            'loudness',
            'attempts',
            'total-size',
            'true-peak',
          ].includes(limit.kind),
        );
        expect(numeric).toEqual([]);
      }),
    );
  });

  it('numbers of a limit stand in the text', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 900 }),
        fc.constantFrom('at most', 'up to', 'under', 'no more than', 'maximum'),
        fc.constantFrom(['MB', 1e6], ['kB', 1e3], ['GB', 1e9]),
        (count, cue, [unit, factor]) => {
          expect(read(`Play bar 7. Hand in a file of ${cue} ${count} ${String(unit)}.`).limits).toMatchObject(
            [{ kind: 'file-size', maxBytes: count * Number(factor) }],
          );
        },
      ),
    );
  });
});

describe('findConflicts', () => {
  it('says nothing where all can be met', () => {
    expect(
      findConflicts(
        [
          Limit.parse({ id: 'a', kind: 'length', minUs: 60e6, maxUs: 120e6 }),
          Limit.parse({ id: 'b', kind: 'file-size', maxBytes: 100e6 }),
        ],
        NOW,
      ),
    ).toEqual([]);
  });
});
