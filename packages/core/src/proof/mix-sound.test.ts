import { describe, expect, it } from 'vitest';
import { COURSE_RATE_HZ, type SoundEvidence } from '../series/evidence.ts';
import { mixSoundEvidence } from './mix-sound.ts';

/** A tone of so many seconds, with its level in steps of half a decibel below full scale. */
function tone(hz: number, amplitude: number, startUs: number, seconds = 4): SoundEvidence {
  const step = Math.round(-20 * Math.log10(amplitude / Math.SQRT2) * 2);
  const levels = new Uint8Array(seconds * 100).fill(step);
  return {
    startUs,
    sides: 1,
    levelLeft: levels,
    levelRight: levels,
    course: Int16Array.from({ length: seconds * COURSE_RATE_HZ }, (_, at) =>
      Math.round(32_767 * amplitude * Math.sin(2 * Math.PI * hz * (at / COURSE_RATE_HZ + startUs / 1e6))),
    ),
  };
}

describe('a recording over the own sound of a take', () => {
  it('adds powers of sounds that know nothing of each other', () => {
    const { evidence, moreLu } = mixSoundEvidence(tone(700, 0.2, 0), tone(1100, 0.2, 0), 0);
    expect(moreLu).toBeCloseTo(0, 1);
    // Twice the power: 3 dB, six steps less below full scale.
    expect((tone(700, 0.2, 0).levelLeft[50] ?? 0) - (evidence.levelLeft[50] ?? 0)).toBe(6);
  });

  it('is 3 LU louder than its powers where both are the same sound in step, wherever each began', () => {
    const { moreLu, evidence } = mixSoundEvidence(tone(700, 0.2, 500_000, 3), tone(700, 0.2, 0), 0);
    expect(moreLu).toBeCloseTo(10 * Math.log10(2), 1);
    const peak = evidence.course.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
    expect(peak / 32_767).toBeCloseTo(0.4, 2);
  });

  it('is nearly nothing where one undoes the other, and by the gain where it is under it', () => {
    const half = 1e6 / 700 / 2;
    const against = { ...tone(700, 0.18, 0), course: tone(700, 0.18, half).course };
    expect(mixSoundEvidence(tone(700, 0.2, 0), against, 0).moreLu).toBeCloseTo(
      10 * Math.log10(0.02 ** 2 / (0.2 ** 2 + 0.18 ** 2)),
      0,
    );
    const { moreLu } = mixSoundEvidence(tone(700, 0.2, 0), tone(700, 0.2, 0), -20);
    expect(moreLu).toBeCloseTo(20 * Math.log10(1.1) - 10 * Math.log10(1.01), 1);
  });
});
