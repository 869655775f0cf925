import { z } from 'zod';
import { readColorTable, type ColorTable } from './read-table.ts';

/** So many points along each edge are kept of a foreign table: its own, where it has no more. */
export const MOST_LOOK_EDGE = 17;
const STEPS = 65_535;

/**
 * A table of somebody else's that is applied after everything else: `edge`³ × 3 values from 0 to 1 in 16
 * bits, low byte first, red fastest, as Base64.
 */
export const LookTable = z
  .strictObject({
    name: z.string().min(1).max(80),
    edge: z.int().min(2).max(MOST_LOOK_EDGE),
    values: z.string().max(60_000),
  })
  .refine((look) => countBytes(look.values) === look.edge ** 3 * 6, {
    message: 'The table does not hold what its size says.',
  });
export type LookTable = z.infer<typeof LookTable>;

const countBytes = (base64: string) =>
  /^[A-Za-z0-9+/]*={0,2}$/.test(base64) ? Math.floor((base64.replace(/=+$/, '').length * 3) / 4) : -1;

/** Keeps a table for a recipe: at its own points, or at `MOST_LOOK_EDGE` of them. */
export function packLook(name: string, table: ColorTable): LookTable {
  const edge = Math.min(table.edge, MOST_LOOK_EDGE);
  const bytes = new Uint8Array(edge ** 3 * 6);
  const out = [0, 0, 0];
  let at = 0;
  for (let blue = 0; blue < edge; blue += 1)
    for (let green = 0; green < edge; green += 1)
      for (let red = 0; red < edge; red += 1) {
        readColorTable(table, red / (edge - 1), green / (edge - 1), blue / (edge - 1), out);
        for (const value of out) {
          const step = Math.round(Math.max(0, Math.min(1, value)) * STEPS);
          bytes[at] = step & 255;
          bytes[at + 1] = step >> 8;
          at += 2;
        }
      }
  let text = '';
  for (const byte of bytes) text += String.fromCharCode(byte);
  return { name: name.slice(0, 80) || 'table', edge, values: btoa(text) };
}

/** The table that a recipe keeps. */
export function unpackLook({ edge, values }: LookTable): ColorTable {
  const text = atob(values);
  const numbers = new Float32Array(edge ** 3 * 3);
  for (let index = 0; index < numbers.length; index += 1)
    numbers[index] = (text.charCodeAt(index * 2) + 256 * text.charCodeAt(index * 2 + 1)) / STEPS;
  return { edge, values: numbers };
}
