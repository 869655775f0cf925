import { createRandom } from './piece-scene.ts';

/** One performance as a microphone somewhere in the room hears it. */
export interface Microphone {
  readonly seed: number;
  /** Seconds of the performance before which it was switched on; below 0 it was on earlier. */
  readonly startS: number;
  readonly lengthS: number;
  /** Its clock: at 50 it takes 50 millionths more samples a second than it says. */
  readonly clockPpm: number;
  /** Time in which the room's echo falls by 60 dB, and its share. */
  readonly echoS: number;
  readonly echoShare: number;
  /** Noise against the performance, dB. */
  readonly noiseDb: number;
  readonly gain: number;
}

/** A struck or sung note, or a syllable. */
interface Sounding {
  readonly atS: number;
  readonly lengthS: number;
  readonly kind: 'struck' | 'sung' | 'noise';
  readonly frequencyHz: number;
  readonly level: number;
}

const SCALE_HZ = [196, 220, 246.9, 261.6, 293.7, 329.6, 392, 440, 493.9, 523.3, 587.3, 659.3];

/** A performance of uneven notes, sung lines or syllables with pauses; the same for the same seed. */
export function composePerformance(seed: number, lengthS: number): readonly Sounding[] {
  const random = createRandom(seed);
  const kinds = (['struck', 'sung', 'noise'] as const)[Math.floor(random() * 3)] ?? 'struck';
  const beatS = 0.18 + random() * 0.3;
  const soundings: Sounding[] = [];
  for (let atS = 0.2; atS < lengthS;) {
    const kind = random() < 0.75 ? kinds : 'struck';
    soundings.push({
      atS,
      lengthS: beatS * (0.6 + random() * 1.6),
      kind,
      frequencyHz: SCALE_HZ[Math.floor(random() * SCALE_HZ.length)] ?? 220,
      level: 0.25 + random() * 0.75,
    });
    atS += beatS * (0.85 + 0.3 * random()) * (random() < 0.1 ? 4 : random() < 0.4 ? 0.5 : 1);
  }
  return soundings;
}

/**
 * What a microphone records of a performance, mono, −1 to 1, at `rateHz`: written at the very times of its
 * own clock, so that offset and drift are exact; then echo (decaying noise) and noise of its own.
 */
export function recordPerformance(
  performance: readonly Sounding[],
  microphone: Microphone,
  rateHz: number,
): Float32Array {
  const { startS, lengthS, clockPpm, gain } = microphone;
  const random = createRandom(microphone.seed);
  const count = Math.round(lengthS * rateHz);
  const dry = new Float64Array(count);
  // Real seconds between samples that are called one part of a second.
  const stepS = 1 / (rateHz * (1 + clockPpm * 1e-6));
  performance.forEach((sounding, index) => addSounding(dry, sounding, index, startS, stepS));
  const wet = addEcho(dry, microphone, rateHz, random);
  let power = 0;
  for (const sample of wet) power += sample * sample;
  const noise = Math.sqrt(power / count) * 10 ** (microphone.noiseDb / 20);
  return Float32Array.from(
    wet,
    (sample) => gain * (sample + noise * (random() + random() + random() - 1.5) * 2),
  );
}

function addSounding(
  out: Float64Array,
  { atS, lengthS, kind, frequencyHz, level }: Sounding,
  index: number,
  startS: number,
  stepS: number,
): void {
  const from = Math.max(0, Math.ceil((atS - startS) / stepS));
  const to = Math.min(out.length, Math.ceil((atS + lengthS * (kind === 'struck' ? 2 : 1) - startS) / stepS));
  // Noise that both microphones hear alike: a sum of many tones that do not belong together.
  const random = createRandom(index * 7919 + 13);
  const partials =
    kind === 'noise'
      ? Array.from({ length: 24 }, () => [300 + random() * 2800, 0.25, random() * 6.28] as const)
      : Array.from(
          { length: 6 },
          (_, harmonic) => [frequencyHz * (harmonic + 1), 0.5 / (harmonic + 1), 0] as const,
        );
  for (let at = from; at < to; at += 1) {
    const t = startS + at * stepS - atS;
    const attack = Math.min(1, t / (kind === 'struck' ? 0.004 : 0.05));
    const decay = kind === 'struck' ? Math.exp(-5 * t) : Math.min(1, (lengthS - t) / 0.06);
    let sum = 0;
    for (const [hz, share, phase] of partials) sum += share * Math.sin(2 * Math.PI * hz * t + phase);
    out[at] = (out[at] ?? 0) + level * attack * Math.max(0, decay) * sum * 0.3;
  }
}

/** Echo as a few hundred late copies that fall off with time. */
function addEcho(
  dry: Float64Array,
  { echoS, echoShare }: Microphone,
  rateHz: number,
  random: () => number,
): Float64Array {
  const wet = Float64Array.from(dry);
  if (echoS <= 0 || echoShare <= 0) return wet;
  const copies = 60;
  for (let copy = 0; copy < copies; copy += 1) {
    const delayS = 0.006 + random() * echoS * 0.8;
    const delay = Math.round(delayS * rateHz);
    const share = (echoShare * (random() * 2 - 1) * 10 ** ((-3 * delayS) / echoS)) / 3;
    for (let at = delay; at < wet.length; at += 1) wet[at] = (wet[at] ?? 0) + share * (dry[at - delay] ?? 0);
  }
  return wet;
}
