import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { breakLines } from './break-lines.ts';
import { layOutSheet, LEADING, SHEET_MARGIN_PT, type LaidSheet, type Placed } from './lay-out-sheet.ts';
import { MOST_PIECES, PAPERS, Sheet, type RichBlock } from './sheet.ts';

/** Every sign half as wide as it is high, bold ones a tenth wider. */
const measure = (text: string, { isBold, sizePt }: { isBold: boolean; sizePt: number }) =>
  text.length * sizePt * (isBold ? 0.55 : 0.5);

const words = fc
  .array(fc.constantFrom('sea', 'charcoal', 'of', 'a', 'still', 'life', 'Überschneidungslinienzeichnung'), {
    maxLength: 60,
  })
  .map((each) => each.join(' '));
const short = words.map((each) => each.slice(0, 160).trim());
const block: fc.Arbitrary<RichBlock> = fc.record({
  kind: fc.constantFrom('paragraph', 'heading', 'bullet', 'number'),
  runs: fc.array(fc.record({ text: words, isBold: fc.boolean(), isItalic: fc.boolean() }), { maxLength: 4 }),
});
const cases = fc.record({
  layout: fc.constantFrom('single' as const, 'contact' as const, 'response' as const),
  paper: fc.constantFrom('a4' as const, 'letter' as const),
  title: short,
  pieces: fc.array(
    fc.record({
      title: short,
      medium: short,
      size: short,
      date: short,
      answer: fc.array(block, { maxLength: 8 }),
      picture: fc.record({
        widthPx: fc.integer({ min: 20, max: 4000 }),
        heightPx: fc.integer({ min: 20, max: 4000 }),
      }),
    }),
    { minLength: 1, maxLength: 9 },
  ),
});
const build = ({ pieces, ...rest }: typeof cases extends fc.Arbitrary<infer T> ? T : never) => ({
  sheet: Sheet.parse({ ...rest, pieces: pieces.map((piece, index) => ({ ...piece, takeId: `t${index}` })) }),
  sizes: pieces.map(({ picture }) => picture),
});

/** What a thing covers: top, bottom, left, right. */
function cover(placed: Placed) {
  if (placed.kind === 'picture')
    return {
      top: placed.y,
      bottom: placed.y + placed.heightPt,
      left: placed.x,
      right: placed.x + placed.widthPt,
    };
  const last = placed.segments.at(-1);
  const wide = last ? last.x + measure(last.text, { ...last, sizePt: placed.sizePt }) : 0;
  return {
    top: placed.y - placed.sizePt * 0.8,
    bottom: placed.y + placed.sizePt * 0.2,
    left: placed.x,
    right: placed.x + wide,
  };
}
const readAll = (laid: LaidSheet, role: (each: string) => boolean, piece: number | null) =>
  laid.pages
    .flat()
    .flatMap((each) => (each.kind === 'line' && role(each.role) && each.piece === piece ? each.segments : []))
    .map(({ text }) => text)
    .join('')
    .replaceAll(/\s/g, '');

describe('a sheet', () => {
  it('keeps its margins, lays nothing over anything, and keeps every picture’s proportions', () =>
    fc.assert(
      fc.property(cases, (each) => {
        const { sheet, sizes } = build(each);
        const laid = layOutSheet(sheet, sizes, measure);
        expect([laid.widthPt, laid.heightPt]).toEqual([
          PAPERS[sheet.paper].widthPt,
          PAPERS[sheet.paper].heightPt,
        ]);
        const pictures = laid.pages.flat().filter((placed) => placed.kind === 'picture');
        expect(pictures.map(({ piece }) => piece)).toEqual(sizes.map((_, index) => index));
        for (const { piece, widthPt, heightPt } of pictures) {
          const { widthPx = 1, heightPx = 1 } = sizes[piece] ?? {};
          expect(widthPt / heightPt).toBeCloseTo(widthPx / heightPx, 6);
        }
        for (const page of laid.pages) {
          expect(page.length).toBeGreaterThan(0);
          const covered = page.map(cover);
          for (const [index, one] of covered.entries()) {
            expect(one.left).toBeGreaterThanOrEqual(SHEET_MARGIN_PT - 1e-6);
            expect(one.right).toBeLessThanOrEqual(laid.widthPt - SHEET_MARGIN_PT + 1e-6);
            expect(one.top).toBeGreaterThanOrEqual(SHEET_MARGIN_PT - 1e-6);
            expect(one.bottom).toBeLessThanOrEqual(laid.heightPt - SHEET_MARGIN_PT + 1e-6);
            for (const other of covered.slice(index + 1))
              expect(
                one.right <= other.left + 1e-6 ||
                  other.right <= one.left + 1e-6 ||
                  one.bottom <= other.top + 1e-6 ||
                  other.bottom <= one.top + 1e-6,
              ).toBe(true);
          }
        }
      }),
      { numRuns: 150 },
    ));

  it('says every word of captions and answers once, in order', () =>
    fc.assert(
      fc.property(cases, (each) => {
        const { sheet, sizes } = build(each);
        const laid = layOutSheet(sheet, sizes, measure);
        const bare = (text: string) => text.replaceAll(/\s/g, '');
        expect(readAll(laid, (role) => role === 'title', null)).toBe(bare(sheet.title));
        for (const [index, piece] of sheet.pieces.entries()) {
          expect(readAll(laid, (role) => role === 'name', index)).toBe(bare(piece.title));
          expect(readAll(laid, (role) => role === 'caption', index)).toBe(
            bare([piece.medium, piece.size, piece.date].filter(Boolean).join(', ')),
          );
          const answered = laid.pages
            .flat()
            .flatMap((placed) =>
              placed.kind === 'line' && placed.piece === index && !['name', 'caption'].includes(placed.role)
                ? [placed.segments.map(({ text }) => text).join('')]
                : [],
            )
            .filter((text) => !/^(•|\d+\.)$/.test(text));
          const wanted = sheet.layout === 'response' ? piece.answer : [];
          expect(bare(answered.join(''))).toBe(
            bare(wanted.flatMap(({ runs }) => runs.map(({ text }) => text)).join('')),
          );
        }
      }),
      { numRuns: 150 },
    ));

  it('counts numbered answers, and begins at one again after something else', () => {
    const text = (kind: RichBlock['kind']) => ({
      kind,
      runs: [{ text: 'x', isBold: false, isItalic: false }],
    });
    const answer = [text('number'), text('number'), text('paragraph'), text('number'), text('bullet')];
    const sheet = Sheet.parse({
      layout: 'response',
      paper: 'a4',
      title: '',
      pieces: [{ takeId: 't', answer }],
    });
    const laid = layOutSheet(sheet, [{ widthPx: 3, heightPx: 2 }], measure);
    const signs = laid.pages.flat().flatMap((each) => (each.kind === 'line' ? each.segments[0]?.text : []));
    expect(signs.filter((each) => each !== 'x')).toEqual(['1.', '2.', '1.', '•']);
  });

  it('puts a long answer beside the picture, then below it at full width, then on the next page', () => {
    const answer = [{ kind: 'paragraph', runs: [{ text: 'word '.repeat(3000).trim() }] }];
    const sheet = Sheet.parse({
      layout: 'response',
      paper: 'letter',
      title: 'Study',
      pieces: [{ takeId: 't', answer }],
    });
    const laid = layOutSheet(sheet, [{ widthPx: 4, heightPx: 3 }], measure);
    const lines = laid.pages.map((page) =>
      page.filter((each) => each.kind === 'line' && each.role === 'paragraph'),
    );
    const starts = lines.map((page) => [...new Set(page.map(({ x }) => Math.round(x)))]);
    expect(starts[0]).toHaveLength(2);
    expect(starts[1]).toEqual([SHEET_MARGIN_PT]);
    const [picture] = laid.pages[0]?.filter((each) => each.kind === 'picture') ?? [];
    const low = lines[0]?.find(({ x }) => x === SHEET_MARGIN_PT);
    expect(low && low.y - 10.5 * LEADING).toBeGreaterThan((picture?.y ?? 0) + (picture?.heightPt ?? 0) - 14);
  });

  it('needs a piece, and takes each photograph once and no more than it has room for', () => {
    const sheet = Sheet.parse({ layout: 'contact', paper: 'a4', title: '', pieces: [] });
    expect(() => layOutSheet(sheet, [], measure)).toThrow(
      expect.objectContaining({ detail: 'A sheet needs at least one photograph.' }) as Error,
    );
    const pieces = (ids: string[]) => ({ ...sheet, pieces: ids.map((takeId) => ({ takeId })) });
    expect(Sheet.safeParse(pieces(['a', 'a'])).success).toBe(false);
    expect(Sheet.safeParse(pieces(Array.from({ length: MOST_PIECES + 1 }, (_, n) => `t${n}`))).success).toBe(
      false,
    );
  });
});

describe('lines', () => {
  const plain = (text: string) => [{ text, isBold: false, isItalic: false }];
  const read = (text: string, widthPt: number) =>
    breakLines(plain(text), 10, widthPt, measure).map((line) => line.map((each) => each.text).join(''));
  it.each([
    ['to be or not', 30, ['to be', 'or not']],
    ['to be or not', 25, ['to be', 'or', 'not']],
    ['extraordinary', 25, ['extra', 'ordin', 'ary']],
    ['one\n\nthree', 100, ['one', '', 'three']],
    ['keep\u00a0together now', 65, ['keep\u00a0together', 'now']],
    ['', 100, ['']],
  ])('%j within %d', (text, widthPt, wanted) => {
    expect(read(text, widthPt)).toEqual(wanted);
  });

  it('a word of two styles is not torn, and each style has its own place', () => {
    const runs = [
      { text: 'half ', isBold: false, isItalic: false },
      { text: 'bo', isBold: true, isItalic: false },
      { text: 'ld', isBold: false, isItalic: false },
    ];
    const [first, second] = breakLines(runs, 10, 30, measure);
    expect(first?.map(({ text }) => text)).toEqual(['half']);
    expect(second?.map(({ text, x }) => [text, x])).toEqual([
      ['bo', 0],
      ['ld', 11],
    ]);
  });
});
