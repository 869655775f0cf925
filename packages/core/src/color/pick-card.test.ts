import { describe, expect, it } from 'vitest';
import { createPlainColor } from './color-settings.ts';
import { buildColorTable } from './color-table.ts';
import { convertLightToLab } from './lab.ts';
import { pickGreyCard } from './pick-card.ts';
import { readColorTable } from './read-table.ts';
import { transferFunctions } from './transfer.ts';

const { toLight, toSignal } = transferFunctions.srgb;
/** A card under a lamp (its light of the three sides) at so much exposure, as a camera writes it. */
const photograph = (lamp: readonly [number, number, number], exposure: number) =>
  lamp.map((side) => Math.round(255 * toSignal(0.18 * side * exposure))) as [number, number, number];

/** L*, a*, b* of a grey card in daylight: 18 % of its light, by CIE 15. */
const CARD_LAB_L = 116 * Math.cbrt(0.18) - 16;

describe('a grey card that is picked', () => {
  it.each([
    ['daylight', [1, 1, 1], 1],
    ['a warm lamp, too dark', [1.5, 0.95, 0.42], 0.4],
    ['shade, too bright', [0.85, 1, 1.35], 2.2],
  ] as const)('becomes neutral and as bright as it is: %s', (_, lamp, exposure) => {
    const rgb = photograph(lamp, exposure);
    for (const more of [{}, { contrast: 0.3 }, { shadows: 0.4, richness: 0.2 }]) {
      const settings = pickGreyCard(rgb, { ...createPlainColor(), ...more });
      if (!settings) throw new Error('It was not taken.');
      const out = [0, 0, 0];
      readColorTable(buildColorTable(settings), rgb[0] / 255, rgb[1] / 255, rgb[2] / 255, out);
      const lab = convertLightToLab(...(out.map(toLight) as [number, number, number]));
      expect(Math.abs(lab.l - CARD_LAB_L)).toBeLessThan(1);
      expect(Math.hypot(lab.a, lab.b)).toBeLessThan(2);
    }
  });

  it('is not told from what is burnt white or lost in the dark', () => {
    expect(pickGreyCard([255, 255, 255], createPlainColor())).toBeNull();
    expect(pickGreyCard([9, 8, 8], createPlainColor())).toBeNull();
  });
});
