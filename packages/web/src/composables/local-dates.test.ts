import { describe, expect, it } from 'vitest';
import {
  findFirstDay,
  findLocale,
  formatDay,
  formatInstant,
  formatTime,
  listDayNames,
  setSchoolLocale,
} from './local-dates.ts';

// 26 November 2026 is a Thursday.
const at = new Date(2026, 10, 26, 16, 5);

describe('dates as a person writes them', () => {
  it.each([
    ['en-GB', 'Thursday 26 November', '16:05'],
    ['en-US', 'Thursday, November 26', '04:05 PM'],
    ['de-DE', 'Donnerstag, 26. November', '16:05'],
  ])('in %s: %s, %s', (locale, day, time) => {
    expect([formatDay(at, locale), formatTime(at, locale)]).toEqual([day, time]);
    expect(formatInstant(at, locale)).toContain(time);
  });

  it('follow the school where its language is read, else the browser', () => {
    expect(findLocale(['en-US', 'en'])).toBe('en-US');
    setSchoolLocale('en-GB');
    expect([findLocale(['en-US', 'en']), findLocale(['de-DE', 'en-US'])]).toEqual(['en-GB', 'de-DE']);
    setSchoolLocale('en-US');
    expect(findLocale(['en-GB'])).toBe('en-US');
  });

  it.each([
    ['en-GB', 1, 'M', 'Monday'],
    ['en-US', 7, 'S', 'Sunday'],
    ['de-DE', 1, 'M', 'Montag'],
    ['fr-FR', 1, 'L', 'lundi'],
  ] as const)('weeks in %s begin with day %d, %s for %s', (locale, first, short, long) => {
    expect(findFirstDay(locale)).toBe(first);
    expect(listDayNames(first, locale)[0]).toEqual({ short, long });
    expect(new Set(listDayNames(first, locale).map((name) => name.long)).size).toBe(7);
  });
});
