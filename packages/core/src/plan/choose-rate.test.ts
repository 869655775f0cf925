import { expect, it } from 'vitest';
import { chooseFrameRate } from './choose-rate.ts';

const rate = (numerator: number, denominator = 1) => ({ numerator, denominator });

it.each([
  ['its own where that is allowed', rate(30), null, 30, rate(30), 1],
  ['25 of 30, and not half as smooth', rate(30), null, 25, rate(25), null],
  ['every second of 60', rate(60), null, 30, rate(60, 2), 2],
  ['every second of 59.94', rate(60_000, 1001), null, 30, rate(60_000, 2002), 2],
  ['its own of 29.97 under 30', rate(30_000, 1001), null, 30, rate(30_000, 1001), 1],
  ['its own where more is wanted: no frame is doubled', rate(25), 30, null, rate(25), 1],
  ['24 of 25', rate(25), null, 24, rate(24), null],
] as const)('%s', (_name, source, minFrameRate, maxFrameRate, wanted, divisor) =>
  expect(chooseFrameRate(source, { minFrameRate, maxFrameRate })).toEqual({ rate: wanted, divisor }),
);
