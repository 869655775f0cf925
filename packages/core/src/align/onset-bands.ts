import { transformFourier } from '../sound/fft.ts';

/** Looks a second; each covers `WINDOW` samples. */
export const ONSET_RATE_HZ = 50;
/** Rate that sound is brought to first: what both microphones have in common lies below half of it. */
export const ALIGN_RATE_HZ = 8000;
const WINDOW = 512;
/** Edges of the bands in Hz, a little more than half an octave each. */
const EDGES_HZ = [90, 140, 210, 320, 480, 720, 1080, 1620, 2400, 3600] as const;

/** How much louder each band of a sound becomes from look to look; rows of `count` looks, one a band. */
export interface OnsetBands {
  readonly count: number;
  readonly bands: readonly Float64Array[];
}

/**
 * Beginnings of sounds, by band: rises of the logarithm of power, which another level, another microphone's
 * color and the room's lasting sound change little. `samples` are mono at 8 kHz.
 */
export function measureOnsetBands(samples: Float32Array): OnsetBands {
  const hop = ALIGN_RATE_HZ / ONSET_RATE_HZ;
  const count = Math.max(0, Math.floor((samples.length - WINDOW) / hop) + 1);
  const bins = EDGES_HZ.map((edge) => Math.round((edge * WINDOW) / ALIGN_RATE_HZ));
  const hann = Float64Array.from(
    { length: WINDOW },
    (_, at) => 0.5 - 0.5 * Math.cos((2 * Math.PI * at) / WINDOW),
  );
  const levels = Array.from({ length: bins.length - 1 }, () => new Float64Array(count));
  const [re, im] = [new Float64Array(WINDOW), new Float64Array(WINDOW)];
  // A little power of its own keeps the logarithm of silence from jumping about.
  const floor = 1e-7 * WINDOW;
  for (let look = 0; look < count; look += 1) {
    const start = look * hop;
    for (let at = 0; at < WINDOW; at += 1) re[at] = (samples[start + at] ?? 0) * (hann[at] ?? 0);
    im.fill(0);
    transformFourier(re, im);
    levels.forEach((level, band) => {
      let power = floor;
      for (let bin = bins[band] ?? 0; bin < (bins[band + 1] ?? 0); bin += 1)
        power += (re[bin] ?? 0) ** 2 + (im[bin] ?? 0) ** 2;
      level[look] = Math.log(power);
    });
  }
  return { count, bands: levels.map(keepRises) };
}

/** Rises against two looks before, smoothed over three, around a mean of 0. */
function keepRises(level: Float64Array): Float64Array {
  const rises = level.map((here, at) => Math.max(0, Math.min(4, here - (level[at - 2] ?? here))));
  const smooth = rises.map((here, at) => ((rises[at - 1] ?? 0) + 2 * here + (rises[at + 1] ?? 0)) / 4);
  const mean = smooth.reduce((sum, each) => sum + each, 0) / Math.max(1, smooth.length);
  return smooth.map((each) => each - mean);
}
