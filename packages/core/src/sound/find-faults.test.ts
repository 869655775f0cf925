import { describe, expect, it } from 'vitest';
import { findSoundFaults } from './find-faults.ts';
import { designMending, filterSound } from './mend-course.ts';

const RATE = 8000;
const levels = { left: [-20, -22], right: [-21, -23] };
type Tone = readonly [hz: number, amplitude: number];

/** Notes that come and go, with tones and noise that stay. */
function play(seconds: number, tones: readonly Tone[], isMusic = true): Float32Array {
  let state = 12_345;
  return Float32Array.from({ length: seconds * RATE }, (_, at) => {
    const t = at / RATE;
    state = (Math.imul(state, 1_103_515_245) + 12_345) & 0x7fffffff;
    const noise = (state / 0x3fffffff - 1) * 0.0006;
    const note =
      isMusic && t % 3 < 1.8 ? 0.2 * Math.sin(2 * Math.PI * (196 + 24 * Math.floor(t / 3)) * t) : 0;
    return (
      note +
      noise +
      tones.reduce((sum, [hz, amplitude]) => sum + amplitude * Math.sin(2 * Math.PI * hz * t), 0)
    );
  });
}
/** Level of one tone, in dB below full scale of a sine. */
function readTone(samples: Float32Array, hz: number): number {
  let [re, im] = [0, 0];
  samples.forEach((value, at) => {
    re += value * Math.cos((2 * Math.PI * hz * at) / RATE);
    im += value * Math.sin((2 * Math.PI * hz * at) / RATE);
  });
  return 20 * Math.log10((2 * Math.hypot(re, im)) / samples.length + 1e-9);
}
const sine = (hz: number) =>
  Float32Array.from({ length: 4 * RATE }, (_, at) => Math.sin((2 * Math.PI * hz * at) / RATE));

describe('faults of a sound', () => {
  it.each([50, 60] as const)('hum of %i Hz is found under music, with what taking it out leaves', (humHz) => {
    const hum: Tone[] = [
      [humHz, 0.01],
      [2 * humHz, 0.004],
      [3 * humHz, 0.006],
      [5 * humHz, 0.003],
    ];
    const found = findSoundFaults(play(20, hum), RATE, levels).hum;
    expect(found?.humHz).toBe(humHz);
    // 20 log 0.01 − 3 dB for a sine, and a little for its harmonics.
    expect(Math.abs((found?.beforeDb ?? 0) - -41)).toBeLessThan(1.5);
    expect((found?.beforeDb ?? 0) - (found?.afterDb ?? 0)).toBeGreaterThan(20);
  });

  it('low notes are no hum, and no rumble', () => {
    const low = play(
      20,
      [
        [98, 0.05],
        [196, 0.03],
      ],
      false,
    );
    expect(findSoundFaults(low, RATE, levels)).toEqual({ hum: null, rumbleDb: null, goodSide: null });
    expect(findSoundFaults(play(20, []), RATE, levels).hum).toBeNull();
  });

  it('rumble is found where it stands out', () => {
    const found = findSoundFaults(
      play(20, [
        [17, 0.02],
        [24, 0.02],
      ]),
      RATE,
      levels,
    );
    expect(found.rumbleDb ?? -99).toBeGreaterThan(-42);
  });

  it('one side that is all but silent is told, a quieter one is not', () => {
    const sound = play(4, []);
    expect(findSoundFaults(sound, RATE, { left: [-22, -20], right: [-70, -72] }).goodSide).toBe('left');
    expect(findSoundFaults(sound, RATE, { left: [-80, -75], right: [-30, -28] }).goodSide).toBe('right');
    expect(findSoundFaults(sound, RATE, { left: [-22, -20], right: [-32, -31] }).goodSide).toBeNull();
    expect(findSoundFaults(sound, RATE, { left: [-22], right: null }).goodSide).toBeNull();
  });

  it('of silence and of a moment are none', () => {
    expect(findSoundFaults(new Float32Array(40_000), RATE, levels)).toEqual({
      hum: null,
      rumbleDb: null,
      goodSide: null,
    });
    expect(findSoundFaults(play(1, [[50, 0.1]]), RATE, levels).hum).toBeNull();
  });
});

describe('mending', () => {
  it('takes out the mains and its harmonics, and nothing between them', () => {
    const sections = designMending({ isRumbleCut: false, humHz: 50 }, RATE);
    const change = (hz: number) => readTone(filterSound(sine(hz), sections).subarray(2 * RATE), hz);
    for (const hz of [50, 100, 350]) expect(change(hz)).toBeLessThan(-40);
    for (const hz of [75, 175, 440, 1000]) expect(change(hz)).toBeGreaterThan(-1);
  });

  it('takes out what lies below the lowest notes', () => {
    const sections = designMending({ isRumbleCut: true, humHz: null }, RATE);
    const change = (hz: number) => readTone(filterSound(sine(hz), sections).subarray(2 * RATE), hz);
    // A Butterworth high pass of fourth order: half the power at its edge, 24 dB an octave below it.
    expect(change(38)).toBeCloseTo(-3.01, 1);
    expect(change(19)).toBeCloseTo(-24.1, 0);
    expect(change(82)).toBeGreaterThan(-0.1);
  });
});
