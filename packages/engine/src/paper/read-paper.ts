import {
  ApodixError,
  applyProjective,
  findMediaKind,
  isStillKind,
  mapSquareTo,
  seePiece,
  sniffContainer,
  SURE_CONFIDENCE,
  type ContainerId,
  type LumaPicture,
  type Quad,
} from '@apodix/core';
import { open, readdir } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { openRecogniser } from '../photo/open-recogniser.ts';
import { buildToolFault, runTool } from '../process/run-tool.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';

/** A word that the recogniser was not sure of. Positions are UTF-16 units of the text. */
export interface DoubtfulWord {
  readonly start: number;
  readonly end: number;
  readonly text: string;
  /** 0 to 100. */
  readonly confidence: number;
}

/** What stands on paper or on a slide. */
export interface PaperText {
  readonly text: string;
  readonly pages: number;
  /** Whether the text stood in the file, or was recognised from a picture. */
  readonly how: 'text' | 'recognised';
  readonly doubtful: readonly DoubtfulWord[];
}

/** Below this a word is marked: printed ones come out at 90 and more. */
const SURE_WORD = 70;
/** Below this on the whole it is no print that can be read: handwriting, or no writing at all. */
const READABLE = 45;
/** A page with fewer letters than this has its words in a picture. */
const LEAST_LETTERS = 20;
const MOST_PAGES = 12;
/** Edge of a patch that is wider than letters' strokes and narrower than shadows. */
const PATCH_PX = 40;
/** Longest edge that the recogniser is given: letters of a page are then 25 points and more high. */
const PAGE_PX = 2600;
/** Corners are looked for in a picture of this size. */
const LOOK_PX = 900;
const LIMITS = { seconds: 60, memoryBytes: 2_000_000_000, outputBytes: 200_000_000 };

/**
 * Reads instructions from a PDF, a photograph or a scan of a printed page, or of a slide (English). A sheet
 * that lies at a slant is laid flat first. Throws `NOTHING_TO_READ` where no print is found, and what reading
 * a file throws.
 */
export async function readPaper(path: string): Promise<PaperText> {
  const container = await sniffFile(path);
  if (container !== 'pdf') return recogniseAll([await preparePicture(path)]);
  const text = await readPdfText(path);
  if (text.replace(/[^\p{L}]/gu, '').length >= LEAST_LETTERS)
    return {
      text: text.trim(),
      pages: text.split('\f').filter((page) => page.trim() !== '').length,
      how: 'text',
      doubtful: [],
    };
  return withTemporaryFolder(tmpdir(), async (folder) => {
    const args = [
      '-gray',
      '-png',
      '-scale-to',
      String(PAGE_PX),
      '-l',
      String(MOST_PAGES),
      path,
      join(folder, 'page'),
    ];
    const result = await runTool({ tool: 'pdftoppm', fault: null, args, limits: LIMITS });
    if (result.exitCode !== 0) throw buildToolFault(result, 'DAMAGED');
    const names = (await readdir(folder)).sort();
    return recogniseAll(await Promise.all(names.map((name) => sharp(join(folder, name)).png().toBuffer())));
  });
}

/** Whether a file is one that instructions can be read from as from paper: a PDF or a picture. */
export async function isPaper(path: string): Promise<boolean> {
  const container = await sniffFile(path);
  return container !== null && isStillKind(findMediaKind(container));
}

async function sniffFile(path: string): Promise<ContainerId | null> {
  const file = await open(path);
  try {
    const head = Buffer.alloc(4096);
    const { bytesRead } = await file.read(head, 0, head.length, 0);
    const sniffed = sniffContainer(head.subarray(0, bytesRead));
    return 'found' in sniffed ? sniffed.found : null;
  } finally {
    await file.close();
  }
}

async function readPdfText(path: string): Promise<string> {
  const args = ['-q', '-enc', 'UTF-8', '-l', String(MOST_PAGES), path, '-'];
  const result = await runTool({ tool: 'pdftotext', fault: null, args, limits: LIMITS });
  if (result.exitCode !== 0) throw buildToolFault(result, 'DAMAGED');
  return result.stdout;
}

/** A photograph upright, grey and evenly lit, cut to the sheet where one is seen. */
async function preparePicture(path: string): Promise<Buffer> {
  try {
    const upright = sharp(path, { limitInputPixels: 120_000_000 })
      .rotate()
      .flatten({ background: '#fff' })
      .greyscale();
    const { data, info } = await upright
      .resize({ width: PAGE_PX, height: PAGE_PX, fit: 'inside' })
      .raw()
      .toBuffer({ resolveWithObject: true });
    const luma: LumaPicture = { luma: new Uint8Array(data), widthPx: info.width, heightPx: info.height };
    const flat = layFlat(luma, await findSheet(luma)) ?? luma;
    const size = { width: flat.widthPx, height: flat.heightPx, channels: 1 as const };
    return await evenLight(Buffer.from(flat.luma), size);
  } catch (error) {
    if (error instanceof ApodixError) throw error;
    throw new ApodixError('DAMAGED', { cause: error });
  }
}

interface Raw {
  readonly width: number;
  readonly height: number;
  readonly channels: 1;
}

/** Paper is white everywhere after its own brightness, seen broadly, is divided out. */
async function evenLight(luma: Buffer, raw: Raw): Promise<Buffer> {
  // The brightest of each patch is its paper; letters are narrower than a patch. One step each: of two sizes
  // in one pipeline the last counts.
  const [columns, rows] = [raw.width, raw.height].map((edge) => Math.max(4, Math.round(edge / PATCH_PX))) as [
    number,
    number,
  ];
  const patches = Buffer.alloc(columns * rows);
  for (let row = 0; row < raw.height; row += 1)
    for (let column = 0; column < raw.width; column += 1) {
      const at = Math.floor((row * rows) / raw.height) * columns + Math.floor((column * columns) / raw.width);
      patches[at] = Math.max(patches[at] ?? 0, luma[row * raw.width + column] ?? 0);
    }
  const smooth = await sharp(patches, { raw: { width: columns, height: rows, channels: 1 } })
    .blur(1)
    .greyscale()
    .raw()
    .toBuffer();
  const broad = await sharp(smooth, { raw: { width: columns, height: rows, channels: 1 } })
    .resize({ width: raw.width, height: raw.height, fit: 'fill', kernel: 'cubic' })
    .greyscale()
    .raw()
    .toBuffer();
  const even = Buffer.alloc(luma.length);
  for (let at = 0; at < luma.length; at += 1)
    even[at] = Math.min(255, Math.round(((luma[at] ?? 0) * 235) / Math.max(24, broad[at] ?? 255)));
  return sharp(even, { raw }).withMetadata({ density: 300 }).png({ compressionLevel: 1 }).toBuffer();
}

async function findSheet({ luma, widthPx, heightPx }: LumaPicture): Promise<Quad | null> {
  const raw = { width: widthPx, height: heightPx, channels: 1 as const };
  const { data, info } = await sharp(Buffer.from(luma), { raw })
    .resize({ width: LOOK_PX, height: LOOK_PX, fit: 'inside' })
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const seen = seePiece({ luma: new Uint8Array(data), widthPx: info.width, heightPx: info.height });
  if (!seen || seen.confidence < SURE_CONFIDENCE) return null;
  return seen.corners as unknown as Quad;
}

/** The part within four corners (shares of the picture) as a rectangle; null without corners. */
function layFlat({ luma, widthPx, heightPx }: LumaPicture, corners: Quad | null): LumaPicture | null {
  if (!corners) return null;
  const [p, q, r, s] = corners.map(({ x, y }) => ({
    x: x * widthPx - 0.5,
    y: y * heightPx - 0.5,
  })) as unknown as Quad;
  const length = (one: { x: number; y: number }, other: { x: number; y: number }) =>
    Math.hypot(one.x - other.x, one.y - other.y);
  const width = Math.round(Math.max(length(p, q), length(s, r)));
  const height = Math.round(Math.max(length(p, s), length(q, r)));
  if (width < 200 || height < 200) return null;
  const map = mapSquareTo([p, q, r, s]);
  const flat = new Uint8Array(width * height);
  for (let row = 0; row < height; row += 1)
    for (let column = 0; column < width; column += 1) {
      const { x, y } = applyProjective(map, { x: (column + 0.5) / width, y: (row + 0.5) / height });
      flat[row * width + column] = sampleLinear(luma, widthPx, heightPx, x, y);
    }
  return { luma: flat, widthPx: width, heightPx: height };
}

function sampleLinear(luma: Uint8Array, width: number, height: number, x: number, y: number): number {
  const [left, top] = [
    Math.max(0, Math.min(width - 2, Math.floor(x))),
    Math.max(0, Math.min(height - 2, Math.floor(y))),
  ];
  const [u, v] = [Math.max(0, Math.min(1, x - left)), Math.max(0, Math.min(1, y - top))];
  const at = top * width + left;
  const upper = (luma[at] ?? 0) * (1 - u) + (luma[at + 1] ?? 0) * u;
  const lower = (luma[at + width] ?? 0) * (1 - u) + (luma[at + width + 1] ?? 0) * u;
  return Math.round(upper * (1 - v) + lower * v);
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
      for (const block of found.blocks ?? [])
        for (const paragraph of block.paragraphs) {
          for (const line of paragraph.lines) {
            for (const word of line.words) {
              const start = text.length;
              text += word.text;
              confidences.push(word.confidence);
              if (word.confidence < SURE_WORD)
                doubtful.push({
                  start,
                  end: text.length,
                  text: word.text,
                  confidence: Math.round(word.confidence),
                });
              text += ' ';
            }
            text = `${text.trimEnd()}\n`;
          }
          text += '\n';
        }
    }
    const mean = confidences.reduce((sum, each) => sum + each, 0) / Math.max(1, confidences.length);
    if (confidences.length === 0 || mean < READABLE) throw new ApodixError('NOTHING_TO_READ');
    return { text: text.trimEnd(), pages: pages.length, how: 'recognised', doubtful };
  } finally {
    await worker.terminate();
  }
}
