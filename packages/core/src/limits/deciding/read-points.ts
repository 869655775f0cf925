import type { Sentence } from '../finding/sentences.ts';

export interface PointsMatch {
  readonly points: number;
  readonly sentence: number;
  readonly from: number;
  readonly to: number;
}

const UNIT = '(?:pts?|points?|marks?)';
/** What says that a figure is of the whole. The first group is the figure. */
const WHOLE: readonly RegExp[] = [
  new RegExp(
    `(?:out of|marked out of|graded out of|total(?: of)?|totals?|in total|altogether|worth|maximum(?: of)?|max|counts? for|carr(?:y|ies)|adds? up to|adding up to|sum)(?: (?:a|the|is|it|as|out|of|up|to|maximum|total|:|=|,|\\.|…))* (#[NO]\\d+#)(?! (?:for|each|per|%|(?:${UNIT}) (?:for|each|per)\\b))`,
    'g',
  ),
  new RegExp(`(?:=|→|->|- >|> ) (#[NO]\\d+#)(?: total)?(?: ${UNIT})?(?= total|$| ,| \\)|\\.)`, 'g'),
  new RegExp(
    `(#[NO]\\d+#)(?: ${UNIT})? (?:total|in total|altogether|in all|overall|available|maximum|max|possible|for the (?:whole|task|assignment|project))`,
    'g',
  ),
  /#O\d+# of the (#[NO]\d+#)/g,
  new RegExp(`total (?:${UNIT})?(?: ,| :| =| is| -| \\.)* (#[NO]\\d+#)`, 'g'),
  new RegExp(`^(?:${UNIT}|marks available|total marks|points possible) (?::|=|-) (#[NO]\\d+#)(?! for)`, 'g'),
  new RegExp(`(?:maximum|max|total|full) ${UNIT}(?: (?:is|are|of|:|=|available))* (#[NO]\\d+#)`, 'g'),
];
const NOT_WHOLE =
  /\b(?:scored|you got|questions?|minus|lose[sd]?|deduct\w*|bonus|extra|penalt\w*|font|size|type|headline)\b/;
const ABOUT_MARKS = new RegExp(
  `\\b(?:${UNIT}|mark(?:ed|ing)|grad(?:e|ed|ing)|worth|score[ds]?|scoring|rubric|assess\\w*|criteria)\\b`,
);

/** The points or marks of the whole; single criteria are left out where their sum is told. */
export function readPoints(
  sentences: readonly Sentence[],
  isOfPoints: (sentence: Sentence, index: number) => boolean,
): PointsMatch | null {
  let best: (PointsMatch & { readonly worth: number }) | null = null;
  const single: PointsMatch[] = [];
  sentences.forEach((sentence, at) => {
    const { tag } = sentence;
    const hasUnit = sentence.items.some((_, index) => isOfPoints(sentence, index));
    const isOfMarks =
      hasUnit ||
      /^total\b/.test(tag) ||
      [at, at - 1, at - 2, at - 3].some((each) => ABOUT_MARKS.test(sentences[each]?.tag ?? ''));
    if (!isOfMarks) return;
    for (const [rank, pattern] of WHOLE.entries()) {
      for (const match of tag.matchAll(pattern)) {
        const index = Number(/\d+/.exec(match[1] ?? '')?.[0] ?? -1);
        const item = sentence.items[index];
        const isPoints = isOfPoints(sentence, index);
        const value = item?.count ?? item?.value ?? 0;
        if (!item || (item.dimension !== 'number' && !isPoints) || !(value >= 1 && value <= 1000)) continue;
        if (
          !isPoints &&
          !hasUnit &&
          !ABOUT_MARKS.test(tag) &&
          !/^(?:out of|total|that's|that is|altogether)\b/.test(tag) &&
          rank !== 2
        )
          continue;
        if (
          NOT_WHOLE.test(tag.slice(Math.max(0, match.index - 30), match.index)) ||
          /^ (?:page|minute|second|file|video|photo|picture|word|upload|submission|attempt|hand)/.test(
            tag.slice(match.index + match[0].length),
          )
        )
          continue;
        const worth = 3 + (isPoints ? 2 : 0) + (/total|altogether|in all|out of/.test(match[0]) ? 1 : 0);
        if (!best || worth >= best.worth)
          best = { points: value, sentence: at, from: match.index, to: match.index + match[0].length, worth };
      }
    }
    sentence.items.forEach((item, index) => {
      const [from, to] = sentence.places[index] ?? [0, 0];
      const value = item.count ?? 0;
      if (!isOfPoints(sentence, index) || !(value >= 1 && value <= 1000)) return;
      const around = tag.slice(Math.max(0, from - 24), from);
      if (
        NOT_WHOLE.test(around) ||
        /\bat $/.test(around) ||
        /^ (?:for|each|per|off|bonus|extra|type|font|deduct\w*)\b/.test(tag.slice(to)) ||
        NOT_WHOLE.test(tag.slice(to, to + 14))
      )
        return;
      single.push({ points: value, sentence: at, from, to });
    });
  });
  if (best) return best;
  // Several criteria without their sum tell none.
  const [only] = single;
  return only && new Set(single.map((each) => each.points)).size === 1 && single.length === 1 ? only : null;
}
