import { describe, expect, it } from 'vitest';
import { findHorizon } from './find-horizon.ts';

const [W, H] = [480, 270];
const random = (seed: number) => () => {
  seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0;
  return seed / 2 ** 32;
};

/** A room with a floor, shelves, a door and a round lamp, leaning clockwise, four samples a point, grainy. */
function drawRoom(degrees: number, seed = 1) {
  const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  const noise = random(seed);
  const levelAt = (px: number, py: number) => {
    const [dx, dy] = [px - W / 2, py - H / 2];
    const [x, y] = [cos * dx + sin * dy, -sin * dx + cos * dy];
    if ((x - 120) ** 2 + (y + 60) ** 2 < 30 ** 2) return 220;
    if (y > 60) return 70;
    if (x > -180 && x < -60 && y > -90 && y < 40) return Math.floor((y + 90) / 22) % 2 ? 110 : 150;
    if (x > 30 && x < 90 && y > -40) return 100;
    return 180;
  };
  const luma = Uint8Array.from({ length: W * H }, (_, at) => {
    const [x, y] = [at % W, Math.floor(at / W)];
    let sum = 0;
    for (const [u, v] of [
      [0.25, 0.25],
      [0.75, 0.25],
      [0.25, 0.75],
      [0.75, 0.75],
    ] as const)
      sum += levelAt(x + u, y + v);
    return Math.max(0, Math.min(255, Math.round(sum / 4 + (noise() - 0.5) * 12)));
  });
  return { widthPx: W, heightPx: H, luma };
}

describe('findHorizon', () => {
  it.each([-7.4, -3.3, -1.2, 0.8, 2.6, 5.5, 9.1])('finds a lean of %f degrees to three tenths', (degrees) => {
    expect(Math.abs((findHorizon(drawRoom(degrees)) ?? 99) - degrees)).toBeLessThan(0.3);
  });

  it('says nothing of a level room, of noise, and of what leans on purpose', () => {
    expect(findHorizon(drawRoom(0))).toBeNull();
    expect(findHorizon(drawRoom(17))).toBeNull();
    const noise = random(5);
    const luma = Uint8Array.from({ length: W * H }, () => Math.round(100 + noise() * 60));
    expect(findHorizon({ widthPx: W, heightPx: H, luma })).toBeNull();
  });
});
