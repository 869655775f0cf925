import type { RichRun } from './sheet.ts';

export interface TextStyle {
  readonly isBold: boolean;
  readonly isItalic: boolean;
  readonly sizePt: number;
}

/** How wide letters of a style are, in points. */
export type MeasureText = (text: string, style: TextStyle) => number;

/** Letters of one style within a line; `x` from the start of the line, in points. */
export interface Segment {
  readonly text: string;
  readonly x: number;
  readonly isBold: boolean;
  readonly isItalic: boolean;
}

interface Word {
  readonly parts: readonly RichRun[];
  /** A space stands before it. */
  readonly isSpaced: boolean;
  readonly isNewLine: boolean;
}

/**
 * Breaks letters into lines no wider than `widthPt`: between words, and inside of one only where it is wider
 * than a line by itself. A line feed begins a new line.
 */
export function breakLines(
  runs: readonly RichRun[],
  sizePt: number,
  widthPt: number,
  measure: MeasureText,
): Segment[][] {
  const widthOf = ({ text, isBold, isItalic }: RichRun) => measure(text, { isBold, isItalic, sizePt });
  const lines: RichRun[][] = [];
  let line: RichRun[] = [];
  let used = 0;
  const end = () => {
    lines.push(line);
    [line, used] = [[], 0];
  };
  for (const word of divideWords(runs)) {
    if (word.isNewLine) end();
    const wide = word.parts.reduce((sum, part) => sum + widthOf(part), 0);
    const first = word.parts[0];
    const space = word.isSpaced && line.length > 0 && first ? [{ ...first, text: ' ' }] : [];
    const spaceWidth = space[0] ? widthOf(space[0]) : 0;
    if (used + spaceWidth + wide <= widthPt) {
      line.push(...space, ...word.parts);
      used += spaceWidth + wide;
      continue;
    }
    if (line.length > 0) end();
    for (const part of word.parts)
      for (const sign of wide <= widthPt ? [part.text] : divideSigns(part.text)) {
        const own = widthOf({ ...part, text: sign });
        if (used > 0 && used + own > widthPt) end();
        line.push({ ...part, text: sign });
        used += own;
      }
  }
  if (line.length > 0 || lines.length === 0) end();
  return lines.map((each) => place(each, widthOf));
}

const divideSigns = (text: string): string[] =>
  [...new Intl.Segmenter().segment(text)].map(({ segment }) => segment);

function divideWords(runs: readonly RichRun[]): Word[] {
  const words: Word[] = [];
  let parts: RichRun[] = [];
  let [isSpaced, isNewLine] = [false, false];
  const end = () => {
    if (parts.length > 0 || isNewLine) words.push({ parts, isSpaced, isNewLine });
    [parts, isSpaced, isNewLine] = [[], false, false];
  };
  for (const run of runs)
    for (const text of run.text.split(/(\n|[^\S\n\u00a0]+)/).filter(Boolean)) {
      if (text === '\n') {
        end();
        isNewLine = true;
      } else if (/^[^\S\u00a0]/.test(text)) {
        if (parts.length > 0) end();
        isSpaced = true;
      } else parts.push({ ...run, text });
    }
  end();
  return words;
}

/** Neighbours of one style become one segment, so that letters are set by their font's own kerning. */
function place(runs: readonly RichRun[], widthOf: (run: RichRun) => number): Segment[] {
  const joined: RichRun[] = [];
  for (const run of runs) {
    const last = joined.at(-1);
    if (last?.isBold === run.isBold && last.isItalic === run.isItalic)
      joined[joined.length - 1] = { ...last, text: last.text + run.text };
    else joined.push(run);
  }
  let x = 0;
  return joined.map((run) => {
    const at = x;
    x += widthOf(run);
    return { text: run.text, x: at, isBold: run.isBold, isItalic: run.isItalic };
  });
}
