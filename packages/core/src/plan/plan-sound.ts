import type { MediaFacts } from '../media/facts.ts';
import type { SoundNeed } from '../sound/sound-need.ts';
import type { Ceilings } from '../limits/ceilings.ts';
import type { SoundPlan } from './plan.ts';

/** Sampling rates of AAC-LC that every player takes (ISO/IEC 14496-3 table 1.18), highest first. */
const AAC_RATES_HZ = [48_000, 44_100, 32_000, 24_000, 22_050, 16_000] as const;
/** Rates that each coding is made at. Opus always tells 48 kHz (RFC 7845, 5.1). */
export const RATES_OF_CODEC: Readonly<Record<SoundPlan['codec'], readonly number[]>> = {
  aac: AAC_RATES_HZ,
  opus: [48_000],
  mp3: [48_000, 44_100, 32_000, 24_000, 22_050, 16_000],
  pcm: [48_000, 44_100, 96_000, 88_200, 32_000, 24_000, 22_050, 16_000, 8000],
  flac: [48_000, 44_100, 96_000, 88_200, 32_000, 24_000, 22_050, 16_000, 8000],
};

/** AAC-LC rates a stereo pair, best first; sound gets what it needs before the picture does. */
const STEREO_STEPS_BPS = [192_000, 160_000, 128_000, 96_000, 64_000, 48_000] as const;
/** Speech is as clear with this as with more. */
const MOST_SPEECH_BPS = 96_000;
/** Music has so much at least, up to this share of the file. */
const LEAST_MUSIC_BPS = 160_000;
const MOST_MUSIC_SHARE = 0.34;
/** Sound may take this share of a tight file at the most. */
const MOST_SHARE = 0.2;
/** Where the person has put sound first. */
const MOST_WISHED_SHARE = 0.5;

/**
 * The sound of a video: as good as the bytes allow, in the wanted channels and rate. null where there is or
 * shall be none.
 */
export function planVideoSound(
  facts: MediaFacts,
  ceilings: Ceilings,
  options: {
    durationUs: number;
    codec: SoundPlan['codec'];
    gainDb: number;
    need: SoundNeed;
    wishedBps?: number | null;
    maxBytes?: number | null;
  },
): SoundPlan | null {
  if (!facts.sound || ceilings.isSoundWanted === false) return null;
  const channels = Math.min(2, ceilings.channels ?? Math.min(2, facts.sound.channels));
  const rateHz = chooseRate(facts.sound.rateHz, ceilings, RATES_OF_CODEC[options.codec]);
  if (rateHz === null) return null;
  const maxBytes = options.maxBytes
    ? Math.min(options.maxBytes, ceilings.maxBytes ?? Infinity)
    : ceilings.maxBytes;
  const isWished = options.wishedBps !== null && options.wishedBps !== undefined;
  const allBps = maxBytes === null ? Infinity : (maxBytes * 8) / (options.durationUs / 1_000_000);
  const steps = isWished
    ? [options.wishedBps ?? 0, ...STEREO_STEPS_BPS.filter((bps) => bps < (options.wishedBps ?? 0))]
    : STEREO_STEPS_BPS.filter((bps) => options.need === 'music' || bps <= MOST_SPEECH_BPS);
  const shareOf = (bps: number) =>
    isWished
      ? MOST_WISHED_SHARE
      : options.need === 'music' && bps === LEAST_MUSIC_BPS
        ? MOST_MUSIC_SHARE
        : MOST_SHARE;
  const stereoBps = steps.find((bps) => (bps * channels) / 2 <= allBps * shareOf(bps)) ?? 48_000;
  return {
    codec: options.codec,
    bitrateBps: options.codec === 'pcm' ? null : Math.round((stereoBps * channels) / 2),
    channels,
    rateHz,
    gainDb: options.gainDb,
    isCopied: false,
  };
}

/**
 * The rate that the limits allow: 44.1 kHz stays where it may, else the first of the list that is allowed.
 * null where the coding has none.
 */
export function chooseRate(
  sourceHz: number,
  ceilings: Pick<Ceilings, 'minRateHz' | 'maxRateHz'>,
  ratesHz: readonly number[],
): number | null {
  const allowed = ratesHz.filter(
    (rate) => rate <= (ceilings.maxRateHz ?? Infinity) && rate >= (ceilings.minRateHz ?? 0),
  );
  if (sourceHz === 44_100 && allowed.includes(44_100)) return 44_100;
  return allowed[0] ?? null;
}
