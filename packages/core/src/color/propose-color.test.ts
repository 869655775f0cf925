import { describe, expect, it } from 'vitest';
import { buildColorScene, type Lamp, type SceneKind } from '../test-support/color-scene.ts';
import { applyProjective, mapSquareTo } from '../geometry/projective.ts';
import { buildLampScene, drawLampScene, radiate } from '../test-support/lamp-scene.ts';
import { createPlainColor, type ColorSettings } from './color-settings.ts';
import { buildColorLook } from './color-table.ts';
import { estimateLight } from './estimate-light.ts';
import { convertRgb8ToLab, measureDeltaE } from './lab.ts';
import { matchColor, matchPaper, pickNeutral, proposeColor, writeKelvin } from './propose-color.ts';

const kinds: readonly SceneKind[] = ['hall', 'room', 'studio', 'gym'];
const warm: Lamp = { kind: 'black-body', kelvin: 2900 };

/** Mean color difference over one point in seven. */
function compare(picture: Uint8Array, truth: Uint8Array, settings: ColorSettings): number {
  const look = buildColorLook(settings);
  let [sum, count] = [0, 0];
  for (let at = 0; at < picture.length; at += 21) {
    const [red, green, blue] = look([
      (picture[at] ?? 0) / 255,
      (picture[at + 1] ?? 0) / 255,
      (picture[at + 2] ?? 0) / 255,
    ]);
    sum += measureDeltaE(
      convertRgb8ToLab(Math.round(red * 255), Math.round(green * 255), Math.round(blue * 255)),
      convertRgb8ToLab(truth[at] ?? 0, truth[at + 1] ?? 0, truth[at + 2] ?? 0),
    );
    count += 1;
  }
  return sum / count;
}

describe('what is proposed for colors', () => {
  it.each(kinds)('halves what a dim warm lamp did to a %s', (kind) => {
    let [before, after] = [0, 0];
    for (let seed = 21; seed < 27; seed += 1) {
      const { recorded, truth, ...size } = buildColorScene(seed, kind, warm, -1.5);
      const proposal = proposeColor({ ...size, rgb: recorded });
      before += compare(recorded, truth, createPlainColor());
      after += compare(recorded, truth, proposal?.settings ?? createPlainColor());
    }
    expect(after).toBeLessThan(before / 2);
  });

  it('is nothing where nothing is wrong', () => {
    const changed = kinds.flatMap((kind) =>
      [31, 32, 33, 34, 35].filter((seed) => {
        const { recorded, ...size } = buildColorScene(seed, kind, null, 0);
        return proposeColor({ ...size, rgb: recorded }) !== null;
      }),
    );
    expect(changed.length).toBeLessThanOrEqual(1);
  });

  it('says the lamp with figures, and a subject before a window', () => {
    const { recorded, ...size } = buildColorScene(22, 'hall', warm, -1.5);
    const proposal = proposeColor({ ...size, rgb: recorded });
    expect(proposal?.reasons[0]).toMatch(/^What should be grey: ΔE \d+\.\d → [0-3]\.\d$/);
    expect(proposal?.reasons[1]).toMatch(/^Told by .*, \d+ % sure$/);
    expect(proposal?.reasons[2]).toMatch(/^Dim: half of the picture is below \d+\.\d % light$/);
    const window = Uint8Array.from({ length: 96 * 54 * 3 }, (_, at) =>
      Math.floor(at / 3) % 96 < 40 ? 236 : 22 + ((at * 7) % 9),
    );
    expect(proposeColor({ widthPx: 96, heightPx: 54, rgb: window })?.settings).toMatchObject({
      exposure: 0,
      shadows: 0.35,
    });
  });

  it('tells nothing of black, and of too few points', () => {
    expect(proposeColor({ widthPx: 96, heightPx: 54, rgb: new Uint8Array(96 * 54 * 3) })).toBeNull();
    expect(estimateLight({ widthPx: 2, heightPx: 2, rgb: new Uint8Array(12).fill(90) })).toBeNull();
  });
});

it('a picked grey becomes grey, and what is too dark cannot be picked', () => {
  const light = pickNeutral(200, 160, 96);
  if (!light) throw new Error('It is bright enough.');
  const made = buildColorLook({ ...createPlainColor(), white: light })([200 / 255, 160 / 255, 96 / 255]);
  expect(Math.max(...made) - Math.min(...made)).toBeLessThan(0.02);
  expect(pickNeutral(9, 7, 5)).toBeNull();
  expect(writeKelvin(2948)).toBe('2 950 K');
});

it('one take is matched to another of the same scene', () => {
  const [one, other] = [buildColorScene(41, 'hall', warm, -1), buildColorScene(41, 'hall', null, 0)];
  const settings = matchColor({ ...one, rgb: one.recorded }, { ...other, rgb: other.recorded });
  if (!settings) throw new Error('Both tell enough.');
  const before = compare(one.recorded, other.recorded, createPlainColor());
  expect(compare(one.recorded, other.recorded, settings)).toBeLessThan(before / 3);
});

describe('photographs of a series', () => {
  const EDGE = 60;
  /** A sheet under a lamp high above it, taken flat: a margin of paper about a drawing of its own. */
  function takeFlat(seed: number, kelvin: number, exposure: number) {
    const over = { u: 0.5, v: 0.5, height: 9 };
    const scene = buildLampScene(seed, { lamp: radiate(kelvin), over, exposure, vignette: 0 });
    const { bytes, widthPx, heightPx, bands } = drawLampScene(scene);
    const map = mapSquareTo(scene.corners);
    const rgb = new Uint8Array(EDGE * EDGE * 3);
    for (let point = 0; point < EDGE * EDGE; point += 1) {
      const place = { x: ((point % EDGE) + 0.5) / EDGE, y: (Math.floor(point / EDGE) + 0.5) / EDGE };
      const { x, y } = applyProjective(map, place);
      const at = (Math.floor(y * heightPx) * widthPx + Math.floor(x * widthPx)) * bands;
      rgb.set(bytes.subarray(at, at + 3), point * 3);
    }
    return { widthPx: EDGE, heightPx: EDGE, rgb };
  }
  /** Color of the margin on the left, through settings. */
  function readMargin({ rgb }: { rgb: Uint8Array }, settings: ColorSettings) {
    const look = buildColorLook(settings);
    const sums = [0, 0, 0];
    for (let row = 2; row < EDGE - 2; row += 1) {
      const at = (row * EDGE + 1) * 3;
      const shown = look([(rgb[at] ?? 0) / 255, (rgb[at + 1] ?? 0) / 255, (rgb[at + 2] ?? 0) / 255]);
      shown.forEach((side, index) => (sums[index] = (sums[index] ?? 0) + (side * 255) / (EDGE - 4)));
    }
    return convertRgb8ToLab(...(sums.map(Math.round) as [number, number, number]));
  }

  it.each([
    [61, 3000, 0.6, 67, 5000, 0.9],
    [63, 2800, 0.9, 64, 5500, 0.6],
  ])(
    'get the paper of another, whatever is drawn on them: %d',
    (seed, kelvin, exposure, other, theirs, brighter) => {
      const [own, wanted] = [takeFlat(seed, kelvin, exposure), takeFlat(other, theirs, brighter)];
      const settings = matchPaper(own, wanted);
      if (!settings) throw new Error('Both show paper.');
      const paper = readMargin(wanted, createPlainColor());
      const before = measureDeltaE(readMargin(own, createPlainColor()), paper);
      const after = measureDeltaE(readMargin(own, settings), paper);
      expect(before).toBeGreaterThan(8);
      expect(after).toBeLessThan(Math.min(3, before / 4));
    },
  );

  it('tell nothing of black', () => {
    const black = { widthPx: 20, heightPx: 20, rgb: new Uint8Array(1200) };
    expect(matchPaper(black, takeFlat(61, 5000, 0.8))).toBeNull();
  });
});
