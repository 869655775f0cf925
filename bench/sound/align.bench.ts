import { ALIGN_RATE_HZ, alignSound, correlate, LEAST_ALIGN_CONFIDENCE } from '@apodix/core';
import { createRandom } from '../../packages/core/src/test-support/piece-scene.ts';
import {
  composePerformance,
  recordPerformance,
  type Microphone,
} from '../../packages/core/src/test-support/sound-scene.ts';
import type { Benchmark, Row } from '../benchmark.ts';

interface Kind {
  readonly name: string;
  readonly lengthS: number;
  readonly count: number;
  readonly noiseDb: readonly [number, number];
  readonly isOther?: boolean;
}
const kinds: readonly Kind[] = [
  { name: 'quiet rooms', lengthS: 40, count: 20, noiseDb: [-35, -15] },
  { name: 'noisy halls', lengthS: 40, count: 20, noiseDb: [-15, 0] },
  { name: 'ten minutes', lengthS: 600, count: 3, noiseDb: [-30, -10] },
  { name: 'another performance', lengthS: 40, count: 20, noiseDb: [-35, -15], isOther: true },
];
const percentile = (values: readonly number[], share: number) =>
  [...values].sort((left, right) => left - right)[Math.floor((values.length - 1) * share)] ?? Number.NaN;
const seconds = (work: () => unknown) => {
  const before = process.cpuUsage().user;
  work();
  return (process.cpuUsage().user - before) / 1e6;
};

/** How exactly separate sound is laid on that of a picture, on takes whose truth is known. */
export const alignBenchmark: Benchmark = {
  name: 'align',
  isShort: true,
  run: (isLong, tell) => {
    const rows: Row[] = [];
    for (const { name, lengthS, count, noiseDb, isOther } of kinds) {
      const random = createRandom(lengthS + count + noiseDb[0]);
      const between = (low: number, high: number) => low + random() * (high - low);
      const [errors, drifts, ratios]: [number[], number[], number[]] = [[], [], []];
      let sure = 0;
      const all = count * (isLong ? 3 : 1);
      for (let index = 0; index < all; index += 1) {
        const microphone = (startS: number, clockPpm: number): Microphone => ({
          seed: Math.floor(random() * 1e9),
          startS,
          lengthS: lengthS * between(0.8, 1.1),
          clockPpm,
          echoS: between(0.1, 1.6),
          echoShare: between(0.2, 2),
          noiseDb: between(...noiseDb),
          gain: between(0.02, 0.9),
        });
        const [own, other] = [microphone(between(0, 12), 0), microphone(between(-8, 14), between(-80, 80))];
        const played = composePerformance(index + 1, lengthS * 1.2 + 12);
        const second = isOther ? composePerformance(index + 5000, lengthS * 1.2 + 12) : played;
        const picture = recordPerformance(played, own, ALIGN_RATE_HZ);
        const sound = recordPerformance(second, other, ALIGN_RATE_HZ);
        let found: ReturnType<typeof alignSound> = null;
        const took = seconds(() => (found = alignSound(picture, sound)));
        const plain = seconds(() => correlate(sound, picture, picture.length));
        ratios.push(took / Math.max(1e-3, plain));
        const { offsetUs, driftPpm, confidence } = (found as ReturnType<typeof alignSound>) ?? {
          offsetUs: 0,
          driftPpm: 0,
          confidence: 0,
        };
        if (confidence < LEAST_ALIGN_CONFIDENCE) continue;
        sure += 1;
        errors.push(Math.abs(offsetUs / 1000 - (other.startS - own.startS) * 1000));
        drifts.push(Math.abs(driftPpm + other.clockPpm));
      }
      const row = {
        takes: name,
        count: all,
        'taken to belong': sure,
        'within 5 ms': isOther ? 'none should be' : errors.filter((error) => error <= 5).length,
        'worst, ms': isOther ? '' : Number(Math.max(...errors).toFixed(2)),
        'drift off by, ppm (median)': isOther ? '' : Number(percentile(drifts, 0.5).toFixed(1)),
        'times one correlation': Number(percentile(ratios, 0.5).toFixed(2)),
      };
      rows.push(row);
      tell(row);
    }
    const title = 'Separate sound laid on a picture (baseline of time: one correlation of the whole waves)';
    return Promise.resolve({ tables: [{ title, rows }] });
  },
};
