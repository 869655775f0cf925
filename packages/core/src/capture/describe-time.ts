import { formatDuration } from '../units/duration.ts';

export interface TimeLeft {
  /** `0:41 left` */
  readonly text: string;
  readonly state: 'short' | 'good' | 'ending' | 'over';
}

const ENDING_US = 10_000_000;

/**
 * How a recording that runs stands against the length that is allowed, in words. It only tells: a performance
 * is never cut off.
 */
export function describeTime(elapsedUs: number, minUs: number | null, maxUs: number | null): TimeLeft {
  if (maxUs !== null && elapsedUs > maxUs)
    return { text: `${write(elapsedUs - maxUs)} over: go on, it can be cut later`, state: 'over' };
  if (minUs !== null && elapsedUs < minUs)
    return { text: `${write(minUs - elapsedUs + 999_999)} more at least`, state: 'short' };
  if (maxUs === null) return { text: 'no limit on the length', state: 'good' };
  const left = maxUs - elapsedUs;
  return { text: `${write(left)} left`, state: left < ENDING_US ? 'ending' : 'good' };
}

const write = (us: number) => formatDuration(us, 0);
