import { describe, expect, it } from 'vitest';
import { buildColorScene, type Lamp, type SceneKind } from '../test-support/color-scene.ts';
import { createPlainColor, type ColorSettings } from './color-settings.ts';
import { buildColorLook } from './color-table.ts';
import { estimateLight } from './estimate-light.ts';
import { convertRgb8ToLab, measureDeltaE } from './lab.ts';
import { matchColor, pickNeutral, proposeColor, writeKelvin } from './propose-color.ts';

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
