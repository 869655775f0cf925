import { describe, expect, it } from 'vitest';
import { cleanText } from './clean-text.ts';
import { findDates } from './find-dates.ts';

const NOW = '2027-01-10T12:00';
const find = (text: string) =>
  findDates(cleanText(text), NOW).map(({ day, time }) => `${day} ${time ?? '-'}`);

describe('findDates', () => {
  it.each([
    ['by 11:59 pm on Friday, March 5', '2027-03-05 23:59'],
    ['due May 14 by 5 pm', '2027-05-14 17:00'],
    ['no later than noon on Wednesday, March 10', '2027-03-10 12:00'],
    ['until Monday 8 March, 9 in the morning', '2027-03-08 09:00'],
    ['the box closes on 2027-02-26 at 17:00', '2027-02-26 17:00'],
    ['due thurs febuary 25', '2027-02-25 -'],
    ['the third of February at nine in the evening', '2027-02-03 21:00'],
    ['closes 2027 April 9, 17.30', '2027-04-09 17:30'],
    ['before 8am on the 31st of May 2028', '2028-05-31 08:00'],
    ['hand in by 24/02/2027, 4 o’clock', '2027-02-24 16:00'],
    ['due 3/19', '2027-03-19 -'],
    // Gone by this year: the next one.
    ['due 5 January', '2028-01-05 -'],
  ])('%s', (text, wanted) => expect(find(text)).toEqual([wanted]));

  it.each([
    ['30 February is no day'],
    ['play at 3/4 time, pages 12-14'],
    ['you may use 2 files'],
    ['scale 1/4 inch'],
    ['version 2.10'],
  ])('none in: %s', (text) => expect(find(text)).toEqual([]));

  it('tells which of 3/4 is the month by the words around it, and that it could be otherwise', () => {
    const read = (text: string) =>
      findDates(cleanText(text), NOW).map(({ day, otherDay }) => [day, otherDay]);
    expect(read('Year 9 maths and colour. Due 3/4.')).toEqual([['2027-04-03', '2027-03-04']]);
    expect(read('For 7th grade color theory, 10 pts. Due 3/4.')).toEqual([['2027-03-04', '2027-04-03']]);
    expect(read('Due 25/4.')).toEqual([['2027-04-25', null]]);
  });
});
