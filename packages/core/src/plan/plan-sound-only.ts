import { AIM_SHARE } from '../fit/video-budget.ts';
import type { Ceilings } from '../limits/ceilings.ts';
import { findMostSamples, measureCodedUs } from '../sound/coded-length.ts';
import type { PlanInput } from './plan-input.ts';
import { chooseSoundCodec } from './choose-container.ts';
import { chooseRate, RATES_OF_CODEC } from './plan-sound.ts';
import { buildTakeTimeline } from './plan-timeline.ts';
import type { SoundOnlyPlan } from './plan.ts';

/** What headers take, by container: of WAV exactly, else with room. */
const WAV_HEADER_BYTES = 44;
const TABLE_BYTES = 4096;
/** FLAC takes this share of the samples of usual material; never more than all of them. */
const FLAC_SHARE = 0.6;
const STEREO_STEPS_BPS = [256_000, 192_000, 160_000, 128_000, 96_000, 64_000, 48_000, 32_000] as const;

/** A sound file: as good as the bytes allow, in the wanted channels and rate. null where nothing fits. */
export function planSoundOnly(
  input: PlanInput,
  ceilings: Ceilings,
  container: SoundOnlyPlan['container'],
  fileName: string,
): SoundOnlyPlan | null {
  const source = input.facts.sound;
  const codec = chooseSoundCodec(container, ceilings);
  if (!source || !codec) return null;
  const channels = Math.min(2, ceilings.channels ?? Math.min(2, source.channels));
  const rateHz = chooseRate(source.rateHz, ceilings, RATES_OF_CODEC[codec]);
  if (rateHz === null) return null;
  const timeline = buildTakeTimeline(
    input.facts,
    { frames: null, places: input.series.places ?? null },
    input.recipe,
    null,
  );
  const all = Math.max(1, Math.floor((timeline.durationUs * rateHz) / 1e6));
  const sampleCount = findMostSamples(codec, all, rateHz, ceilings.maxUs);
  if (sampleCount < 1) return null;
  const seconds = sampleCount / rateHz;
  const rawBytes = sampleCount * channels * 2;
  const maxBytes = ceilings.maxBytes ?? Infinity;
  const availableBps = ((maxBytes * AIM_SHARE - TABLE_BYTES) * 8) / seconds;
  const isLossless = codec === 'pcm' || codec === 'flac';
  const steps = STEREO_STEPS_BPS.map((bps) => (bps * channels) / 2);
  const bitrateBps = isLossless ? null : (steps.find((bps) => bps <= availableBps) ?? null);
  if (!isLossless && bitrateBps === null) return null;
  if (codec === 'pcm' && rawBytes + WAV_HEADER_BYTES > maxBytes) return null;
  if (codec === 'flac' && rawBytes * 0.3 > maxBytes) return null;
  const bytes =
    codec === 'pcm'
      ? rawBytes + WAV_HEADER_BYTES
      : codec === 'flac'
        ? Math.min(rawBytes * FLAC_SHARE, maxBytes)
        : ((bitrateBps ?? 0) * seconds) / 8 + TABLE_BYTES / 2;
  return {
    kind: 'sound',
    fileName,
    container,
    recipe: input.recipe,
    maxBytes: ceilings.maxBytes,
    sampleCount,
    prediction: {
      bytes: Math.max(1, Math.round(bytes)),
      durationUs: Math.max(1, measureCodedUs(codec, sampleCount, rateHz)),
    },
    sound: { codec, bitrateBps, channels, rateHz, gainDb: input.recipe.sound.gainDb, isCopied: false },
  };
}
