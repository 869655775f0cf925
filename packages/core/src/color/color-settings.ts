import { z } from 'zod';
import { LookTable } from './look-table.ts';
import { KELVIN_BOUNDS, MOST_TINT } from './white.ts';

const part = z.number().min(-1).max(1);

/** What is done to the colors of a picture; 0 and null do nothing. */
export const ColorSettings = z.strictObject({
  /** The light that it was recorded under, as the recording shows it; it is brought to daylight (D65). */
  white: z
    .strictObject({
      kelvin: z.number().min(KELVIN_BOUNDS[0]).max(KELVIN_BOUNDS[1]),
      tint: z.number().min(-MOST_TINT).max(MOST_TINT),
    })
    .nullable(),
  /** What each side of light is mixed from, before everything else, as a color target tells (`mixLight`). */
  mix: z
    .array(z.number().min(-40).max(40))
    .refine(({ length }) => length === 9 || length === 18, { message: 'A mix has 9 or 18 factors.' })
    .nullable()
    .default(null),
  /** Stops of light: 1 doubles it. */
  exposure: z.number().min(-4).max(4),
  /** How far dark parts are lifted, 0 to 1. */
  shadows: z.number().min(0).max(1),
  /** How softly bright parts end, 0 to 1: what would go beyond white is brought back below it. */
  highlights: z.number().min(0).max(1),
  /** About mid grey. */
  contrast: part,
  /** Chroma in a perceptual space; skin follows less. */
  richness: part,
  /** A table of somebody else's, after all of that. */
  look: LookTable.nullable().default(null),
});
export type ColorSettings = z.infer<typeof ColorSettings>;

export function createPlainColor(): ColorSettings {
  return {
    white: null,
    mix: null,
    exposure: 0,
    shadows: 0,
    highlights: 0,
    contrast: 0,
    richness: 0,
    look: null,
  };
}

/** Settings that are proposed for a take, and why: one line each, with figures. */
export const ColorAdvice = z.object({ settings: ColorSettings, reasons: z.array(z.string()) });
export type ColorAdvice = z.infer<typeof ColorAdvice>;

/** Whether nothing is done. */
export function isPlainColor(settings: ColorSettings | null): boolean {
  if (!settings) return true;
  const { white, mix, look, exposure, shadows, highlights, contrast, richness } = settings;
  return (
    white === null &&
    mix === null &&
    look === null &&
    [exposure, shadows, highlights, contrast, richness].every((each) => each === 0)
  );
}
