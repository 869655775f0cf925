import { ApodixError } from '../errors/catalogue.ts';
import type { SizePx } from '../geometry/turn.ts';
import { breakLines, type MeasureText, type Segment } from './break-lines.ts';
import {
  describeForEars,
  describePiece,
  PAPERS,
  type RichBlock,
  type Sheet,
  type SheetPiece,
} from './sheet.ts';

/** Lengths in points of 1/72 inch. */
export const SHEET_MARGIN_PT = 48;
const TITLE_PT = 19;
const NAME_PT = 10.5;
const CAPTION_PT = 9;
const ANSWER_PT = 10.5;
const FOOT_PT = 8;
/** Height of a line in heights of its letters, and where its letters stand in it. */
export const LEADING = 1.38;
const BASELINE = 0.98;
const GAP = 18;
const CAPTION_GAP = 7;
const BLOCK_GAP = 5;
const INDENT = 14;
/** A contact sheet has as many columns as its pieces fill, up to this. */
const MOST_COLUMNS = 4;
/** Height of the place for a small picture, in shares of its width. */
const CELL_SHARE = 0.86;
/** Width of pictures beside what is answered, in shares of the page within its margins. */
const PICTURE_SHARE = 0.46;
const MOST_BESIDE_SHARE = 0.6;

export interface PlacedPicture {
  readonly kind: 'picture';
  readonly piece: number;
  readonly alt: string;
  readonly x: number;
  readonly y: number;
  readonly widthPt: number;
  readonly heightPt: number;
}

export type TextRole = 'title' | 'name' | 'caption' | 'heading' | 'paragraph' | 'bullet' | 'number' | 'foot';

/** A line of text; `y` is its baseline. */
export interface PlacedLine {
  readonly kind: 'line';
  readonly role: TextRole;
  /** The piece that it is about; null for titles and feet. */
  readonly piece: number | null;
  /** Lines of one paragraph share a number. */
  readonly block: number;
  readonly x: number;
  readonly y: number;
  readonly sizePt: number;
  readonly segments: readonly Segment[];
}

export type Placed = PlacedPicture | PlacedLine;

export interface LaidSheet {
  readonly widthPt: number;
  readonly heightPt: number;
  /** What stands on each page, in the order in which it is read; feet last. */
  readonly pages: readonly (readonly Placed[])[];
}

/**
 * Lays a sheet out on pages: positions in points from the top left corner. `sizes` are those of the shaped
 * photographs, in the order of the pieces; pictures keep their proportions, and nothing leaves the margins or
 * lies over something else. Throws `BAD_REQUEST` where a sheet has no pieces.
 */
export function layOutSheet(sheet: Sheet, sizes: readonly SizePx[], measure: MeasureText): LaidSheet {
  if (sheet.pieces.length === 0)
    throw new ApodixError('BAD_REQUEST', { detail: 'A sheet needs at least one photograph.' });
  const book = new Book(sheet, measure);
  if (sheet.title) book.write([{ text: sheet.title, isBold: true, isItalic: false }], 'title', TITLE_PT);
  if (sheet.layout === 'contact') placeSmall(book, sheet, sizes);
  else
    for (const [index, piece] of sheet.pieces.entries()) {
      const size = sizes[index] ?? { widthPx: 1, heightPx: 1 };
      if (sheet.layout === 'single') placeAlone(book, piece, index, size);
      else placeBeside(book, piece, index, size);
    }
  return book.finish();
}

/** Pages that are filled from top to bottom. */
class Book {
  readonly widthPt: number;
  readonly heightPt: number;
  readonly innerWidth: number;
  /** Where the next thing may stand. */
  y = SHEET_MARGIN_PT;
  private readonly pages: Placed[][] = [[]];
  private block = 0;

  private readonly sheet: Sheet;
  private readonly measure: MeasureText;

  constructor(sheet: Sheet, measure: MeasureText) {
    this.sheet = sheet;
    this.measure = measure;
    ({ widthPt: this.widthPt, heightPt: this.heightPt } = PAPERS[sheet.paper]);
    this.innerWidth = this.widthPt - 2 * SHEET_MARGIN_PT;
  }

  /** Lowest place, above the foot. */
  get bottom(): number {
    return this.heightPt - SHEET_MARGIN_PT - FOOT_PT * LEADING - 4;
  }
  get pageCount(): number {
    return this.pages.length;
  }
  get isFresh(): boolean {
    return this.pages.at(-1)?.length === 0;
  }

  turnPage(): void {
    if (this.isFresh) return;
    this.pages.push([]);
    this.y = SHEET_MARGIN_PT;
  }
  put(placed: Placed): void {
    this.pages.at(-1)?.push(placed);
  }
  lines(runs: RichBlock['runs'], sizePt: number, widthPt: number): Segment[][] {
    return breakLines(runs, sizePt, widthPt, this.measure);
  }
  nextBlock(): number {
    return (this.block += 1);
  }
  /** A line whose top is at `top`. */
  putLine(
    segments: readonly Segment[],
    of: Pick<PlacedLine, 'role' | 'piece' | 'block' | 'sizePt' | 'x'>,
    top: number,
  ): void {
    this.put({ kind: 'line', ...of, y: top + of.sizePt * BASELINE, segments });
  }
  /** Lines across the page; goes on below. */
  write(runs: RichBlock['runs'], role: TextRole, sizePt: number): void {
    const block = this.nextBlock();
    for (const segments of this.lines(runs, sizePt, this.innerWidth)) {
      this.putLine(segments, { role, piece: null, block, sizePt, x: SHEET_MARGIN_PT }, this.y);
      this.y += sizePt * LEADING;
    }
    this.y += GAP / 2;
  }

  finish(): LaidSheet {
    const { widthPt, heightPt, pages } = this;
    const top = heightPt - SHEET_MARGIN_PT - FOOT_PT * LEADING;
    for (const [index, page] of pages.entries()) {
      const words = pages.length > 1 ? `${index + 1} of ${pages.length}` : '';
      const title = index > 0 ? this.sheet.title : '';
      for (const [text, isRight] of [
        [title, false],
        [words, true],
      ] as const) {
        const [segments = []] = this.lines([plain(text)], FOOT_PT, this.innerWidth * (isRight ? 0.2 : 0.78));
        if (!text) continue;
        const wide = this.measure(text, { isBold: false, isItalic: false, sizePt: FOOT_PT });
        const x = isRight ? widthPt - SHEET_MARGIN_PT - wide : SHEET_MARGIN_PT;
        const of = { role: 'foot', piece: null, block: this.nextBlock(), sizePt: FOOT_PT, x } as const;
        page.push({ kind: 'line', ...of, y: top + FOOT_PT * BASELINE, segments });
      }
    }
    return { widthPt, heightPt, pages };
  }
}

const plain = (text: string) => ({ text, isBold: false, isItalic: false });

interface Caption {
  readonly rows: readonly {
    readonly segments: Segment[];
    readonly role: 'name' | 'caption';
    readonly sizePt: number;
  }[];
  readonly heightPt: number;
}

function writeCaption(book: Book, piece: SheetPiece, widthPt: number): Caption {
  const name = piece.title ? book.lines([{ ...plain(piece.title), isBold: true }], NAME_PT, widthPt) : [];
  const about = describePiece(piece);
  const rest = about ? book.lines([plain(about)], CAPTION_PT, widthPt) : [];
  const rows = [
    ...name.map((segments) => ({ segments, role: 'name' as const, sizePt: NAME_PT })),
    ...rest.map((segments) => ({ segments, role: 'caption' as const, sizePt: CAPTION_PT })),
  ];
  const heightPt = rows.reduce((sum, { sizePt }) => sum + sizePt * LEADING, 0);
  return { rows, heightPt: rows.length > 0 ? heightPt + CAPTION_GAP : 0 };
}

function placeCaption(book: Book, caption: Caption, piece: number, x: number, under: number): void {
  let top = under + CAPTION_GAP;
  const blocks = { name: book.nextBlock(), caption: book.nextBlock() };
  for (const { segments, role, sizePt } of caption.rows) {
    book.putLine(segments, { role, piece, block: blocks[role], sizePt, x }, top);
    top += sizePt * LEADING;
  }
}

/** The largest size with the proportions of a picture within a box. */
function fit(size: SizePx, widthPt: number, heightPt: number) {
  const scale = Math.min(widthPt / size.widthPx, heightPt / size.heightPx);
  return { widthPt: size.widthPx * scale, heightPt: size.heightPx * scale };
}

function placeAlone(book: Book, piece: SheetPiece, index: number, size: SizePx): void {
  if (index > 0) book.turnPage();
  const caption = writeCaption(book, piece, book.innerWidth);
  const own = fit(size, book.innerWidth, book.bottom - book.y - caption.heightPt);
  const x = SHEET_MARGIN_PT + (book.innerWidth - own.widthPt) / 2;
  book.put({ kind: 'picture', piece: index, alt: describeForEars(piece, index), x, y: book.y, ...own });
  placeCaption(book, caption, index, SHEET_MARGIN_PT, book.y + own.heightPt);
}

function placeSmall(book: Book, { pieces }: Sheet, sizes: readonly SizePx[]): void {
  const columns = Math.min(MOST_COLUMNS, Math.max(2, Math.ceil(Math.sqrt(pieces.length))));
  const cell = (book.innerWidth - GAP * (columns - 1)) / columns;
  for (let first = 0; first < pieces.length; first += columns) {
    const row = pieces.slice(first, first + columns).map((piece, column) => {
      const index = first + column;
      const size = fit(sizes[index] ?? { widthPx: 1, heightPx: 1 }, cell, cell * CELL_SHARE);
      return {
        piece,
        index,
        size,
        caption: writeCaption(book, piece, cell),
        x: SHEET_MARGIN_PT + column * (cell + GAP),
      };
    });
    const tall = Math.max(...row.map(({ size }) => size.heightPt));
    const whole = tall + Math.max(...row.map(({ caption }) => caption.heightPt));
    if (book.y + whole > book.bottom) book.turnPage();
    for (const { piece, index, size, caption, x } of row) {
      // Pictures of a row stand on one line, so that their captions begin on one.
      const y = book.y + tall - size.heightPt;
      book.put({ kind: 'picture', piece: index, alt: describeForEars(piece, index), x, y, ...size });
      placeCaption(book, caption, index, x, book.y + tall);
    }
    book.y += whole + GAP;
  }
}

/** A picture on the left with its caption, what is answered beside it; what is longer goes on below. */
function placeBeside(book: Book, piece: SheetPiece, index: number, size: SizePx): void {
  const wide = book.innerWidth * PICTURE_SHARE;
  const caption = writeCaption(book, piece, wide);
  const picture = fit(size, wide, (book.bottom - SHEET_MARGIN_PT) * MOST_BESIDE_SHARE);
  const left = picture.heightPt + caption.heightPt;
  if (book.y + left > book.bottom) book.turnPage();
  const top = book.y;
  book.put({
    kind: 'picture',
    piece: index,
    alt: describeForEars(piece, index),
    x: SHEET_MARGIN_PT,
    y: top,
    ...picture,
  });
  placeCaption(book, caption, index, SHEET_MARGIN_PT, top + picture.heightPt);
  const page = book.pageCount;
  const beside = SHEET_MARGIN_PT + wide + GAP;
  let number = 0;
  for (const { kind, runs } of piece.answer) {
    number = kind === 'number' ? number + 1 : 0;
    const block = book.nextBlock();
    const sizePt = kind === 'heading' ? ANSWER_PT + 2 : ANSWER_PT;
    const isListed = kind === 'bullet' || kind === 'number';
    const indent = isListed ? INDENT : 0;
    // While the picture stands beside it, the narrow place holds; below it and on later pages the whole page.
    const isBeside = () => book.pageCount === page && book.y < top + left;
    const styled = kind === 'heading' ? runs.map((run) => ({ ...run, isBold: true })) : runs;
    let rest = styled;
    let isFirst = true;
    for (;;) {
      // What goes on below keeps its distance from the caption.
      if (book.pageCount === page && !isBeside()) book.y = Math.max(book.y, top + left + BLOCK_GAP);
      const x = isBeside() ? beside : SHEET_MARGIN_PT;
      const lines = book.lines(rest, sizePt, SHEET_MARGIN_PT + book.innerWidth - x - indent);
      const [segments = []] = lines;
      if (book.y + sizePt * LEADING > book.bottom) {
        book.turnPage();
        continue;
      }
      const of = { role: kind, piece: index, block, sizePt, x: x + indent } as const;
      if (isFirst && isListed)
        book.putLine(
          [{ text: kind === 'bullet' ? '•' : `${number}.`, x: 0, isBold: false, isItalic: false }],
          { ...of, x },
          book.y,
        );
      book.putLine(segments, of, book.y);
      book.y += sizePt * LEADING;
      isFirst = false;
      if (lines.length < 2) break;
      rest = dropLine(rest, segments);
    }
    book.y += BLOCK_GAP;
  }
  if (book.pageCount === page) book.y = Math.max(book.y, top + left);
  book.y += GAP;
}

/** What is left of letters once their first line stands, without the space or line feed that ended it. */
function dropLine(runs: RichBlock['runs'], line: readonly Segment[]): RichBlock['runs'] {
  // Spaces count once in a line: signs that are no space are counted off.
  let open = line.reduce((sum, { text }) => sum + text.replaceAll(/[^\S\u00a0]/g, '').length, 0);
  const rest: RichBlock['runs'] = [];
  for (const run of runs) {
    let at = 0;
    while (open > 0 && at < run.text.length) {
      if (!/[^\S\u00a0]/.test(run.text[at] ?? '')) open -= 1;
      at += 1;
    }
    const text = open > 0 ? '' : run.text.slice(at);
    if (text) rest.push({ ...run, text });
  }
  const [first] = rest;
  if (!first) return rest;
  return [{ ...first, text: first.text.replace(/^[^\S\n\u00a0]*\n?[^\S\n\u00a0]*/, '') }, ...rest.slice(1)];
}
