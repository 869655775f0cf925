/** Monday is 1 and Sunday 7, as ISO 8601 counts them. */
export type IsoWeekday = 1 | 2 | 3 | 4 | 5 | 6 | 7;

interface WeekInfo {
  readonly firstDay: IsoWeekday;
}

let schoolLocale: string | null = null;

/** How dates are written at the school; known once the session has been read. */
export function setSchoolLocale(locale: string): void {
  schoolLocale = locale;
}

const readLanguage = (locale: string) => new Intl.Locale(locale).language;

/**
 * The locale that a person reads dates in: the school's own where they read its language (most browsers call
 * every English American), else that of their browser.
 */
export function findLocale(languages: readonly string[] = navigator.languages): string {
  const own = languages[0] ?? navigator.language;
  return schoolLocale !== null && readLanguage(own) === readLanguage(schoolLocale) ? schoolLocale : own;
}

/** The first day of the week where the person is (CLDR); Monday where the browser cannot tell. */
export function findFirstDay(locale = findLocale()): IsoWeekday {
  const known = new Intl.Locale(locale) as Intl.Locale & {
    getWeekInfo?: () => WeekInfo;
    weekInfo?: WeekInfo;
  };
  return (known.getWeekInfo?.() ?? known.weekInfo)?.firstDay ?? 1;
}

/** One letter or so for each day of the week, in the person's own language, from its first day on. */
export function listDayNames(firstDay: IsoWeekday, locale = findLocale()): { short: string; long: string }[] {
  const write = (weekday: 'narrow' | 'long') => new Intl.DateTimeFormat(locale, { weekday, timeZone: 'UTC' });
  return Array.from({ length: 7 }, (_, index) => {
    // 1 January 2024 was a Monday.
    const day = new Date(Date.UTC(2024, 0, firstDay + index));
    return { short: write('narrow').format(day), long: write('long').format(day) };
  });
}

/** `Thursday 26 November` at a British college, `Thursday, November 26` in America. */
export function formatDay(instant: number | Date, locale = findLocale()): string {
  return new Intl.DateTimeFormat(locale, { weekday: 'long', day: 'numeric', month: 'long' }).format(instant);
}

/** Weekday, day, month and time of day, as the person writes them. */
export function formatInstant(instant: number | string | Date, locale = findLocale()): string {
  return new Intl.DateTimeFormat(locale, {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  }).format(new Date(instant));
}

export function formatTime(instant: number | string | Date, locale = findLocale()): string {
  return new Intl.DateTimeFormat(locale, { hour: '2-digit', minute: '2-digit' }).format(new Date(instant));
}
