/** Rows of the benchmark of fit as `docs/fit.md` shows them. */
import { z } from 'zod';

const Figure = z.union([z.number(), z.string()]);

/** What `bench/make/make-video.bench.ts` writes of a case; keys are the headings of its own table. */
export const FitRow = z.object({
  case: z.string(),
  made: z.string(),
  'size of limit, %': z.number(),
  'naive, s': z.number(),
  'cold / naive': z.number(),
  'warm / naive': z.number(),
  'pressed / naive': z.number(),
  'cold, CPU': z.number(),
  'warm, CPU': z.number(),
  'stolen of cold, warm, naive, %': z.string(),
  'SSIM − naive': z.number(),
  'naive bytes, %': z.number(),
  'worst second − naive': Figure,
  'bytes / predicted, %': z.number(),
  'clarity − predicted': Figure,
  'time told, worst %': Figure,
  'memory, MB': z.number(),
});
export type FitRow = z.infer<typeof FitRow>;

/** One line of the table, a space on both sides of each figure: how wide columns are is left to others. */
export function buildFitRow(row: FitRow): string {
  const cells = [
    row.case,
    row.made,
    row['size of limit, %'].toFixed(1),
    row['naive, s'].toFixed(1),
    row['cold / naive'].toFixed(2),
    row['warm / naive'].toFixed(2),
    row['pressed / naive'].toFixed(2),
    `${row['cold, CPU'].toFixed(2)}, ${row['warm, CPU'].toFixed(2)}`,
    row['stolen of cold, warm, naive, %'],
    writeDifference(row['SSIM − naive']),
    writeDifference(row['worst second − naive']),
    row['bytes / predicted, %'].toFixed(1),
    writeDifference(row['clarity − predicted']),
    row['time told, worst %'],
    row['memory, MB'],
  ];
  return `| ${cells.join(' | ')} |`;
}

/** Four decimals with a sign; words stay as they are. */
function writeDifference(value: number | string): string {
  if (typeof value === 'string') return value;
  const sign = value > 0 ? '+' : value < 0 ? '−' : '';
  return sign + Math.abs(value).toFixed(4);
}
