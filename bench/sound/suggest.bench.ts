import { chooseSuggestion, LEAST_SUGGEST_CONFIDENCE, suggestPerformances, suggestRange } from '@apodix/core';
import { buildTakeScene, type Performer } from '../../packages/core/src/test-support/take-scene.ts';
import type { Benchmark, Row } from '../benchmark.ts';

const RATE_HZ = 8000;
const PEAKS_PER_SECOND = 20;
const NEAR_S = 0.3;
const performers: readonly Performer[] = ['struck', 'bowed', 'sung', 'spoken'];
const [SHORT, LONG] = [25, 120];

/** The same takes by level alone: from the first sustained sound to the last, without its margins. */
function suggestByPeaks(samples: Float32Array): { startS: number; finishS: number } {
  const size = RATE_HZ / PEAKS_PER_SECOND;
  const peaks = Array.from({ length: Math.ceil(samples.length / size) }, (_, column) =>
    samples
      .subarray(column * size, (column + 1) * size)
      .reduce((most, each) => Math.max(most, Math.abs(each)), 0),
  );
  const durationUs = (samples.length / RATE_HZ) * 1e6;
  const sound = { columnsPerSecond: PEAKS_PER_SECOND, peaks };
  const { range } = suggestRange(durationUs, sound, { minUs: null, maxUs: null });
  const isCut = range.finishUs < durationUs;
  return {
    startS: range.startUs === 0 ? 0 : range.startUs / 1e6 + 0.5,
    finishS: range.finishUs / 1e6 - (isCut ? 1 : 0),
  };
}

/** How often start and finish are found with talk, steps, chairs, tuning and applause around them. */
export const suggestBenchmark: Benchmark = {
  name: 'suggest',
  isShort: true,
  run: (isLong, tell) => {
    const rows: Row[] = [];
    const count = isLong ? LONG : SHORT;
    for (const performer of performers) {
      let [answered, right, byLevel] = [0, 0, 0];
      for (let seed = 500; seed < 500 + count; seed += 1) {
        const { samples, onsetS, decayS } = buildTakeScene(seed, performer, 20, RATE_HZ);
        const isNear = (startS: number, finishS: number) =>
          Math.abs(startS - onsetS) <= NEAR_S && Math.abs(finishS - decayS) <= NEAR_S;
        const plain = suggestByPeaks(samples);
        if (isNear(plain.startS, plain.finishS)) byLevel += 1;
        const durationUs = (samples.length / RATE_HZ) * 1e6;
        const spans = suggestPerformances({ durationUs, sound: samples, movement: null });
        const found = chooseSuggestion(spans, performer === 'spoken' ? 'drama' : 'music');
        if (!found || found.confidence < LEAST_SUGGEST_CONFIDENCE) continue;
        answered += 1;
        if (isNear(found.startUs / 1e6, found.finishUs / 1e6)) right += 1;
      }
      const share = (part: number, of: number) => `${Math.round((100 * part) / Math.max(1, of))} %`;
      const row = {
        performance: performer,
        takes: count,
        answered: share(answered, count),
        'both ends within 0.3 s': share(right, answered),
        'by level alone': share(byLevel, count),
      };
      rows.push(row);
      tell(row);
    }
    const title = 'Suggested start and finish (baseline: from the first sustained sound to the last)';
    return Promise.resolve({ tables: [{ title, rows }] });
  },
};
