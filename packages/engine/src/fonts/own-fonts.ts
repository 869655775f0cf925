import type { Font } from 'fontkit';
import { createRequire } from 'node:module';

export interface FontStyle {
  readonly isBold: boolean;
  readonly isItalic: boolean;
}

/** A font of the house's own family, for some of its signs. */
export interface OwnFont {
  readonly name: string;
  readonly path: string;
  readonly font: Font;
}

const require = createRequire(import.meta.url);
const opened = new Map<string, readonly OwnFont[]>();

/** The fonts of a style: signs that the first does not have are looked for in the next. */
export function openFonts({ isBold, isItalic }: FontStyle): readonly OwnFont[] {
  const style = `${isBold ? 700 : 400}-${isItalic ? 'italic' : 'normal'}`;
  const known = opened.get(style);
  if (known) return known;
  // Loaded with the first letters: most processes lay out none.
  const { openSync } = require('fontkit') as typeof import('fontkit');
  const fonts = ['latin', 'latin-ext'].map((part) => {
    const name = `atkinson-hyperlegible-next-${part}-${style}`;
    const path = require.resolve(`@fontsource/atkinson-hyperlegible-next/files/${name}.woff`);
    return { name, path, font: openSync(path) as Font };
  });
  opened.set(style, fonts);
  return fonts;
}

/** Letters in runs of one font each. */
export function divideByFont(text: string, fonts: readonly OwnFont[]): { own: OwnFont; part: string }[] {
  const runs: { own: OwnFont; part: string }[] = [];
  for (const sign of text) {
    const own = fonts.find(({ font }) => font.hasGlyphForCodePoint(sign.codePointAt(0) ?? 0)) ?? fonts[0];
    if (!own) throw new TypeError('Letters need a font.');
    const last = runs.at(-1);
    if (last?.own === own) last.part += sign;
    else runs.push({ own, part: sign });
  }
  return runs;
}

/** How wide letters are, kerning among it, in heights of their em. */
export function measureEm(text: string, style: FontStyle): number {
  return divideByFont(text, openFonts(style)).reduce(
    (sum, { own, part }) => sum + own.font.layout(part).advanceWidth / own.font.unitsPerEm,
    0,
  );
}
