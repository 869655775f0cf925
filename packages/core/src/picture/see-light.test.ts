import { describe, expect, it } from 'vitest';
import { describeNeutral } from '../color/white.ts';
import { applyProjective, mapSquareTo, type Quad } from '../geometry/projective.ts';
import { EvenLight, mapGains, readLightAt } from '../light/even-light.ts';
import { evenPicture } from '../light/gain-map.ts';
import {
  buildLampScene,
  drawLampScene,
  lightAt,
  radiate,
  type LampScene,
} from '../test-support/lamp-scene.ts';
import { isUneven, seeBlankSheet, seeLight, seeLightLeft } from './see-light.ts';

type Four = EvenLight['corners'];
const half = { widthPx: 400, heightPx: 300 };
const seeScene = (scene: LampScene) => seeLight(drawLampScene(scene), scene.corners as Four);

/** What is left of the lamp's own fall-off once it is evened out: highest less lowest, in shares. */
function measureLeft(scene: LampScene, light: EvenLight): number {
  const map = mapSquareTo(scene.corners as Quad);
  const left: number[] = [];
  for (let row = 0; row <= 20; row += 1)
    for (let column = 0; column <= 20; column += 1) {
      const [u, v] = [column / 20, row / 20];
      const { x, y } = applyProjective(map, { x: u, y: v });
      const vignette = 1 - scene.vignette * ((x - 0.5) ** 2 + (y - 0.5) ** 2) * 2;
      left.push((lightAt(scene, u, v) * vignette) / readLightAt(light, 1, u, v));
    }
  return (Math.max(...left) - Math.min(...left)) / Math.max(...left);
}

describe('seeLight', () => {
  it('tells the fall-off of lamps from the margin of a small picture within 3.5 % of the truth', () => {
    for (let seed = 40; seed < 45; seed += 1) {
      const scene = buildLampScene(seed, half);
      const found = seeScene(scene);
      expect(found?.by, `seed ${seed}`).toBe('margin');
      if (!found) continue;
      expect(measureLeft(scene, found.even), `seed ${seed}`).toBeLessThan(0.035);
      expect(isUneven(found), `seed ${seed}`).toBe(true);
    }
  });

  it('tells the lamp’s color from blank paper', () => {
    for (const kelvin of [2700, 4000, 6500]) {
      const found = seeScene(buildLampScene(51, { ...half, lamp: radiate(kelvin) }));
      const told = describeNeutral(found?.paper ?? [0, 0, 0]).kelvin;
      expect(Math.abs(told / kelvin - 1), `${kelvin} K`).toBeLessThan(0.06);
    }
  });

  it('never takes what is painted up to the edge for paper', () => {
    const washes = (u: number, v: number) =>
      [0.1 + 0.5 * u, 0.15 + 0.4 * v, 0.3 + 0.3 * Math.sin(9 * u)] as const;
    const found = seeScene(buildLampScene(52, { ...half, piece: washes }));
    expect(found?.by).not.toBe('margin');
    expect(found?.paper ?? null).toBeNull();
  });

  it('takes no blue ground for paper under a blue lamp', () => {
    const sky = () => [0.1, 0.2, 0.6] as const;
    expect(seeScene(buildLampScene(53, { ...half, piece: sky }))?.paper ?? null).toBeNull();
  });

  it('says that light is even where it is', () => {
    const even = { over: { u: 0.5, v: 0.5, height: 40 }, vignette: 0, ambient: 0 };
    const found = seeScene(buildLampScene(54, { ...half, ...even }));
    expect(found && isUneven(found)).toBe(false);
  });
});

describe('seeLightLeft', () => {
  // A near lamp over one corner: its light falls to a fifth, and what brings that up brings up grain.
  const near = { over: { u: 0.1, v: 0.1, height: 0.7 }, ambient: 0.02, noise: 6 };
  const scene = buildLampScene(56, { ...half, ...near });
  const picture = drawLampScene(scene);
  const corners = scene.corners as Four;
  const found = seeLight(picture, corners);

  it('tells what is left after evening out, where grain hides that it is paper', () => {
    if (!found) throw new TypeError('The margin was expected to tell.');
    const bytes = evenPicture(picture.bytes, picture, mapGains(found.even), picture.bands);
    const evened = { ...picture, bytes };
    expect(found.before).toBeGreaterThan(0.6);
    expect(seeLight(evened, corners)).toBeNull();
    expect(seeLightLeft(evened, corners, 'margin')?.before).toBeLessThan(0.1);
  });

  it('tells of what was not evened out how the lamp falls off', () => {
    const left = seeLightLeft(picture, corners, 'margin');
    if (!left) throw new TypeError('The margin was expected to tell.');
    expect(measureLeft(scene, left.even)).toBeLessThan(0.1);
  });
});

describe('seeBlankSheet', () => {
  const painted = buildLampScene(55, { ...half, piece: () => [0.3, 0.2, 0.4] as const });
  const sheet = drawLampScene({ ...painted, piece: () => [0.88, 0.88, 0.88] as const });
  const corners = painted.corners as Four;

  it('tells the light all over within 1.5 %, whatever is painted', () => {
    const found = seeBlankSheet(sheet, half, corners);
    expect(found.by).toBe('sheet');
    expect(measureLeft(painted, found.even)).toBeLessThan(0.015);
  });

  it('says so where it was taken in another size, and where it is not blank', () => {
    expect(() => seeBlankSheet(sheet, { widthPx: 300, heightPx: 400 }, corners)).toThrow('another size');
    const drawn = drawLampScene(buildLampScene(56, half));
    expect(() => seeBlankSheet(drawn, half, corners)).toThrow('no blank sheet');
  });
});

describe('EvenLight', () => {
  const side = [1, -0.3, 0, 0, 0, 0];
  const slanted = { corners: null, power: 1, sides: [side, side, side], floor: [0, 0, 0] };

  it('brings every place to the brightest one', () => {
    const light = EvenLight.parse(slanted);
    // Light of 1.3 at the left edge, 0.7 at the right one; white paper of 0.4 under it.
    const [widthPx, heightPx] = [60, 4];
    const signal = (value: number) => 255 * (1.055 * value ** (1 / 2.4) - 0.055);
    const rgb = Uint8Array.from({ length: widthPx * heightPx * 3 }, (_, at) => {
      const share = ((Math.floor(at / 3) % widthPx) + 0.5) / widthPx;
      return Math.round(signal(0.4 * (1.3 - 0.6 * share)));
    });
    const made = evenPicture(rgb, { widthPx, heightPx }, mapGains(light));
    const wanted = signal(0.4 * 1.3);
    for (const level of made) expect(Math.abs(level - wanted)).toBeLessThan(1.6);
  });

  it('refuses a surface without light somewhere, or of an odd number of terms', () => {
    const dark = [0.2, -0.3, 0, 0, 0, 0];
    expect(EvenLight.safeParse({ ...slanted, sides: [dark, dark, dark] }).success).toBe(false);
    expect(EvenLight.safeParse({ ...slanted, sides: [side, side, [1, 0]] }).success).toBe(false);
  });
});
