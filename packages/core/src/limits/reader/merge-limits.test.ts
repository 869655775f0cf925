import { describe, expect, it } from 'vitest';
import { readLimits } from './read-limits.ts';

const NOW = '2026-11-24T09:00';
const limits = (text: string) => readLimits(text, NOW).limits;

describe('bringing places together', () => {
  it('joins a least and a most of one thing, with both places', () => {
    const read = readLimits('No shorter than a minute. At most 20 MB. Two minutes maximum.', NOW);
    expect(read.limits).toMatchObject([{ kind: 'length', minUs: 60e6, maxUs: 120e6 }, { kind: 'file-size' }]);
    expect(read.spans.filter((span) => span.limitId === 'length')).toHaveLength(2);
  });

  it('takes the same thing said twice as one', () =>
    expect(limits('Max 20 MB. Remember: 20 MB max!')).toHaveLength(1));

  it('keeps what is about different kinds of file, or put as a wish, apart', () => {
    expect(limits('Videos at most 20 MB, photos at most 5 MB.').map((limit) => limit.id)).toEqual([
      'file-size',
      'file-size-2',
    ]);
    expect(limits('Ideally 60 fps, 30 fps at least.').map((limit) => limit.severity)).toEqual([
      'should',
      'must',
    ]);
  });

  it.each([
    ['At most 50 MB. Correction: 80 MB.', 80e6],
    ['At most 50 MB. Sorry, I meant at most 80 MB.', 80e6],
    ['The limit is 80 MB, not 50 MB.', 80e6],
    ['The limit has gone up from 50 MB to 80 MB.', 80e6],
    ['Max 80 MB (it was 50 MB).', 80e6],
  ])('%s', (text, maxBytes) => expect(limits(text)).toMatchObject([{ maxBytes }]));

  it('tells a format that is wanted and then refused', () => {
    expect(limits('MP4 or MOV. No MOV after all.').filter(({ kind }) => kind === 'format')).toMatchObject([
      { kind: 'format', wanted: ['mp4'], refused: ['mov'] },
    ]);
  });
});

describe('names and dates', () => {
  it.each([
    ['Name it Surname_Firstname_Piece.', 'Surname_Firstname_Piece'],
    ['Call the file your candidate number, then the title.', 'CandidateNumber_Title'],
    ['File name: surname dash first name', 'Surname-FirstName'],
    ['Save it as firstname-surname-title.', 'firstname-surname-title'],
  ])('%s', (text, pattern) => expect(limits(text)).toMatchObject([{ kind: 'file-name', pattern }]));

  it.each([
    'Look at the well-known half-time score.',
    'E.g. Varga_Ineke_Nocturne.',
    'Write to head_of_music@school.invalid.',
  ])('no pattern in: %s', (text) =>
    expect(limits(text).filter((limit) => limit.kind === 'file-name')).toEqual([]),
  );

  it.each([
    ['Due on Friday at 4 pm.', '2026-11-27T16:00'],
    ['Deadline: 4 December 2026.', '2026-12-04T23:59'],
    ['Hand it in by 9 a.m. on the 4th of December.', '2026-12-04T09:00'],
    ['Submit before midnight on 30 November.', '2026-11-30T23:59'],
    ['Due tomorrow at noon.', '2026-11-25T12:00'],
  ])('%s', (text, at) => expect(limits(text)).toMatchObject([{ kind: 'due', at }]));

  it.each(['We met on Friday at 4 pm.', 'The concert is on 4 December.', 'Play it by bar 12.'])(
    'no due time in: %s',
    (text) => expect(limits(text)).toEqual([]),
  );
});
