export interface SpokenSentence {
  readonly start: number;
  readonly end: number;
  readonly text: string;
}

/** Sentences of a text for listening, with where they stand; blank stretches are left out. */
export function divideSentences(text: string): SpokenSentence[] {
  const segmenter = new Intl.Segmenter('en', { granularity: 'sentence' });
  return [...segmenter.segment(text)].flatMap(({ segment, index }) => {
    const lead = segment.length - segment.trimStart().length;
    const spoken = segment.trim();
    return spoken === '' ? [] : [{ start: index + lead, end: index + lead + spoken.length, text: spoken }];
  });
}
