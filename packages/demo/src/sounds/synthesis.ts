import { writeFile } from 'node:fs/promises';

export const RATE_HZ = 48_000;

/** A pseudo-random generator that gives the same numbers for the same seed (mulberry32). */
export function createRandom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

export function createTrack(durationS: number): Float32Array {
  return new Float32Array(Math.round(durationS * RATE_HZ));
}

/** Adds room noise: low-passed, quiet. */
export function addRoom(track: Float32Array, level: number, seed: number): void {
  const random = createRandom(seed);
  let low = 0;
  for (let index = 0; index < track.length; index += 1) {
    low += (random() * 2 - 1 - low) * 0.05;
    track[index] = (track[index] ?? 0) + low * level * 4;
  }
}

/** A struck wooden bar: fundamental, double octave and the partial at 9.2, each dying away faster. */
export function addBar(track: Float32Array, atS: number, frequencyHz: number, level: number): void {
  const from = Math.round(atS * RATE_HZ);
  for (let index = 0; index < RATE_HZ * 1.6 && from + index < track.length; index += 1) {
    const t = index / RATE_HZ;
    const attack = Math.min(1, index / 60);
    const phase = 2 * Math.PI * frequencyHz * t;
    const tone =
      Math.sin(phase) * Math.exp(-t * 3.4) +
      0.35 * Math.sin(phase * 3.93) * Math.exp(-t * 9) +
      0.12 * Math.sin(phase * 9.24) * Math.exp(-t * 24);
    track[from + index] = (track[from + index] ?? 0) + tone * attack * level;
  }
}

/** A thud or a step: a short burst of low noise. */
export function addThud(track: Float32Array, atS: number, level: number, seed: number): void {
  const random = createRandom(seed);
  const from = Math.round(atS * RATE_HZ);
  let low = 0;
  for (let index = 0; index < RATE_HZ * 0.16 && from + index < track.length; index += 1) {
    low += (random() * 2 - 1 - low) * 0.09;
    track[from + index] = (track[from + index] ?? 0) + low * level * Math.exp((-index / RATE_HZ) * 30) * 3;
  }
}

/** A voice without words: a buzz through three moving resonances (vowel formants), in phrases with pauses. */
export function addVoice(
  track: Float32Array,
  fromS: number,
  toS: number,
  level: number,
  pitchHz: number,
  seed: number,
): void {
  const random = createRandom(seed);
  const vowels = [
    [730, 1090, 2440],
    [270, 2290, 3010],
    [570, 840, 2410],
    [660, 1720, 2410],
    [300, 870, 2240],
  ] as const;
  const states = [
    [0, 0],
    [0, 0],
    [0, 0],
  ];
  let vowel: readonly number[] = vowels[0];
  let until = 0;
  let isSpeaking = true;
  let phase = 0;
  for (let index = Math.round(fromS * RATE_HZ); index < Math.min(track.length, toS * RATE_HZ); index += 1) {
    if (index >= until) {
      isSpeaking = random() > 0.14;
      vowel = vowels[Math.floor(random() * vowels.length)] ?? vowels[0];
      until = index + Math.round((0.11 + random() * 0.2) * RATE_HZ);
    }
    const t = index / RATE_HZ;
    phase += (pitchHz * (1 + 0.09 * Math.sin(t * 1.3) + 0.03 * Math.sin(t * 5.1))) / RATE_HZ;
    if (phase > 1) phase -= 1;
    const buzz = (isSpeaking ? 1 : 0) * ((phase < 0.06 ? 1 : 0) - 0.06) + (random() - 0.5) * 0.004;
    let out = 0;
    states.forEach((state, formant) => {
      const radius = 0.988 - formant * 0.004;
      const value: number =
        buzz +
        2 * radius * Math.cos((2 * Math.PI * (vowel[formant] ?? 500)) / RATE_HZ) * (state[0] ?? 0) -
        radius * radius * (state[1] ?? 0);
      state[1] = state[0] ?? 0;
      state[0] = value;
      out += value * (0.05 / (formant + 1));
    });
    track[index] = (track[index] ?? 0) + out * level;
  }
}

/** Writes a track as 16-bit mono WAV. */
export async function writeWav(path: string, track: Float32Array): Promise<void> {
  const bytes = Buffer.alloc(44 + track.length * 2);
  bytes.write('RIFF', 0, 'latin1');
  bytes.writeUInt32LE(36 + track.length * 2, 4);
  bytes.write('WAVEfmt ', 8, 'latin1');
  bytes.writeUInt32LE(16, 16);
  bytes.writeUInt16LE(1, 20);
  bytes.writeUInt16LE(1, 22);
  bytes.writeUInt32LE(RATE_HZ, 24);
  bytes.writeUInt32LE(RATE_HZ * 2, 28);
  bytes.writeUInt16LE(2, 32);
  bytes.writeUInt16LE(16, 34);
  bytes.write('data', 36, 'latin1');
  bytes.writeUInt32LE(track.length * 2, 40);
  track.forEach((sample, index) =>
    bytes.writeInt16LE(Math.round(Math.max(-1, Math.min(1, sample)) * 32_767), 44 + index * 2),
  );
  await writeFile(path, bytes);
}
