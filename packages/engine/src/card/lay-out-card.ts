import type { OpeningCard, SizePx } from '@apodix/core';
import { divideByFont, openFonts } from '../fonts/own-fonts.ts';

/** Edges that some screens cut off stay empty, on each side (EBU R 95: text within 90 %). */
const SAFE_MARGIN = 0.08;
/** Heights of letters in shares of the shorter edge. */
const TITLE_SHARE = 0.11;
const LEAST_TITLE_SHARE = 0.05;
const LINE_TO_TITLE = 0.46;
const LEADING = 1.28;
const MOST_TITLE_ROWS = 3;

const GROUND = '#1B2123';
const TITLE_INK = '#FFFFFF';
const LINE_INK = '#D9DAD5';

type Weight = 400 | 700;

interface Outline {
  /** SVG, baseline at 0, one em high, y upwards. */
  readonly paths: string;
  readonly widthEm: number;
}

/** A line of text as outlines, with kerning. */
function outlineText(text: string, weight: Weight): Outline {
  const fonts = openFonts({ isBold: weight === 700, isItalic: false });
  const paths: string[] = [];
  let x = 0;
  for (const { own, part } of divideByFont(text, fonts)) {
    const { font } = own;
    const run = font.layout(part);
    for (const [index, glyph] of run.glyphs.entries()) {
      const place = run.positions[index];
      const at = (x + (place?.xOffset ?? 0)) / font.unitsPerEm;
      paths.push(
        `<path transform="translate(${at.toFixed(4)} 0) scale(${1 / font.unitsPerEm})" d="${glyph.path.toSVG()}"/>`,
      );
      x += place?.xAdvance ?? glyph.advanceWidth;
    }
  }
  return { paths: paths.join(''), widthEm: x / (fonts[0]?.font.unitsPerEm ?? 1000) };
}

/** Words in rows that are no wider than so many em; a word that is wider stands alone. */
function wrap(text: string, weight: Weight, mostEm: number): string[] {
  const rows: string[] = [];
  for (const word of text.split(/\s+/).filter(Boolean)) {
    const last = rows.at(-1);
    const longer = last === undefined ? word : `${last} ${word}`;
    if (last !== undefined && outlineText(longer, weight).widthEm <= mostEm) rows[rows.length - 1] = longer;
    else rows.push(word);
  }
  return rows;
}

interface Row extends Outline {
  readonly heightPx: number;
  readonly ink: string;
}

/**
 * An opening card as SVG of outlines alone: the title in up to three rows, the lines under it, all within
 * safe margins, as large as fits. Signs that the font does not have are drawn as an empty box.
 */
export function layOutCard(card: OpeningCard, { widthPx, heightPx }: SizePx): string {
  const edge = Math.min(widthPx, heightPx);
  const margin = SAFE_MARGIN * edge;
  const [roomX, roomY] = [widthPx - 2 * margin, heightPx - 2 * margin];
  let rows: Row[] = [];
  for (let share = TITLE_SHARE; share >= LEAST_TITLE_SHARE; share *= 0.94) {
    rows = setRows(card, share * edge, roomX);
    const titleRows = rows.filter((row) => row.ink === TITLE_INK).length;
    const isWide = rows.some((row) => row.widthEm * row.heightPx > roomX);
    if (titleRows <= MOST_TITLE_ROWS && !isWide && measureRows(rows) <= roomY) break;
  }
  // What is still too large is made smaller as a whole rather than cut off.
  const widest = Math.max(...rows.map((row) => row.widthEm * row.heightPx));
  const scale = Math.min(1, roomX / widest, roomY / measureRows(rows));
  let y = (heightPx - scale * measureRows(rows)) / 2;
  const drawn = rows.map((row) => {
    const size = row.heightPx * scale;
    const isTitle = row.ink === TITLE_INK;
    const baseline = y + size * (isTitle ? 0.8 : 1);
    y += size * LEADING;
    return `<g fill="${row.ink}" transform="translate(${margin.toFixed(2)} ${baseline.toFixed(2)}) scale(${size.toFixed(3)} ${(-size).toFixed(3)})">${row.paths}</g>`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${widthPx}" height="${heightPx}"><rect width="100%" height="100%" fill="${GROUND}"/>${drawn.join('')}</svg>`;
}

const measureRows = (rows: readonly Row[]) => rows.reduce((sum, row) => sum + row.heightPx * LEADING, 0);

function setRows(card: OpeningCard, titlePx: number, roomX: number): Row[] {
  const linePx = titlePx * LINE_TO_TITLE;
  const set = (text: string, weight: Weight, heightPx: number, ink: string): Row[] =>
    wrap(text, weight, roomX / heightPx).map((row) => ({ ...outlineText(row, weight), heightPx, ink }));
  return [
    ...set(card.title, 700, titlePx, TITLE_INK),
    ...card.lines.flatMap((line) => set(line, 400, linePx, LINE_INK)),
  ];
}
