import { RATE_ROOM } from '../limits/picture-rows.ts';
import { readRate, type Rational } from '../media/facts.ts';

/**
 * Frames a second of a result, and how many frames of the recording make one; null where that is no whole
 * number.
 */
export interface ChosenRate {
  readonly rate: Rational;
  readonly divisor: number | null;
}

/** Rates that players and standards know, for results that no whole number of frames gives. */
const COMMON_RATES: readonly Rational[] = [
  { numerator: 60, denominator: 1 },
  { numerator: 60_000, denominator: 1001 },
  { numerator: 50, denominator: 1 },
  { numerator: 30, denominator: 1 },
  { numerator: 30_000, denominator: 1001 },
  { numerator: 25, denominator: 1 },
  { numerator: 24, denominator: 1 },
  { numerator: 24_000, denominator: 1001 },
  { numerator: 20, denominator: 1 },
  { numerator: 15, denominator: 1 },
  { numerator: 12, denominator: 1 },
  { numerator: 10, denominator: 1 },
];

/** A whole fraction is smoother; below this share of the most that is allowed it loses more than it gains. */
const LEAST_SHARE_OF_MOST = 0.75;
const MOST_DIVISOR = 12;

export function divideRate(rate: Rational, divisor: number): Rational {
  return divisor === 1 ? rate : { numerator: rate.numerator, denominator: rate.denominator * divisor };
}

/**
 * The rate of the result: the recording's own where that is allowed, else every second or third frame, else
 * the highest common rate in between. No frame is ever shown twice to reach a rate.
 */
export function chooseFrameRate(
  source: Rational,
  bounds: { readonly minFrameRate: number | null; readonly maxFrameRate: number | null },
): ChosenRate {
  const min = (bounds.minFrameRate ?? 0) * (1 - RATE_ROOM);
  const max = (bounds.maxFrameRate ?? Infinity) * (1 + RATE_ROOM);
  const isInside = (rate: Rational) => readRate(rate) >= min && readRate(rate) <= max;
  const own = { rate: source, divisor: 1 };
  // What cannot be reached is refused by the row of the limit; the plan then stands at the recording's own
  // rate.
  if (readRate(source) < min || isInside(source)) return own;
  const fractions = Array.from({ length: MOST_DIVISOR - 1 }, (_, index) => index + 2).map((divisor) => ({
    rate: divideRate(source, divisor),
    divisor,
  }));
  const fraction = fractions.find((each) => isInside(each.rate)) ?? null;
  const common = COMMON_RATES.find((rate) => isInside(rate) && readRate(rate) <= readRate(source));
  const isSmooth = fraction !== null && readRate(fraction.rate) >= max * LEAST_SHARE_OF_MOST;
  if (fraction && (isSmooth || !common)) return fraction;
  return common ? { rate: common, divisor: null } : own;
}
