import { describe, expect, it } from 'vitest';
import { invertAffine } from './frame.ts';
import { addUpShake, mapSteady, planSteady } from './steady.ts';

const size = { widthPx: 1920, heightPx: 1080 };
const COUNT = 240;
/** A hand that trembles at three a second while it follows somebody across the room. */
const shake = addUpShake(
  Array.from({ length: COUNT }, (_, frame) => {
    const at = (t: number) => ({
      x: 0.008 * Math.sin((2 * Math.PI * 3 * t) / 30) + 0.0008 * t,
      y: 0.006 * Math.cos((2 * Math.PI * 2.6 * t) / 30),
      angle: 0.01 * Math.sin((2 * Math.PI * 2.2 * t) / 30),
    });
    const [now, before] = [at(frame), at(frame - 1)];
    return { x: now.x - before.x, y: now.y - before.y, angle: now.angle - before.angle };
  }),
);
const whole = [{ first: 0, last: COUNT }];
const corners = [0, size.widthPx].flatMap((x) => [0, size.heightPx].map((y) => ({ x, y })));

describe('a steadied course', () => {
  it('leaves what is slow and takes out what trembles', () => {
    const course = planSteady(shake, size, 30, 0.5, whole);
    // Where a point of the scene comes to lie: as recorded, and after the correction.
    const jumps = (read: (frame: number) => number) =>
      Math.max(
        ...Array.from({ length: 160 }, (_, index) => Math.abs(read(41 + index) - read(40 + index) - 0.0008)),
      );
    expect(jumps((frame) => shake.x[frame] ?? 0)).toBeGreaterThan(0.004);
    expect(jumps((frame) => (shake.x[frame] ?? 0) - (course.x[frame] ?? 0))).toBeLessThan(0.0002);
  });

  it('shows no point beyond an edge of the recording, in any frame that is kept', () => {
    for (const strength of [0.1, 0.4, 1]) {
      const course = planSteady(shake, size, 30, strength, whole);
      expect(course.kept).toBeGreaterThan(0.9);
      expect(course.kept).toBeLessThan(1);
      for (let frame = 0; frame < COUNT; frame += 1) {
        const { a, b, c, d, e, f } = mapSteady(course, frame, size);
        for (const { x, y } of corners) {
          const [u, v] = [a * x + c * y + e, b * x + d * y + f];
          expect(Math.min(u, v, size.widthPx - u, size.heightPx - v)).toBeGreaterThanOrEqual(0);
        }
      }
    }
  });

  it('is not enlarged for what is left out, and never loses more than a fifth', () => {
    const dropped = Array.from({ length: COUNT }, (_, frame) => ({
      x: frame === 200 ? 0.6 : 0,
      y: 0,
      angle: 0,
    }));
    const put = addUpShake(dropped);
    expect(planSteady(put, size, 30, 0.3, [{ first: 0, last: 120 }]).kept).toBeCloseTo(0.997, 3);
    const kept = planSteady(put, size, 30, 0.3, whole);
    expect(kept.kept).toBeCloseTo(0.8, 2);
    const edge = mapSteady(kept, 199, size);
    expect(edge.e).toBeGreaterThanOrEqual(-1e-6);
  });

  it('moves a frame by its own figures about the middle', () => {
    const course = {
      x: Float32Array.of(0.01),
      y: Float32Array.of(-0.02),
      angle: Float32Array.of(Math.PI / 2),
      kept: 0.9,
    };
    // The middle of what is seen comes from 19.2 points to the left of the middle and 38.4 below it.
    const { a, b, c, d, e, f } = mapSteady(course, 0, size);
    const at = (x: number, y: number) => [a * x + c * y + e, b * x + d * y + f];
    expect(at(960, 540)[0]).toBeCloseTo(940.8, 3);
    expect(at(960, 540)[1]).toBeCloseTo(578.4, 3);
    // A quarter turn: 100 points to the right of the middle lie 90 points further down there.
    expect(at(1060, 540)[1]).toBeCloseTo(668.4, 3);
    const back = invertAffine({ a, b, c, d, e, f });
    expect(back.a * 940.8 + back.c * 578.4 + back.e).toBeCloseTo(960, 3);
  });
});
