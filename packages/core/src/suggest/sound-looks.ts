import { transformFourier } from '../sound/fft.ts';

/** Mono samples a second that looks are taken of. */
export const LOOK_RATE_HZ = 8000;
export const LOOKS_PER_SECOND = 50;
const HOP = LOOK_RATE_HZ / LOOKS_PER_SECOND;
/** An eighth of a second: long enough to tell two notes apart, short enough for a syllable. */
const WINDOW = 1024;
/** Below lie steps, knocks and the hum of the room; notes and voices have overtones above. */
const LOW_BIN = 20;
const HIGH_BIN = 440;
const LOW_HZ = 170;
/** Points of a spectrum that count as its peaks. */
const PEAKS = 8;
/** A peak that stays within this many bins from look to look is held. */
const HELD_BINS = 0.45;

/** What a fiftieth of a second sounds like. */
export interface SoundLooks {
  readonly count: number;
  /** Level of a fiftieth of a second above 170 Hz, dB below full scale. */
  readonly levelDb: Float32Array;
  /** Share of the power in narrow peaks that hold their pitch, 0 to 1: notes, not words. */
  readonly held: Float32Array;
  /** Geometric by arithmetic mean of the power, 0 a tone, 1 noise. */
  readonly flatness: Float32Array;
  /** The strongest held pitch in semitones above 55 Hz; NaN where none is. */
  readonly pitch: Float32Array;
}

interface Peak {
  readonly bin: number;
  readonly power: number;
}

/** Takes looks of mono samples (−1 to 1) at 8 kHz, each around the middle of its fiftieth of a second. */
export function takeSoundLooks(samples: Float32Array): SoundLooks {
  const count = Math.floor(samples.length / HOP);
  const make = () => new Float32Array(count);
  const looks = { levelDb: make(), held: make(), flatness: make(), pitch: make() };
  const hann = Float64Array.from(
    { length: WINDOW },
    (_, at) => 0.5 - 0.5 * Math.cos((2 * Math.PI * at) / WINDOW),
  );
  const [re, im] = [new Float64Array(WINDOW), new Float64Array(WINDOW)];
  const power = new Float64Array(WINDOW / 2);
  const high = cutLow(samples);
  // Two looks back: neighbours share most of their samples, and would agree on anything.
  let [last, before]: [readonly Peak[], readonly Peak[]] = [[], []];
  for (let look = 0; look < count; look += 1) {
    looks.levelDb[look] = measureLevel(high, look * HOP, HOP);
    const start = look * HOP + HOP / 2 - WINDOW / 2;
    for (let at = 0; at < WINDOW; at += 1) re[at] = (samples[start + at] ?? 0) * (hann[at] ?? 0);
    im.fill(0);
    transformFourier(re, im);
    let [sum, logs] = [0, 0];
    for (let bin = LOW_BIN; bin < HIGH_BIN; bin += 1) {
      const own = (re[bin] ?? 0) ** 2 + (im[bin] ?? 0) ** 2 + 1e-12;
      power[bin] = own;
      sum += own;
      logs += Math.log(own);
    }
    looks.flatness[look] = Math.exp(logs / (HIGH_BIN - LOW_BIN)) / (sum / (HIGH_BIN - LOW_BIN));
    const peaks = findPeaks(power);
    const kept = peaks.filter(({ bin }) => before.some((other) => Math.abs(other.bin - bin) < HELD_BINS));
    // A peak's main lobe holds its power in about four bins.
    looks.held[look] = Math.min(1, kept.reduce((all, peak) => all + 2.4 * peak.power, 0) / sum);
    const [strongest] = kept;
    const hz = ((strongest?.bin ?? 0) * LOOK_RATE_HZ) / WINDOW;
    looks.pitch[look] = strongest ? 12 * Math.log2(hz / 55) : Number.NaN;
    [before, last] = [last, peaks];
  }
  return { count, ...looks };
}

/** Second-order Butterworth high pass, by the bilinear transform. */
function cutLow(samples: Float32Array): Float32Array {
  const k = Math.tan((Math.PI * LOW_HZ) / LOOK_RATE_HZ);
  const norm = 1 / (1 + Math.SQRT2 * k + k * k);
  const [a1, a2] = [2 * (k * k - 1) * norm, (1 - Math.SQRT2 * k + k * k) * norm];
  const out = new Float32Array(samples.length);
  let [x1, x2, y1, y2] = [0, 0, 0, 0];
  for (let at = 0; at < samples.length; at += 1) {
    const x = samples[at] ?? 0;
    const y = norm * (x - 2 * x1 + x2) - a1 * y1 - a2 * y2;
    [x2, x1, y2, y1] = [x1, x, y1, y];
    out[at] = y;
  }
  return out;
}

function measureLevel(samples: Float32Array, from: number, length: number): number {
  let power = 0;
  for (let at = from; at < from + length; at += 1) power += (samples[at] ?? 0) ** 2;
  return 10 * Math.log10(power / length + 1e-12);
}

/** The strongest narrow peaks, strongest first, between bins by a parabola through their logarithms. */
function findPeaks(power: Float64Array): Peak[] {
  const peaks: Peak[] = [];
  for (let bin = LOW_BIN + 1; bin < HIGH_BIN - 1; bin += 1) {
    const [left, here, right] = [power[bin - 1] ?? 0, power[bin] ?? 0, power[bin + 1] ?? 0];
    if (here < left || here <= right) continue;
    // Narrow: four bins off nothing of it is left.
    if (here < 12 * Math.max(power[bin - 4] ?? 0, power[bin + 4] ?? 0)) continue;
    const [a, b, c] = [Math.log(left + 1e-12), Math.log(here), Math.log(right + 1e-12)];
    const bend = a - 2 * b + c;
    peaks.push({ bin: bin + (bend < 0 ? (0.5 * (a - c)) / bend : 0), power: here });
  }
  return peaks.sort((left, right) => right.power - left.power).slice(0, PEAKS);
}
