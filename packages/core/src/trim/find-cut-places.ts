import type { SoundPeaks } from '../media/analysis.ts';

/** A place at which a performance that is too long could end. */
export interface CutPlace {
  readonly atUs: number;
  readonly kind: 'pause' | 'longest';
  /** What it is, in words. */
  readonly reason: string;
}

/** A pause is quieter than the music about it by so much, for so long. */
const LEAST_DIP_DB = 12;
const LEAST_PAUSE_US = 250_000;
/** What lies about a pause, and how near to another one it may be. */
const AROUND_US = 4_000_000;
const LEAST_APART_US = 3_000_000;
const MOST_PLACES = 4;

/**
 * Where a stretch could end so that it is no longer than allowed: at pauses before the longest that is
 * allowed, the latest first, and there itself. Empty where it is short enough.
 */
export function findCutPlaces(
  range: { readonly startUs: number; readonly finishUs: number },
  maxUs: number | null,
  peaks: SoundPeaks | null,
  minUs: number | null = null,
): CutPlace[] {
  if (maxUs === null || range.finishUs - range.startUs <= maxUs) return [];
  const latestUs = range.startUs + maxUs;
  const earliestUs = range.startUs + Math.max(minUs ?? 0, maxUs * 0.5);
  const pauses = peaks ? findPauses(peaks, earliestUs, latestUs) : [];
  return [
    ...pauses.slice(0, MOST_PLACES - 1).map((atUs): CutPlace => ({ atUs, kind: 'pause', reason: 'a pause' })),
    { atUs: latestUs, kind: 'longest', reason: 'the longest that is allowed' },
  ];
}

/** Middles of pauses in a stretch, the latest first. */
function findPauses(peaks: SoundPeaks, fromUs: number, toUs: number): number[] {
  const columnUs = 1_000_000 / peaks.columnsPerSecond;
  const levels = peaks.peaks.map((peak) => 20 * Math.log10(Math.max(peak, 1e-5)));
  const reach = Math.round(AROUND_US / columnUs);
  const found: number[] = [];
  const [first, last] = [Math.max(0, Math.floor(fromUs / columnUs)), Math.floor(toUs / columnUs)];
  let run = 0;
  for (let column = first; column <= Math.min(last, levels.length - 1); column += 1) {
    const around = levels.slice(Math.max(0, column - reach), column + reach + 1).sort((a, b) => a - b);
    const usual = around[Math.floor(around.length * 0.8)] ?? -100;
    const isQuiet = (at: number) => (levels[at] ?? 0) <= usual - LEAST_DIP_DB && usual > -60;
    run = isQuiet(column) ? run + 1 : 0;
    const isEnd = run > 0 && (column === Math.min(last, levels.length - 1) || !isQuiet(column + 1));
    if (isEnd && run * columnUs >= LEAST_PAUSE_US) found.push(Math.round((column + 1 - run / 2) * columnUs));
  }
  const apart: number[] = [];
  for (const atUs of found.reverse())
    if (apart.every((each) => Math.abs(each - atUs) >= LEAST_APART_US)) apart.push(atUs);
  return apart;
}
