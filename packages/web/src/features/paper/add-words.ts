/** A text with words after it, a blank line between them. */
export const addWords = (text: string, words: string): string =>
  [text.trim(), words].filter(Boolean).join('\n\n');
