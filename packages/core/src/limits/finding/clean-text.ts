const BLOCK_TAGS =
  /^<\/?(?:p|br|li|ul|ol|div|tr|td|th|table|h[1-6]|section|article|header|footer|blockquote|pre|hr)\b/i;
const ENTITIES: Readonly<Record<string, string>> = {
  amp: '&',
  lt: '<',
  gt: '>',
  quot: '"',
  apos: "'",
  '#39': "'",
  ndash: '-',
  mdash: '-',
  times: 'x',
  le: '≤',
  ge: '≥',
};
const SIGNS: Readonly<Record<string, string>> = {
  '\u2018': "'",
  '\u2019': "'",
  '\u201b': "'",
  '\u2032': "'",
  '\u00b4': "'",
  '\u201c': '"',
  '\u201d': '"',
  '\u2033': '"',
  '\u2010': '-',
  '\u2011': '-',
  '\u2012': '-',
  '\u2013': '-',
  '\u2014': '-',
  '\u2212': '-',
  '\u00d7': 'x',
  '\u2715': 'x',
  '\u2026': '.',
  '\u2022': '\n',
  '\u00b7': ' ',
  '\u25cf': '\n',
  '\u2028': '\n',
  '\u2029': '\n',
};

/**
 * Prepares prose for reading: lower case, one form for each dash and quote, HTML tags and control
 * characters gone.
 * The result has the same length as the text, so that every position stays what it was.
 */
export function cleanText(text: string): string {
  const pad = (match: string, sign: string) => sign + ' '.repeat(match.length - sign.length);
  const plain = text
    .replace(/<(script|style)\b[^>]{0,2000}>[\s\S]{0,20000}?<\/\1>/gi, (match) => pad(match, '\n'))
    .replace(/<!--[\s\S]{0,5000}?-->/g, (match) => pad(match, ' '))
    .replace(/<\/?[a-z][^<>]{0,500}>/gi, (match) => pad(match, BLOCK_TAGS.test(match) ? '\n' : ' '))
    .replace(/\b([ap])\.m\./gi, (match, half: string) => `${half}m`.padStart(match.length))
    .replace(/&(#?[a-z0-9]{1,8});/gi, (match, name: string) =>
      pad(match, ENTITIES[name.toLowerCase()] ?? ' '),
    );
  let cleaned = '';
  for (let index = 0; index < plain.length; index += 1) {
    const sign = plain[index] ?? '';
    const replaced = SIGNS[sign];
    const lower = sign.toLowerCase();
    if (replaced !== undefined) cleaned += replaced;
    else if (sign === '\n') cleaned += sign;
    else if (/[\p{Cc}\p{Cf}\p{Zs}\p{Co}]/u.test(sign)) cleaned += ' ';
    else cleaned += lower.length === 1 ? lower : sign;
  }
  // "Voice ........ 6": dots that lead to a figure end no sentence.
  return cleaned.replace(/\.{4,}(?= ?\d)/g, (match) => pad(match, ':'));
}
