import { AIM_SHARE, estimateMp4Overhead, LEAST_VIDEO_BPS } from '../fit/video-budget.ts';
import { frameSize } from '../geometry/frame.ts';
import { fitSizeInside } from '../geometry/turn.ts';
import type { Ceilings } from '../limits/ceilings.ts';
import type { Refusal } from '../limits/refusal.ts';
import { readRate } from '../media/facts.ts';
import { formatBytes } from '../units/bytes.ts';
import { formatDuration } from '../units/duration.ts';
import type { PlanInput } from './plan-input.ts';
import { chooseFrameRate } from './choose-rate.ts';
import { buildTakeTimeline } from './plan-timeline.ts';

/** Lines that a refusal speaks of, the first that lets anything worth watching fit. */
const REFUSAL_LINES = [480, 360, 240] as const;
/** With so many bits for each pixel of each frame a picture can be followed. */
const WATCHABLE_BITS_PER_PIXEL = 0.02;
const WORTH_WATCHING_US = 5_000_000;

interface Need {
  readonly lines: number | null;
  readonly atMostUs: number;
  readonly needsBytes: number;
}

/**
 * Says by bisection on the real budget how long a part would fit at how many lines, and how many bytes all of
 * it would take.
 */
export function refuseSize(
  input: Pick<PlanInput, 'facts' | 'recipe' | 'series'>,
  ceilings: Ceilings,
): Refusal {
  const { facts } = input;
  const maxBytes = ceilings.maxBytes ?? 0;
  const isTimed = facts.kind === 'video' || facts.kind === 'sound';
  if (!isTimed)
    return {
      reason: 'too-long-for-size',
      atMostUs: 0,
      needsBytes: Math.max(1, maxBytes) * 4,
      lines: null,
      message: `The picture does not fit in ${formatBytes(maxBytes)} at the size that is wanted. Ask for more bytes.`,
    };
  const rate = facts.video?.frameRate ?? null;
  const { durationUs } = buildTakeTimeline(facts, input.series, input.recipe, rate);
  const ways: Need[] = facts.video
    ? REFUSAL_LINES.map((lines) => measureNeed(input, ceilings, maxBytes, durationUs, lines))
    : [measureNeed(input, ceilings, maxBytes, durationUs, null)];
  const isWorth = (each: Need) => each.atMostUs >= Math.min(WORTH_WATCHING_US, durationUs / 20);
  const way = ways.find(isWorth) ?? ways.at(-1);
  if (!way) throw new TypeError('A way was expected.');
  const { lines, atMostUs, needsBytes } = way;
  const atLines = lines === null ? '' : ` at ${lines} lines`;
  const longest =
    atMostUs < 500_000
      ? `nothing that can be ${lines === null ? 'heard' : 'watched'} would`
      : `at most ${formatDuration(atMostUs, 0)} would${atLines}`;
  const whole = `${formatDuration(durationUs)} does not fit in ${formatBytes(maxBytes)}`;
  return {
    reason: 'too-long-for-size',
    atMostUs,
    needsBytes,
    lines,
    message: `${whole}: ${longest}, or ask for ${formatBytes(needsBytes)}.`,
  };
}

function measureNeed(
  input: Pick<PlanInput, 'facts' | 'recipe'>,
  ceilings: Ceilings,
  maxBytes: number,
  durationUs: number,
  lines: number | null,
): Need {
  const { video, sound } = input.facts;
  const chosen = video ? chooseFrameRate(video.frameRate, ceilings) : null;
  const rate = video ? readRate(chosen?.rate ?? video.frameRate) : 0;
  const channels = Math.min(2, sound?.channels ?? 0);
  const size =
    video && lines !== null
      ? fitSizeInside(
          frameSize(video, input.recipe.picture),
          { ...ceilings.size, shortEdgePx: Math.min(lines, ceilings.size.shortEdgePx ?? Infinity) },
          2,
        )
      : null;
  const pictureBps = size
    ? Math.max(LEAST_VIDEO_BPS, size.widthPx * size.heightPx * rate * WATCHABLE_BITS_PER_PIXEL)
    : 0;
  const leastBps = size ? pictureBps + 24_000 * channels : 16_000 * channels;
  const needOf = (us: number) => {
    const tables = estimateMp4Overhead((us * rate) / 1e6, (us * 48) / 1_024_000, us);
    return ((leastBps * us) / 8e6 + tables + 4096) / AIM_SHARE;
  };
  let [low, high] = [0, durationUs];
  while (high - low > 1000) {
    const middle = Math.floor((low + high) / 2);
    if (needOf(middle) <= maxBytes) low = middle;
    else high = middle;
  }
  return { lines, atMostUs: low, needsBytes: Math.ceil(needOf(durationUs) * 1.01) };
}
