import { chooseSuggestion, LEAST_SUGGEST_CONFIDENCE, suggestPerformances, suggestRange } from '@apodix/core';
import { buildTakeScene, type Performer } from '../../packages/core/src/test-support/take-scene.ts';
import { buildMovementScene } from '../../packages/core/src/test-support/movement-scene.ts';
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

/** From the first to the last moment at which clearly more changes than in the stillest tenth. */
function suggestByChange(change: Float32Array): { startS: number; finishS: number } {
  const still = Float32Array.from(change).sort()[Math.floor(change.length / 10)] ?? 0;
  const isMoving = (value: number) => value > still * 2 + 0.2;
  return {
    startS: change.findIndex(isMoving) / 10,
    finishS: (change.findLastIndex(isMoving) + 1) / 10,
  };
}

function measureExercises(count: number): Row {
  let [answered, right, byChange] = [0, 0, 0];
  for (let seed = 900; seed < 900 + count; seed += 1) {
    const { onsetS, decayS, ...movement } = buildMovementScene(seed);
    const isNear = (startS: number, finishS: number) =>
      Math.abs(startS - onsetS) <= NEAR_S && Math.abs(finishS - decayS) <= NEAR_S;
    const plain = suggestByChange(movement.change);
    if (isNear(plain.startS, plain.finishS)) byChange += 1;
    const durationUs = movement.change.length * movement.stepUs;
    const found = chooseSuggestion(suggestPerformances({ durationUs, sound: null, movement }), 'pe');
    if (!found || found.confidence < LEAST_SUGGEST_CONFIDENCE) continue;
    answered += 1;
    if (isNear(found.startUs / 1e6, found.finishUs / 1e6)) right += 1;
  }
  return {
    performance: 'exercise',
    takes: count,
    answered: share(answered, count),
    'both ends within 0.3 s': share(right, answered),
    'by level alone': share(byChange, count),
  };
}

const share = (part: number, of: number) => `${Math.round((100 * part) / Math.max(1, of))} %`;

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
    const exercises = measureExercises(count * 4);
    rows.push(exercises);
    tell(exercises);
    const title = 'Suggested start and finish (baseline: from the first sustained sound to the last)';
    return Promise.resolve({ tables: [{ title, rows }] });
  },
};
