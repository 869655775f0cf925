import { z } from 'zod';
import { transformFourier } from './fft.ts';
import { designMending, filterSound, HUM_HARMONICS } from './mend-course.ts';

/** Hum of the mains in a sound, in dB below full scale: as it is, and with its harmonics taken out. */
export const FoundHum = z.object({
  humHz: z.union([z.literal(50), z.literal(60)]),
  beforeDb: z.number(),
  afterDb: z.number(),
});
export type FoundHum = z.infer<typeof FoundHum>;

export const SoundFaults = z.object({
  hum: FoundHum.nullable(),
  /** Level below 38 Hz in quiet places, where it stands out; null where it does not. */
  rumbleDb: z.number().nullable(),
  /** The side that has the sound where the other has hardly any. */
  goodSide: z.enum(['left', 'right']).nullable(),
});
export type SoundFaults = z.infer<typeof SoundFaults>;

/** Length of a window: half a hertz apart at 8 kHz. */
const WINDOW = 16_384;
const MOST_WINDOWS = 24;
/** So much must a harmonic stand out of its surroundings, and so many must. */
const LEAST_PEAK_DB = 12;
const LEAST_HARMONICS = 3;
/** Quieter hum is heard by nobody. */
const LEAST_HUM_DB = -72;
const LEAST_RUMBLE_DB = -56;
/** So much louder than what lies above it has low noise to be. */
const RUMBLE_OVER_DB = 10;
/** One side may be so much quieter before it counts as lost. */
const LOST_SIDE_DB = 24;

const toDb = (power: number) => 10 * Math.log10(power + 1e-14);

/**
 * Faults of a sound that mending can take out. `course` is both sides mixed to one, −1 to 1; levels are in dB
 * of hundredths of a second. Hum and rumble are looked for in the quietest quarter, where no note hides them.
 */
export function findSoundFaults(
  course: Float32Array,
  rateHz: number,
  levels: { readonly left: ArrayLike<number>; readonly right: ArrayLike<number> | null },
): SoundFaults {
  const spectrum = averageQuiet(course);
  return {
    hum: spectrum && findHum(spectrum, rateHz, course),
    rumbleDb: spectrum && findRumble(spectrum, rateHz),
    goodSide: levels.right ? findGoodSide(levels.left, levels.right) : null,
  };
}

/** Power of each frequency over the quietest quarter of the windows; null where it is too short. */
function averageQuiet(course: Float32Array): Float64Array | null {
  const count = Math.floor(course.length / WINDOW);
  if (count < 1) return null;
  const powers = Array.from({ length: count }, (_, index) => {
    let sum = 0;
    for (let at = index * WINDOW; at < (index + 1) * WINDOW; at += 4) sum += (course[at] ?? 0) ** 2;
    return { index, sum };
  });
  // Digital silence tells nothing.
  const heard = powers.filter((each) => each.sum > 1e-9).sort((left, right) => left.sum - right.sum);
  const chosen = heard.slice(0, Math.min(MOST_WINDOWS, Math.max(1, Math.ceil(heard.length / 4))));
  if (chosen.length === 0) return null;
  const mean = new Float64Array(WINDOW / 2);
  for (const { index } of chosen) {
    const [re, im] = [new Float64Array(WINDOW), new Float64Array(WINDOW)];
    for (let at = 0; at < WINDOW; at += 1)
      re[at] = (course[index * WINDOW + at] ?? 0) * (0.5 - 0.5 * Math.cos((2 * Math.PI * at) / WINDOW));
    transformFourier(re, im);
    for (let bin = 0; bin < WINDOW / 2; bin += 1)
      // The window takes 3/8 of the power; both halves of the spectrum count.
      mean[bin] =
        (mean[bin] ?? 0) +
        (2 * ((re[bin] ?? 0) ** 2 + (im[bin] ?? 0) ** 2)) / (WINDOW * WINDOW * 0.375) / chosen.length;
  }
  return mean;
}

function sumBand(spectrum: Float64Array, fromHz: number, toHz: number, rateHz: number): number {
  const bin = (hz: number) => Math.round((hz * WINDOW) / rateHz);
  let sum = 0;
  for (let at = Math.max(1, bin(fromHz)); at <= Math.min(spectrum.length - 1, bin(toHz)); at += 1)
    sum += spectrum[at] ?? 0;
  return sum;
}

function findHum(spectrum: Float64Array, rateHz: number, course: Float32Array): FoundHum | null {
  const found = ([50, 60] as const).map((humHz) => {
    let [peaks, power] = [0, 0];
    for (let harmonic = 1; harmonic <= HUM_HARMONICS; harmonic += 1) {
      const hz = humHz * harmonic;
      const own = sumBand(spectrum, hz - 1, hz + 1, rateHz);
      const around =
        (sumBand(spectrum, hz - 9, hz - 3, rateHz) + sumBand(spectrum, hz + 3, hz + 9, rateHz)) / 6;
      if (toDb(own) - toDb(around) < LEAST_PEAK_DB) continue;
      peaks += 1;
      power += own;
    }
    return { humHz, peaks, power };
  });
  const best = found.reduce((left, right) => (right.power > left.power ? right : left));
  if (best.peaks < LEAST_HARMONICS || toDb(best.power) < LEAST_HUM_DB) return null;
  const { humHz } = best;
  const mended = filterSound(course, designMending({ isRumbleCut: false, humHz }, rateHz));
  const after = averageQuiet(mended);
  const rest = after ? sumHarmonics(after, humHz, rateHz) : 0;
  return { humHz, beforeDb: toDb(sumHarmonics(spectrum, humHz, rateHz)), afterDb: toDb(rest) };
}

function sumHarmonics(spectrum: Float64Array, humHz: number, rateHz: number): number {
  let power = 0;
  for (let harmonic = 1; harmonic <= HUM_HARMONICS; harmonic += 1)
    power += sumBand(spectrum, humHz * harmonic - 1, humHz * harmonic + 1, rateHz);
  return power;
}

function findRumble(spectrum: Float64Array, rateHz: number): number | null {
  const low = toDb(sumBand(spectrum, 5, 36, rateHz));
  const above = toDb(sumBand(spectrum, 45, 80, rateHz));
  return low >= LEAST_RUMBLE_DB && low - above >= RUMBLE_OVER_DB ? low : null;
}

function findGoodSide(left: ArrayLike<number>, right: ArrayLike<number>): 'left' | 'right' | null {
  const power = (levels: ArrayLike<number>) => {
    let sum = 0;
    for (let at = 0; at < levels.length; at += 1) sum += 10 ** ((levels[at] ?? -120) / 10);
    return toDb(sum / Math.max(1, levels.length));
  };
  const [own, other] = [power(left), power(right)];
  if (Math.abs(own - other) < LOST_SIDE_DB || Math.max(own, other) < -60) return null;
  return own > other ? 'left' : 'right';
}
