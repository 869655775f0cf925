import { layOutSheet, type LaidSheet, type PlacedLine, type Sheet, type SizePx } from '@apodix/core';
import type PDFDocument from 'pdfkit';
import { divideByFont, measureEm, openFonts } from '../fonts/own-fonts.ts';

const INK = '#1B2123';
const SOFT_INK = '#5C6568';
const LANGUAGE = 'en';

/** Where everything stands on a sheet's pages, by the fonts that are put into it. */
export const placeSheet = (sheet: Sheet, sizes: readonly SizePx[]): LaidSheet =>
  layOutSheet(sheet, sizes, (text, style) => measureEm(text, style) * style.sizePt);

/** How a block is told to somebody who hears the document (ISO 32000-1, 14.8.4). */
const STRUCTURE: Readonly<Record<PlacedLine['role'], string>> = {
  title: 'H1',
  name: 'Caption',
  caption: 'Caption',
  heading: 'H2',
  paragraph: 'P',
  bullet: 'P',
  number: 'P',
  foot: 'P',
};

/**
 * A sheet as PDF bytes: text in fonts of its own, pictures as the JPEG bytes that are given for each piece,
 * tagged with title, order of reading and words for each picture. Nothing tells by whom or with what it was
 * written.
 */
export async function writeSheet(
  sheet: Sheet,
  laid: LaidSheet,
  pictures: readonly Buffer[],
): Promise<Buffer> {
  const { default: Pdf } = await import('pdfkit');
  const document = new Pdf({
    autoFirstPage: false,
    margin: 0,
    pdfVersion: '1.7',
    tagged: true,
    lang: LANGUAGE,
    displayTitle: true,
    // The same sheet gives the same bytes: its identity comes of what it tells.
    info: { Title: sheet.title || 'Sheet of photographs', CreationDate: new Date(0) },
  });
  for (const name of ['Producer', 'Creator', 'CreationDate'] as const) delete document.info[name];
  Object.assign(document, { endMetadata: () => undefined });
  const chunks: Buffer[] = [];
  const ended = new Promise<Buffer>((resolve, reject) => {
    document.on('data', (chunk: Buffer) => chunks.push(chunk));
    document.on('end', () => resolve(Buffer.concat(chunks)));
    document.on('error', reject);
  });
  const root = document.struct('Document');
  document.addStructure(root);
  for (const page of laid.pages) {
    document.addPage({ size: [laid.widthPt, laid.heightPt], margin: 0 });
    for (let at = 0; at < page.length; at += 1) {
      const placed = page[at];
      if (placed?.kind === 'picture') {
        const bytes = pictures[placed.piece];
        if (!bytes) throw new TypeError('Every piece needs a picture.');
        const figure = document.struct('Figure', { alt: placed.alt }, () => {
          document.image(bytes, placed.x, placed.y, { width: placed.widthPt, height: placed.heightPt });
        });
        root.add(figure);
      } else if (placed) {
        // Lines of one block are read as one.
        const lines = [placed];
        for (
          let next = page[at + 1];
          next?.kind === 'line' && next.block === placed.block;
          next = page[at + 1]
        ) {
          lines.push(next);
          at += 1;
        }
        // A space ends each line but the last, for those who hear it or copy it.
        const draw = () => lines.forEach((line, row) => drawLine(document, line, row < lines.length - 1));
        if (placed.role === 'foot') {
          document.markContent('Artifact', { type: 'Pagination' });
          draw();
          document.endMarkedContent();
        } else root.add(document.struct(STRUCTURE[placed.role], {}, draw));
      }
    }
  }
  root.end();
  document.end();
  return ended;
}

type Document = InstanceType<typeof PDFDocument>;

function drawLine(document: Document, line: PlacedLine, isGoingOn: boolean): void {
  document.fillColor(line.role === 'caption' || line.role === 'foot' ? SOFT_INK : INK).fontSize(line.sizePt);
  for (const [index, segment] of line.segments.entries()) {
    const isLast = index === line.segments.length - 1;
    const text = isLast && isGoingOn ? `${segment.text} ` : segment.text;
    let x = line.x + segment.x;
    for (const { own, part } of divideByFont(text, openFonts(segment))) {
      document.font(own.path);
      // Given by its baseline: pages and screens place it alike.
      document.text(part, x, line.y, { lineBreak: false, baseline: 'alphabetic' });
      x += (own.font.layout(part).advanceWidth / own.font.unitsPerEm) * line.sizePt;
    }
  }
}
