import { z } from 'zod';

/** One piece a page, all of them small in rows, or each beside what is answered about it. */
export const SheetLayout = z.enum(['single', 'contact', 'response']);
export type SheetLayout = z.infer<typeof SheetLayout>;

export const Paper = z.enum(['a4', 'letter']);
export type Paper = z.infer<typeof Paper>;

/** Papers upright, in points of 1/72 inch (ISO 216; ANSI/ASME Y14.1). */
export const PAPERS: Readonly<
  Record<Paper, { readonly label: string; readonly widthPt: number; readonly heightPt: number }>
> = {
  a4: { label: 'A4', widthPt: 595.276, heightPt: 841.89 },
  letter: { label: 'Letter', widthPt: 612, heightPt: 792 },
};

export const MOST_PIECES = 40;
const MOST_BLOCKS = 200;
const MOST_SIGNS = 20_000;

/** Letters of one kind. */
export const RichRun = z.object({
  text: z.string().max(MOST_SIGNS),
  isBold: z.boolean().default(false),
  isItalic: z.boolean().default(false),
});
export type RichRun = z.infer<typeof RichRun>;

export const RichBlock = z.object({
  kind: z.enum(['paragraph', 'heading', 'bullet', 'number']),
  runs: z.array(RichRun).max(500),
});
export type RichBlock = z.infer<typeof RichBlock>;

const Words = z.string().trim().max(160);

/** A photograph on a sheet, and what stands under it and beside it. */
export const SheetPiece = z.object({
  takeId: z.string().min(1).max(64),
  title: Words.default(''),
  medium: Words.default(''),
  size: Words.default(''),
  date: Words.default(''),
  /** What is answered about it; on a response sheet alone. */
  answer: z
    .array(RichBlock)
    .max(MOST_BLOCKS)
    .refine((blocks) => countSigns(blocks) <= MOST_SIGNS, {
      message: `An answer takes at most ${MOST_SIGNS} characters.`,
    })
    .default([]),
});
export type SheetPiece = z.infer<typeof SheetPiece>;

/** Photographs in order, laid out on pages. */
export const Sheet = z
  .object({
    layout: SheetLayout,
    paper: Paper,
    title: Words,
    pieces: z.array(SheetPiece).max(MOST_PIECES),
  })
  .refine(({ pieces }) => new Set(pieces.map(({ takeId }) => takeId)).size === pieces.length, {
    message: 'Each photograph stands on a sheet once.',
    path: ['pieces'],
  });
export type Sheet = z.infer<typeof Sheet>;

/** What stands under a piece after its title. */
export const describePiece = ({ medium, size, date }: SheetPiece): string =>
  [medium, size, date].filter(Boolean).join(', ');

/** What is said of a picture to somebody who does not see it. */
export function describeForEars(piece: SheetPiece, index: number): string {
  const about = describePiece(piece);
  return `${piece.title || `Photograph ${index + 1}`}${about ? `: ${about}` : ''}`;
}

function countSigns(blocks: readonly RichBlock[]): number {
  return blocks.reduce((sum, { runs }) => sum + runs.reduce((own, { text }) => own + text.length, 0), 0);
}
