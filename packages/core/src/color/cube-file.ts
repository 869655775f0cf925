import type { ColorTable } from './read-table.ts';

const LEAST_EDGE = 2;
const MOST_EDGE = 65;

/** Writes a table as a `.cube` file: red fastest, six decimals. */
export function writeCube({ edge, values }: ColorTable, title = 'Apodix'): string {
  const lines = [`TITLE "${title.replace(/["\r\n]/g, ' ')}"`, `LUT_3D_SIZE ${edge}`];
  for (let at = 0; at < values.length; at += 3)
    lines.push([0, 1, 2].map((side) => (values[at + side] ?? 0).toFixed(6)).join(' '));
  return `${lines.join('\n')}\n`;
}

/**
 * Reads a `.cube` file of a three-dimensional table over 0 to 1. Throws a `RangeError` that says what is
 * wrong with it.
 */
export function readCube(text: string): ColorTable {
  let edge = 0;
  const numbers: number[] = [];
  for (const [index, raw] of text.split(/\r\n|\r|\n/).entries()) {
    const line = raw.trim();
    if (line === '' || line.startsWith('#') || line.startsWith('TITLE')) continue;
    const words = line.split(/\s+/);
    if (words[0] === 'LUT_3D_SIZE') edge = Number(words[1]);
    else if (words[0] === 'LUT_1D_SIZE') throw new RangeError('Only tables of three dimensions can be read.');
    else if (words[0] === 'DOMAIN_MIN' || words[0] === 'DOMAIN_MAX') {
      const wanted = words[0] === 'DOMAIN_MIN' ? 0 : 1;
      if (words.slice(1).some((word) => Number(word) !== wanted))
        throw new RangeError('Only tables over 0 to 1 can be read.');
    } else {
      const triple = words.map(Number);
      if (triple.length !== 3 || !triple.every(Number.isFinite))
        throw new RangeError(`Line ${index + 1} is not three numbers.`);
      numbers.push(...triple);
    }
  }
  if (!Number.isInteger(edge) || edge < LEAST_EDGE || edge > MOST_EDGE)
    throw new RangeError('The size of the table is missing or cannot be.');
  if (numbers.length !== edge ** 3 * 3)
    throw new RangeError(`${edge ** 3} colors were to be there, there are ${numbers.length / 3}.`);
  return { edge, values: Float32Array.from(numbers) };
}
