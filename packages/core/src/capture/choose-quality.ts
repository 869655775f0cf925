import { readCeilings } from '../limits/steer.ts';
import type { Limit } from '../limits/limit.ts';
import { formatBytes } from '../units/bytes.ts';
import { formatDuration } from '../units/duration.ts';
import type { CaptureMode } from './order-modes.ts';

/** What a camera is asked for. */
export interface CaptureQuality {
  /** Lines of the picture: its shorter edge; null for sound alone. */
  readonly lines: number | null;
  readonly frameRate: number | null;
  readonly videoBps: number;
  readonly soundBps: number;
}

export interface QualityChoice {
  readonly quality: CaptureQuality;
  /** What it comes to at the longest that is allowed, or at two minutes where no limit says. */
  readonly bytes: number;
  readonly atUs: number;
  /** Whether that fits the limit as it is; null where there is none. */
  readonly fits: boolean | null;
  /** `2:00 at 720 lines is about 40 MB: fits in 100 MB.` */
  readonly sentence: string;
}

/** Lines with what a browser's coder needs for them at 30 pictures a second, in bits a second. */
const RUNGS = [
  { lines: 1080, videoBps: 5_000_000 },
  { lines: 720, videoBps: 2_500_000 },
  { lines: 480, videoBps: 1_300_000 },
] as const;
const SOUND_BPS = 160_000;
const TYPICAL_US = 120_000_000;
const MOST_US = 3_600_000_000;
/** Twice the pictures are not twice the bytes: neighbours are alike. */
const DOUBLE_RATE = 1.6;
/** Coded without haste, a recording needs half the bytes for the same clarity. */
const FIT_GAINS = 2;
/** A camera's coder may come out this much above what it is asked for. */
const ROOM = 1.05;

const measureBytes = ({ videoBps, soundBps }: CaptureQuality, atUs: number) =>
  Math.round((((videoBps + soundBps) * atUs) / 8e6) * ROOM);

/**
 * The finest recording that is of use: no more lines and pictures a second than the limits let through, no
 * fewer than they ask for, and no more bytes than Fit brings down to the limit without harm.
 */
export function chooseQuality(
  limits: readonly Limit[],
  mode: CaptureMode,
  slotId: string | null = null,
): QualityChoice {
  const ceilings = readCeilings(limits, mode, { slotId });
  const atUs = Math.min(MOST_US, ceilings.maxUs ?? Math.max(TYPICAL_US, ceilings.minUs ?? 0));
  const { maxBytes } = ceilings;
  if (mode === 'sound') {
    const quality = { lines: null, frameRate: null, videoBps: 0, soundBps: SOUND_BPS };
    return describeChoice(quality, atUs, maxBytes);
  }
  const most = ceilings.size.shortEdgePx ?? ceilings.size.heightPx ?? RUNGS[0].lines;
  const least = Math.max(ceilings.floors.shortEdgePx, 0);
  const allowed = RUNGS.filter(({ lines }) => lines <= most && lines >= least);
  const frameRate = (ceilings.minFrameRate ?? 0) > 30 ? 60 : Math.min(30, ceilings.maxFrameRate ?? 30);
  const rungs = allowed.length > 0 ? allowed : [RUNGS.find(({ lines }) => lines >= least) ?? RUNGS[0]];
  const choices = rungs.map(({ lines, videoBps }) =>
    describeChoice(
      {
        lines,
        frameRate,
        videoBps: Math.round(videoBps * (frameRate > 30 ? DOUBLE_RATE : 1)),
        soundBps: SOUND_BPS,
      },
      atUs,
      maxBytes,
    ),
  );
  const useful = choices.find(({ bytes }) => maxBytes === null || bytes <= maxBytes * FIT_GAINS);
  return (useful ?? choices.at(-1)) as QualityChoice;
}

function describeChoice(quality: CaptureQuality, atUs: number, maxBytes: number | null): QualityChoice {
  const bytes = measureBytes(quality, atUs);
  const fits = maxBytes === null ? null : bytes <= maxBytes;
  const what = quality.lines === null ? 'of sound' : `at ${quality.lines} lines`;
  const head = `${formatDuration(atUs)} ${what} is about ${formatBytes(bytes)}`;
  const tail =
    maxBytes === null
      ? ''
      : fits
        ? `: fits in ${formatBytes(maxBytes)}`
        : `; Fit makes it smaller, to ${formatBytes(maxBytes)}`;
  return { quality, bytes, atUs, fits, sentence: `${head}${tail}.` };
}
