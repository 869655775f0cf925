import { ApodixError, findMedian, type DoubtfulWord, type PaperText } from '@apodix/core';
import sharp from 'sharp';
import { rasterizePages } from '../document/rasterize-pdf.ts';
import { openRecogniser } from '../photo/open-recogniser.ts';
import { buildToolFault, runTool } from '../process/run-tool.ts';
import { findPaper } from './find-paper.ts';
import { PAGE_PX, preparePage } from './prepare-page.ts';

/** Below this a word is marked: printed ones come out at 90 and more. */
const SURE_WORD = 70;
/** The same for figures, which limits are made of. */
const SURE_FIGURE = 90;
/** A page as a whole: clean print comes out at 90 and more. */
const SURE_PAGE = 85;
/** Below this on the whole it is no print that can be read: handwriting, or no writing at all. */
const READABLE = 45;
/** A step down the page that is so many times the usual one begins a paragraph. */
const PARAGRAPH = 1.5;
/** A page with fewer letters than this has its words in a picture. */
const LEAST_LETTERS = 20;
const MOST_PAGES = 12;
/** Longest edge of the pictures that a person looks at beside the words. */
const SHOWN_PX = 1200;
const LIMITS = { seconds: 60, memoryBytes: 2_000_000_000, outputBytes: 200_000_000 };

/**
 * Reads instructions from a PDF, a photograph or a scan of a printed page, or of a slide (English), in this
 * process. A sheet that lies at a slant is laid flat first. Throws `NOTHING_TO_READ` where no print is found,
 * and what reading a file throws.
 */
export async function readPaperHere(path: string): Promise<PaperText> {
  const container = await findPaper(path);
  if (container === null) throw new ApodixError('NOT_PAPER');
  if (container !== 'pdf') return recogniseAll([await preparePage(path, container)]);
  const text = await readPdfText(path);
  const isText = text.replace(/[^\p{L}]/gu, '').length >= LEAST_LETTERS;
  const pages = await rasterizePages(path, isText ? SHOWN_PX : PAGE_PX, MOST_PAGES);
  if (!isText) return recogniseAll(pages);
  return { text: text.replace(/\f/g, '\n').trim(), how: 'text', doubtful: [], pages: await showPages(pages) };
}

/** Pages as a person looks at them: JPEG, in base 64. */
function showPages(pages: readonly Buffer[]): Promise<string[]> {
  return Promise.all(
    pages.map(async (page) => {
      const small = sharp(page).resize({ width: SHOWN_PX, height: SHOWN_PX, fit: 'inside' });
      return (await small.jpeg({ quality: 72 }).toBuffer()).toString('base64');
    }),
  );
}

async function readPdfText(path: string): Promise<string> {
  const args = ['-q', '-enc', 'UTF-8', '-l', String(MOST_PAGES), path, '-'];
  const result = await runTool({ tool: 'pdftotext', fault: null, args, limits: LIMITS });
  if (result.exitCode !== 0) throw buildToolFault(result, 'DAMAGED');
  return result.stdout;
}

/** Recognises pages one after another, with the words that are doubtful. */
async function recogniseAll(pages: readonly Buffer[]): Promise<PaperText> {
  const worker = await openRecogniser();
  try {
    let text = '';
    const doubtful: DoubtfulWord[] = [];
    const confidences: number[] = [];
    for (const page of pages) {
      const { data: found } = await worker.recognize(page, {}, { text: true, blocks: true });
      const lines = (found.blocks ?? []).flatMap(({ paragraphs }) =>
        paragraphs.flatMap((each) => each.lines),
      );
      const steps = lines.slice(1).map((line, at) => line.bbox.y0 - (lines[at]?.bbox.y0 ?? 0));
      const usual = findMedian(steps.filter((step) => step > 0));
      // Of a page that was hard to read every figure is to be looked at: limits are made of figures.
      const sureFigure = found.confidence < SURE_PAGE ? 101 : SURE_FIGURE;
      lines.forEach((line, at) => {
        if (at > 0 && (steps[at - 1] ?? 0) > PARAGRAPH * usual) text += '\n';
        for (const word of line.words) {
          const start = text.length;
          text += word.text;
          confidences.push(word.confidence);
          const confidence = Math.round(word.confidence);
          const sure = /\d/.test(word.text) ? sureFigure : SURE_WORD;
          if (word.confidence < sure) doubtful.push({ start, end: text.length, text: word.text, confidence });
          text += ' ';
        }
        text = `${text.trimEnd()}\n`;
      });
      text += '\n';
    }
    const mean = confidences.reduce((sum, each) => sum + each, 0) / Math.max(1, confidences.length);
    if (confidences.length === 0 || mean < READABLE) throw new ApodixError('NOTHING_TO_READ');
    return { text: text.trimEnd(), how: 'recognised', doubtful, pages: await showPages(pages) };
  } finally {
    await worker.terminate();
  }
}
