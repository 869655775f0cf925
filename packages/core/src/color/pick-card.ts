import { buildColorLook } from './color-table.ts';
import type { ColorSettings } from './color-settings.ts';
import { pickNeutral } from './propose-color.ts';
import { measureLuma } from './standard-look.ts';
import { transferFunctions } from './transfer.ts';

/** A photographer's grey card gives back so much of the light that falls on it. */
export const CARD_LIGHT = 0.18;
const MOST_STOPS = 4;
const STEPS = 24;

/**
 * Settings under which a picked grey card is neutral and as bright as it is, whatever else they do: its
 * eight-bit R, G, B as recorded. null where it is too dark to tell, or no exposure of ±4 stops does it.
 */
export function pickGreyCard(
  [red, green, blue]: readonly [number, number, number],
  settings: ColorSettings,
): ColorSettings | null {
  const white = pickNeutral(red, green, blue);
  if (!white || Math.max(red, green, blue) >= 254) return null;
  const { toLight } = transferFunctions.srgb;
  const shine = (exposure: number) => {
    const look = buildColorLook({ ...settings, white, exposure });
    const [r, g, b] = look([red / 255, green / 255, blue / 255]).map(toLight);
    return measureLuma(r ?? 0, g ?? 0, b ?? 0);
  };
  let [low, high] = [-MOST_STOPS, MOST_STOPS];
  if (shine(low) > CARD_LIGHT || shine(high) < CARD_LIGHT) return null;
  for (let step = 0; step < STEPS; step += 1) {
    const middle = (low + high) / 2;
    if (shine(middle) < CARD_LIGHT) low = middle;
    else high = middle;
  }
  return { ...settings, white, exposure: Math.round(low * 100) / 100 };
}
