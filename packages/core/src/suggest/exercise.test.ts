import { expect, it } from 'vitest';
import { buildMovementScene } from '../test-support/movement-scene.ts';
import { chooseSuggestion, LEAST_SUGGEST_CONFIDENCE, suggestPerformances } from './suggest-performance.ts';

const NEAR_S = 0.3;

it('an exercise is told from walking to its place and to the camera, in 9 of 10 takes and more', () => {
  let [answered, right] = [0, 0];
  for (let seed = 1; seed <= 60; seed += 1) {
    const { onsetS, decayS, ...movement } = buildMovementScene(seed);
    const durationUs = movement.change.length * movement.stepUs;
    const found = chooseSuggestion(suggestPerformances({ durationUs, sound: null, movement }), 'pe');
    if (!found || found.confidence < LEAST_SUGGEST_CONFIDENCE) continue;
    answered += 1;
    const isNear = (us: number, s: number) => Math.abs(us / 1e6 - s) <= NEAR_S;
    if (isNear(found.startUs, onsetS) && isNear(found.finishUs, decayS)) right += 1;
  }
  expect(answered).toBeGreaterThanOrEqual(51);
  expect(right / answered).toBeGreaterThanOrEqual(0.9);
});
