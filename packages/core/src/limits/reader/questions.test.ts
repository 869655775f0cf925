import { describe, expect, it } from 'vitest';
import { readInstructions } from '../../plan/read-instructions.ts';
import type { Answers } from '../answers.ts';

const NOW = '2027-01-10T12:00';
const read = (text: string, answers: Answers = {}) => readInstructions(text, { now: NOW, answers });
const limitsOf = (text: string, kind: string, answers: Answers = {}) =>
  read(text, answers).limits.filter((limit) => limit.kind === kind);

const PERHAPS_DUE = 'Film the dress run. The hall closes on 12 February.';

describe('a day that may be no due time', () => {
  it('is asked about and is no limit before it is answered', () => {
    const { limits, questions } = read(PERHAPS_DUE);
    expect(limits.map(({ kind }) => kind)).not.toContain('due');
    expect(questions).toMatchObject([
      {
        asks: 'Is this when it is due?',
        answer: null,
        isCounted: false,
        readings: [{ limit: { kind: 'due' } }, { limit: null }],
      },
    ]);
    expect(PERHAPS_DUE.slice(questions[0]?.start, questions[0]?.end)).toContain('12 February');
  });

  it('counts as it was answered, and the answer stays with the words', () => {
    const id = read(PERHAPS_DUE).questions[0]?.id ?? '';
    expect(limitsOf(PERHAPS_DUE, 'due', { [id]: 0 })).toMatchObject([{ at: '2027-02-12T23:59' }]);
    expect(limitsOf(PERHAPS_DUE, 'due', { [id]: 1 })).toEqual([]);
    const longer = `Dear all, ${PERHAPS_DUE} See you there.`;
    expect(read(longer, { [id]: 1 }).questions).toMatchObject([{ answer: 1 }]);
  });

  it.each([['Due 12 February.'], ['Hand your film in by 12 February.']])('is not asked of: %s', (text) =>
    expect(read(text).questions).toEqual([]),
  );
});

describe('a day that could be two', () => {
  const text = 'Upload your film. Due 3/4/2027.';

  it('is asked about and counts meanwhile', () => {
    const { limits, questions } = read(text);
    expect(limits).toEqual(
      expect.arrayContaining([expect.objectContaining({ kind: 'due', at: '2027-04-03T23:59' })]),
    );
    expect(questions).toMatchObject([
      {
        asks: 'Which day is meant?',
        isCounted: true,
        readings: [{ limit: { at: '2027-04-03T23:59' } }, { limit: { at: '2027-03-04T23:59' } }],
      },
    ]);
  });

  it('is the one that was chosen', () => {
    const id = read(text).questions[0]?.id ?? '';
    expect(limitsOf(text, 'due', { [id]: 1 })).toMatchObject([{ at: '2027-03-04T23:59' }]);
  });
});

describe('a size that could be for one file or for every file', () => {
  const text = 'Hand in a video of your dance and a photo of your notes. At most 80 MB.';

  it('is asked about and holds for every file meanwhile', () => {
    const { limits, questions } = read(text);
    expect(limits).toEqual(
      expect.arrayContaining([expect.objectContaining({ maxBytes: 80e6, appliesTo: 'any' })]),
    );
    expect(questions).toMatchObject([
      {
        asks: 'Is this for the video alone?',
        isCounted: true,
        readings: [{ limit: { appliesTo: 'any' } }, { limit: { appliesTo: 'video' } }],
      },
    ]);
    const id = questions[0]?.id ?? '';
    expect(limitsOf(text, 'file-size', { [id]: 1 })).toMatchObject([{ maxBytes: 80e6, appliesTo: 'video' }]);
  });

  it.each([
    ['Hand in a video of your dance and a photo of your notes. No file may be larger than 80 MB.'],
    ['Hand in a photo of your notes and a video of at most 80 MB.'],
    ['Hand in a video of your dance, at most 80 MB.'],
  ])('is not asked of: %s', (plain) => expect(read(plain).questions).toEqual([]));
});

describe('a figure that takes another back', () => {
  it.each([
    ['One file, at most five megabytes, sorry, I meant seven megabytes.', 'file-size', { maxBytes: 7e6 }],
    ['One film, max. 2 MB. The 2 MB above was a slip, please read 12.', 'file-size', { maxBytes: 12e6 }],
    ['A film. It isn’t 5 MB as on the old sheet, it’s 8 MB or less.', 'file-size', { maxBytes: 8e6 }],
    ['A film of 35 s or shorter. A run over 35 s is too slow.', 'length', { minUs: null, maxUs: 35e6 }],
    ['A film, shorter than two and a quarter minutes.', 'length', { minUs: null, maxUs: 135e6 }],
  ])('%s', (text, kind, wanted) => {
    const { questions } = read(text);
    const answers = Object.fromEntries(questions.map(({ id }) => [id, 0 as const]));
    expect(limitsOf(text, kind, answers)).toMatchObject([wanted]);
  });

  it('asks for nothing where it need not be kept', () =>
    expect(limitsOf('Send a film. It isn’t necessary to keep it under 1080p.', 'picture-edge')).toEqual([]));
});

describe('points', () => {
  it.each([
    [
      'Voice ........ 6\nMovement ..... 6\nUse of space ...... 8\nTotal ........ 20',
      20,
      [
        ['Voice', 6],
        ['Movement', 6],
        ['Use of space', 8],
      ],
    ],
    [
      'Marks | 8 accuracy + 8 rhythm + 4 tone = 20',
      20,
      [
        ['accuracy', 8],
        ['rhythm', 8],
        ['tone', 4],
      ],
    ],
    [
      'Worth 30 points:\n- technique (12)\n- musicality (18)',
      30,
      [
        ['technique', 12],
        ['musicality', 18],
      ],
    ],
    [
      'Marked out of 20: intonation 8, rhythm 7 and stage presence 5.',
      20,
      [
        ['intonation', 8],
        ['rhythm', 7],
        ['stage presence', 5],
      ],
    ],
    // What does not add up is no rubric.
    ['Marked out of 20: intonation 8, rhythm 7.', 20, []],
  ])('%s', (text, points, rubric) =>
    expect(limitsOf(text, 'points')).toMatchObject([
      { points, rubric: rubric.map(([label, each]) => ({ label, points: each })) },
    ]),
  );
});
