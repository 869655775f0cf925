import { createPlainColor, type ColorAdvice } from './color-settings.ts';
import { convertLightToLab, measureDeltaE } from './lab.ts';
import { multiply, type Triple } from './spaces.ts';
import { buildAdaptation, describeNeutral, KELVIN_BOUNDS, MOST_TINT } from './white.ts';

/** Luminance that paper has on screen: drawing papers reflect some 88 of 100, and white has to stay above. */
export const PAPER_LUMINANCE = 0.88;
/** What nobody sees is left alone. */
const LEAST_DELTA_E = 1.5;
const LEAST_STOPS = 0.08;
const STOP_BOUNDS = [-1, 3] as const;

/**
 * Settings that make blank paper neutral and as light as paper is, from its light (red, green, blue, 0 to 1)
 * where it is lit best; null where it is so already.
 */
export function proposePaper(paper: Triple): ColorAdvice | null {
  const { kelvin, tint } = describeNeutral(paper);
  const cast = measureCast(paper);
  const hasCast = cast >= LEAST_DELTA_E;
  const white = hasCast
    ? {
        kelvin: Math.round(Math.max(KELVIN_BOUNDS[0], Math.min(KELVIN_BOUNDS[1], kelvin))),
        tint: Math.round(Math.max(-MOST_TINT, Math.min(MOST_TINT, tint)) * 1e4) / 1e4,
      }
    : null;
  const shown = white ? multiply(buildAdaptation(white), paper) : paper;
  const luminance = Math.max(1e-4, 0.2126 * shown[0] + 0.7152 * shown[1] + 0.0722 * shown[2]);
  const stops = Math.max(STOP_BOUNDS[0], Math.min(STOP_BOUNDS[1], Math.log2(PAPER_LUMINANCE / luminance)));
  const exposure = Math.abs(stops) < LEAST_STOPS ? 0 : Math.round(stops * 100) / 100;
  if (!white && exposure === 0) return null;
  return {
    settings: { ...createPlainColor(), white, exposure },
    reasons: [
      ...(white
        ? [
            `Blank paper: ΔE ${cast.toFixed(1)} → ${measureCast(shown).toFixed(1)} from grey`,
            'Told by the paper’s margin',
          ]
        : []),
      ...(exposure === 0 ? [] : [`Paper has ${(luminance * 100).toFixed(0)} % light, it should have 88 %`]),
    ],
  };
}

/** How far light is from a grey of its own luminance, as light as paper (CIEDE2000). */
function measureCast(light: Triple): number {
  const luminance = Math.max(1e-4, 0.2126 * light[0] + 0.7152 * light[1] + 0.0722 * light[2]);
  const by = PAPER_LUMINANCE / luminance;
  const side = (value: number) => Math.max(0, value * by);
  return measureDeltaE(
    convertLightToLab(side(light[0]), side(light[1]), side(light[2])),
    convertLightToLab(PAPER_LUMINANCE, PAPER_LUMINANCE, PAPER_LUMINANCE),
  );
}
