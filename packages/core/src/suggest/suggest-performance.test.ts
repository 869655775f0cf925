import { describe, expect, it } from 'vitest';
import { createRandom } from '../test-support/piece-scene.ts';
import { buildTakeScene, type Performer } from '../test-support/take-scene.ts';
import { LOOK_RATE_HZ } from './sound-looks.ts';
import { chooseSuggestion, LEAST_SUGGEST_CONFIDENCE, suggestPerformances } from './suggest-performance.ts';

const suggest = (sound: Float32Array) =>
  suggestPerformances({ durationUs: (sound.length / LOOK_RATE_HZ) * 1e6, sound, movement: null });

describe('where a performance begins and ends', () => {
  it.each<[Performer, 'music' | 'drama']>([
    ['struck', 'music'],
    ['bowed', 'music'],
    ['sung', 'music'],
    ['spoken', 'drama'],
  ])('is found to 0.3 s in nine of ten takes, whatever is around it: %s', (performer, subject) => {
    const wrong: string[] = [];
    let answered = 0;
    for (let seed = 1; seed <= 10; seed += 1) {
      const { samples, onsetS, decayS, story } = buildTakeScene(seed, performer, 12, LOOK_RATE_HZ);
      const found = chooseSuggestion(suggest(samples), subject);
      if (!found || found.confidence < LEAST_SUGGEST_CONFIDENCE) continue;
      answered += 1;
      const off = [found.startUs / 1e6 - onsetS, found.finishUs / 1e6 - decayS];
      if (off.some((each) => Math.abs(each) > 0.3)) wrong.push(`${seed} ${story} ${off.join(' ')}`);
    }
    expect(answered).toBeGreaterThanOrEqual(9);
    expect(wrong.length, wrong.join('; ')).toBeLessThanOrEqual(1);
  });

  it('is not surely told where there is nothing but the room', () => {
    const random = createRandom(4);
    const noise = Float32Array.from({ length: LOOK_RATE_HZ * 8 }, () => (random() - 0.5) * 0.01);
    for (const each of suggest(noise)) expect(each.confidence).toBeLessThan(LEAST_SUGGEST_CONFIDENCE);
    expect(suggest(new Float32Array(100))).toEqual([]);
  });

  it('without a subject goes by what there is most of', () => {
    const music = buildTakeScene(3, 'bowed', 12, LOOK_RATE_HZ).samples;
    const words = buildTakeScene(3, 'spoken', 12, LOOK_RATE_HZ).samples;
    expect(chooseSuggestion(suggest(music), null)?.subject).toBe('music');
    expect(chooseSuggestion(suggest(words), null)?.subject).toBe('drama');
  });

  /** A spoken scene in a room, and what moves: at the camera, and from a time to a time. */
  function playScene(seed: number, gestures: (onsetS: number, decayS: number) => readonly [number, number]) {
    const { samples, onsetS, decayS } = buildTakeScene(seed, 'spoken', 12, LOOK_RATE_HZ);
    const random = createRandom(seed);
    const [beforeS, afterS] = [7, 6];
    const sound = new Float32Array(samples.length + (beforeS + afterS) * LOOK_RATE_HZ);
    for (let at = 0; at < sound.length; at += 1) sound[at] = (random() - 0.5) * 0.002;
    sound.set(samples, beforeS * LOOK_RATE_HZ);
    const lengthS = sound.length / LOOK_RATE_HZ;
    const [fromS, toS] = gestures(beforeS + onsetS, beforeS + decayS);
    const change = Float32Array.from({ length: Math.floor(lengthS * 10) }, (_, step) => {
      const atS = step / 10;
      const isWalking = (atS > 0.1 && atS < 2) || atS > lengthS - 1.2;
      const isActing = atS >= fromS && atS < toS;
      return 0.4 + random() * 0.1 + (isWalking ? 2 * random() : 0) + (isActing ? 1.5 + 3 * random() : 0);
    });
    const spans = suggestPerformances({
      durationUs: lengthS * 1e6,
      sound,
      movement: { stepUs: 100_000, change },
    });
    const found = chooseSuggestion(spans, 'drama');
    return { found, onsetS: beforeS + onsetS, decayS: beforeS + decayS };
  }
  it('drama opens and closes with gestures where they belong to the scene', () => {
    let right = 0;
    for (let seed = 1; seed <= 10; seed += 1) {
      const { found, onsetS, decayS } = playScene(seed, (on, off) => [on - 2.5, off + 1.8]);
      const off = [
        (found?.startUs ?? 0) / 1e6 - (onsetS - 2.5),
        (found?.finishUs ?? 0) / 1e6 - (decayS + 1.8),
      ];
      if (off.every((each) => Math.abs(each) <= 0.3)) right += 1;
    }
    expect(right).toBeGreaterThanOrEqual(9);
    // Somebody who comes from the camera, stands, and then speaks while moving: the words begin it.
    let spoken = 0;
    for (let seed = 1; seed <= 10; seed += 1) {
      const { found, onsetS, decayS } = playScene(seed, (on, off) => [on, off]);
      const off = [(found?.startUs ?? 0) / 1e6 - onsetS, (found?.finishUs ?? 0) / 1e6 - decayS];
      if (off.every((each) => Math.abs(each) <= 0.3)) spoken += 1;
    }
    expect(spoken).toBeGreaterThanOrEqual(9);
  });

  it('a scene without words goes by its gestures', () => {
    const random = createRandom(3);
    const sound = Float32Array.from({ length: LOOK_RATE_HZ * 20 }, () => (random() - 0.5) * 0.002);
    const change = Float32Array.from({ length: 200 }, (_, step) =>
      step >= 55 && step < 140 ? 2 + 3 * random() : 0.4 + 0.1 * random(),
    );
    const spans = suggestPerformances({
      durationUs: 20_000_000,
      sound,
      movement: { stepUs: 100_000, change },
    });
    const found = chooseSuggestion(spans, 'drama');
    expect(Math.abs((found?.startUs ?? 0) - 5_500_000)).toBeLessThanOrEqual(200_000);
    expect(Math.abs((found?.finishUs ?? 0) - 14_000_000)).toBeLessThanOrEqual(200_000);
    expect(found?.confidence).toBeGreaterThan(LEAST_SUGGEST_CONFIDENCE);
  });

  it('goes by movement in physical education; two of the same length are not surely told', () => {
    const random = createRandom(9);
    const course = (isMoving: (atS: number) => boolean) => ({
      stepUs: 100_000,
      change: Float32Array.from(
        { length: 200 },
        (_, step) => 0.4 + random() * 0.2 + (isMoving(step / 10) ? 3 + 4 * random() : 0),
      ),
    });
    const find = (isMoving: (atS: number) => boolean) =>
      chooseSuggestion(
        suggestPerformances({ durationUs: 20_000_000, sound: null, movement: course(isMoving) }),
        'pe',
      );
    const one = find((atS) => (atS >= 6 && atS < 13.5) || (atS > 1 && atS < 1.6));
    expect(Math.abs((one?.startUs ?? 0) - 6_000_000)).toBeLessThanOrEqual(200_000);
    expect(Math.abs((one?.finishUs ?? 0) - 13_500_000)).toBeLessThanOrEqual(200_000);
    expect(one?.confidence).toBeGreaterThan(LEAST_SUGGEST_CONFIDENCE);
    const two = find((atS) => (atS >= 3 && atS < 6) || (atS >= 12 && atS < 15));
    expect(two?.confidence).toBeLessThan(LEAST_SUGGEST_CONFIDENCE);
    expect(find(() => false)).toBeNull();
  });
});
