import { execa } from 'execa';
import { openSync, type Font } from 'fontkit';
import { createWriteStream } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { finished } from 'node:stream/promises';
import PDFDocument from 'pdfkit';
import sharp from 'sharp';

const fontPath = createRequire(import.meta.url).resolve(
  '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff',
);
const SHEET = { width: 1240, height: 1754 };
const LETTER_PX = 34;

/** Instructions as a school prints them. */
export const SHEET_LINES = [
  'Spring project: a solo of your own choice',
  'Hand in one video of your performance in one take.',
  'It must be between two and three minutes long,',
  'and the file may not be larger than 250 MB.',
  'Film it sideways, with your hands in the picture.',
  'Please use MP4. Other formats cannot be played here.',
  'Sound must be audible from the first note to the last.',
  'Name the file Surname_Firstname_Piece.',
  'The work is marked out of 40: tone 15, rhythm 15,',
  'and stage presence 10. You have two attempts.',
  'Write a short comment that says who accompanied you.',
  'The box closes on Friday, 12 March 2027 at 16:00.',
  'Rehearsal rooms can be booked for 30 minutes a day.',
];

/** The sheet as letters' outlines, so that it looks the same on every machine. */
function drawSheet(lines: readonly string[]): Promise<Buffer> {
  const font = openSync(fontPath) as Font;
  const scale = LETTER_PX / font.unitsPerEm;
  const outlines = lines.flatMap((line, row) => {
    const run = font.layout(line);
    let x = 110;
    return run.glyphs.map((glyph, at) => {
      const place = `translate(${x} ${200 + row * 96}) scale(${scale} ${-scale})`;
      x += (run.positions[at]?.xAdvance ?? 0) * scale;
      return `<path transform="${place}" d="${glyph.path.toSVG()}"/>`;
    });
  });
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${SHEET.width}" height="${SHEET.height}"><rect width="100%" height="100%" fill="#fbfaf6"/>${outlines.join('')}</svg>`;
  return sharp(Buffer.from(svg)).removeAlpha().png().toBuffer();
}

/** A PDF with the words in it. */
export async function printPdf(path: string, lines: readonly string[] = SHEET_LINES): Promise<string> {
  const document = new PDFDocument({ size: 'A4', margin: 60 });
  const file = document.pipe(createWriteStream(path));
  document.font(fontPath).fontSize(12);
  for (const line of lines) document.text(line, { paragraphGap: 8 });
  document.end();
  await finished(file);
  return path;
}

/** A PDF that holds nothing but a scan. */
export async function scanPdf(path: string, lines: readonly string[] = SHEET_LINES): Promise<string> {
  const document = new PDFDocument({ size: 'A4', margin: 0 });
  const file = document.pipe(createWriteStream(path));
  document.image(await drawSheet(lines), 0, 0, { width: 595 });
  document.end();
  await finished(file);
  return path;
}

/** A photograph of the sheet on a desk, at a slant and under one lamp; warp and light are FFmpeg’s. */
export async function photographSheet(folder: string, name: string): Promise<string> {
  const [sheet, path] = [join(folder, 'sheet.png'), join(folder, name)];
  const [width, height] = [3000, 2400];
  await sharp(await drawSheet(SHEET_LINES))
    .resize(width - 8, height - 8, { fit: 'fill' })
    .extend({ top: 4, bottom: 4, left: 4, right: 4, background: '#4a3b30' })
    .toFile(sheet);
  const corners = 'x0=700:y0=190:x1=2210:y1=120:x2=470:y2=2270:x3=2420:y3=2180';
  const warp = `perspective=${corners}:interpolation=cubic:sense=destination`;
  const lamp =
    'vignette=angle=0.55:x0=900:y0=700,colorchannelmixer=rr=1.05:gg=0.93:bb=0.72,noise=alls=5:allf=t,gblur=0.7';
  const desk = `color=c=0x4a3b30:s=${width}x${height}:d=1[desk];[0:v]format=gbrp,split[a][b];[a]${warp}[sheet];[b]geq=r=255:g=255:b=255,drawbox=t=4:c=black,${warp},format=gray[mask];[sheet][mask]alphamerge[cut];[desk][cut]overlay,${lamp}`;
  await execa('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-i',
    sheet,
    '-filter_complex',
    desk,
    '-frames:v',
    '1',
    '-q:v',
    '3',
    path,
  ]);
  return path;
}

/** The least PDF that holds words; readers rebuild its missing table of objects. */
export const LITTLE_PDF = Buffer.from(`%PDF-1.4
1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj
2 0 obj<</Type/Pages/Kids[3 0 R]/Count 1>>endobj
3 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 300 200]/Contents 4 0 R/Resources<</Font<</F1 5 0 R>>>>>>endobj
4 0 obj<</Length 70>>stream
BT /F1 12 Tf 20 100 Td (Film one dance of at most two minutes.) Tj ET
endstream endobj
5 0 obj<</Type/Font/Subtype/Type1/BaseFont/Helvetica>>endobj
trailer<</Root 1 0 R>>
`);
