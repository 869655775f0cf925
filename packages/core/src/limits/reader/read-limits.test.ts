import { describe, expect, it } from 'vitest';
import { readLimits } from './read-limits.ts';

const NOW = '2027-01-10T12:00';
const read = (text: string) => readLimits(text, NOW);
const of = (text: string, kind: string) => read(text).limits.filter((limit) => limit.kind === kind);

describe('limits of one kind for several items', () => {
  it('are several limits, each for its own', () => {
    expect(of('The video may not exceed 750 MB; the PDF may not exceed 5 MB.', 'file-size')).toMatchObject([
      { maxBytes: 750e6, appliesTo: 'video' },
      { maxBytes: 5e6, appliesTo: 'document' },
    ]);
    expect(
      of('One video, at most 80 MB each. Four photos, 6 MB each. 90 MB in all.', 'total-size'),
    ).toMatchObject([{ maxBytes: 90e6 }]);
  });
});

describe('what is about something else', () => {
  it.each([
    ['The mural is 4 m by 2.5 m.'],
    ['Uploading can take up to 20 minutes.'],
    ['At most 30 seconds of copyrighted music.'],
    ['Show the piece for at least 5 seconds.'],
    ['Under 14s need the blue form.'],
    ['Rehearsal is from 3:15 to 5:30 on Tuesday.'],
  ])('asks for no length and no due time: %s', (text) => {
    expect(read(text).limits.filter(({ kind }) => kind === 'length' || kind === 'due')).toEqual([]);
  });

  it('is told as not read where it sounds like a demand', () =>
    expect(read('Show the piece for at least 5 seconds.').notUnderstood.map(({ text }) => text)).toEqual([
      'Show the piece for at least 5 seconds',
    ]));

  it('a size above which files are to be made smaller is a most', () =>
    expect(of('Files larger than 100 MB must be compressed.', 'file-size')).toMatchObject([
      { minBytes: null, maxBytes: 100e6 },
    ]));

  it('“at the longest” is a most', () =>
    expect(of('Your film: one minute fifteen at the longest.', 'length')).toMatchObject([
      { minUs: null, maxUs: 75e6 },
    ]));
});

describe('items', () => {
  it.each([
    ['Film your routine and hand it in.', [['video', 1, 1]]],
    ['Submit at least 5 photos and no more than 8.', [['photo', 5, 8]]],
    [
      'Type your answer into the answer box and attach two photos.',
      [
        ['photo', 2, 2],
        ['text', 1, 1],
      ],
    ],
    ['Share a link to your process blog.', [['link', 1, 1]]],
    ['Upload three drawings, each scanned as a PNG.', [['photo', 3, 3]]],
    ['Just listen this week. There is nothing to hand in.', []],
  ])('%s', (text, wanted) =>
    expect(
      of(text, 'count')
        .map((limit) => (limit.kind === 'count' ? [limit.item, limit.min, limit.max] : []))
        .sort(),
    ).toEqual(wanted),
  );
});

describe('points', () => {
  it.each([
    ['Worth 20 points.', 20],
    ['Marked out of 35.', 35],
    ['40 marks in total.', 40],
    ['Rubric: tone 8, rhythm 8, effort 4. Total = 20 pts.', 20],
    ['Maximum marks: 60.', 60],
  ])('%s', (text, points) => expect(of(text, 'points')).toMatchObject([{ points }]));

  it.each(['You scored 18 out of 25.', 'Body type no smaller than 9 point.', 'You lose 5 points a day.'])(
    'none in: %s',
    (text) => expect(of(text, 'points')).toEqual([]),
  );
});

describe('names described in prose', () => {
  it.each([
    ['Name it: put your family name first, then an underscore, then what you play.', 'Surname_Instrument'],
    ['File name is last name, underscore, class period.', 'Surname_Class'],
    ['Call it your last name, hyphen, FinalMix.', 'Surname-FinalMix'],
    ['Save it under your last name, a hyphen, and your first name.', 'Surname-FirstName'],
    ['The filename starts with journal6 and then comes your last name.', 'journal6_Surname'],
    ['File names: centre number and candidate number, joined by a hyphen.', 'CentreNumber-CandidateNumber'],
  ])('%s', (text, pattern) => expect(of(text, 'file-name')).toMatchObject([{ pattern }]));
});

describe('corrections', () => {
  it('only words of correction replace what was said before', () => {
    const text = 'Record your solo, at most 3 minutes. Now record it again with the sound on.';
    expect(of(text, 'length')).toMatchObject([{ maxUs: 180e6 }]);
    expect(of('At most 50 MB. Scrap that: 80 MB at most.', 'file-size')).toMatchObject([{ maxBytes: 80e6 }]);
  });

  it('two figures in one breath are two things, never one for both', () =>
    expect(
      of('The film may not be bigger than 300 MB, the poster no bigger than 4 MB.', 'file-size'),
    ).toMatchObject([{ maxBytes: 300e6 }]));
});
