import type { PaperText, ReadLimits } from '@apodix/core';
import { execa } from 'execa';
import { writeHeif } from '@apodix/demo';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { itLong } from '../test-support/long.ts';
import { photographSheet, printPdf, scanPdf, SHEET_LINES } from '../test-support/printed-sheet.ts';

let folder = '';
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-paper-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

interface Answer extends ReadLimits {
  readonly paper: Omit<PaperText, 'pages'> & { readonly pages: number };
}

async function readLimits(path: string): Promise<{ answer: Answer; exitCode: number | undefined }> {
  const command = join(import.meta.dirname, '../../packages/engine/dist/bundled/main.js');
  const now = ['--now', '2027-01-10T12:00'];
  const { stdout, exitCode } = await execa('node', [command, 'read-limits', path, ...now], { reject: false });
  return { answer: JSON.parse(stdout) as Answer, exitCode };
}

const words = (text: string) => text.toLowerCase().match(/[\p{L}\p{N}_:]+/gu) ?? [];
/** Share of the printed words that were read, in their order (longest common subsequence). */
function measureRight(text: string): number {
  const [wanted, read] = [words(SHEET_LINES.join(' ')), words(text)];
  let row = new Array<number>(read.length + 1).fill(0);
  for (const word of wanted) {
    const next = [0];
    for (let at = 1; at <= read.length; at += 1)
      next.push(read[at - 1] === word ? (row[at - 1] ?? 0) + 1 : Math.max(row[at] ?? 0, next[at - 1] ?? 0));
    row = next;
  }
  return (row.at(-1) ?? 0) / wanted.length;
}

const KINDS = [
  'attempts',
  'count',
  'due',
  'file-name',
  'file-size',
  'format',
  'length',
  'one-take',
  'orientation',
  'points',
];

describe('instructions on paper', () => {
  it('are read out of a PDF that holds words', async () => {
    const { answer } = await readLimits(await printPdf(join(folder, 'words.pdf')));
    expect([answer.paper.how, measureRight(answer.paper.text)]).toEqual(['text', 1]);
    expect(answer.limits.map(({ kind }) => kind)).toEqual(expect.arrayContaining(KINDS));
  });

  const recognise = async (path: string) => {
    const { answer } = await readLimits(path);
    expect(answer.paper.how).toBe('recognised');
    expect(measureRight(answer.paper.text)).toBeGreaterThanOrEqual(0.97);
    expect(answer.limits.map(({ kind }) => kind)).toEqual(expect.arrayContaining(KINDS));
    for (const { start, end, text } of answer.paper.doubtful)
      expect(answer.paper.text.slice(start, end)).toBe(text);
  };
  it('are recognised in a photograph at a slant under a lamp', async () =>
    recognise(await photographSheet(folder, 'sheet.jpg')));
  itLong('are recognised in a photograph as phones keep it (HEIC)', async () => {
    const sheet = sharp(await photographSheet(folder, 'phone.jpg')).resize(2400);
    const { data, info } = await sheet.raw().toBuffer({ resolveWithObject: true });
    const path = join(folder, 'sheet.heic');
    await writeFile(
      path,
      await writeHeif({ rgb: data, widthPx: info.width, heightPx: info.height, exif: null }),
    );
    await recognise(path);
  });
  itLong('are recognised in a PDF that holds a scan', async () =>
    recognise(await scanPdf(join(folder, 'scan.pdf'))),
  );

  itLong('are recognised on a dark slide with light letters', async () => {
    const [sheet, slide] = [await photographSheet(folder, 'paper.jpg'), join(folder, 'slide.jpg')];
    await sharp(sheet).negate().jpeg().toFile(slide);
    const { answer } = await readLimits(slide);
    expect(measureRight(answer.paper.text)).toBeGreaterThanOrEqual(0.97);
  });

  it('say so where there is nothing that can be read', async () => {
    const path = join(folder, 'blank.png');
    const blank = { width: 800, height: 600, channels: 3 as const, background: '#c9b28f' };
    await sharp({ create: blank }).png().toFile(path);
    const { answer, exitCode } = await readLimits(path);
    expect(JSON.stringify(answer)).toContain('NOTHING_TO_READ');
    expect(exitCode).not.toBe(0);
  });
});
