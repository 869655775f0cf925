import { containerTable } from '../../media/containers.ts';
import { readBoundAt, type TextContext } from './context.ts';
import type { Language } from '../finding/language.ts';
import type { Sentence } from '../finding/sentences.ts';

export interface CountMatch {
  readonly item: 'video' | 'sound' | 'photo' | 'document';
  readonly min: number;
  readonly max: number | null;
  readonly from: number;
  readonly to: number;
  readonly alternative: string | null;
}

const NO_ADJECTIVE =
  '(?!(?:you|i|we|they|it|must|should|will|can|may|your|my|of|the|in|to|and|for|per|a|an|is|are|at|from|with|by|on|or|times?|attempts?|each|as)\\b)';
const patterns = new WeakMap<Language, RegExp>();

/** A number, up to three words and a noun of the language. */
function buildPattern(language: Language): RegExp {
  const known = patterns.get(language);
  if (known) return known;
  const nouns = [...Object.keys(language.nouns), ...Object.keys(language.formats)]
    .sort((left, right) => right.length - left.length)
    .join('|');
  const pattern = new RegExp(
    `(?:(?:between|from) )?(#N(\\d+)#)(?: \\( #N\\d+# \\))?(?: (?:to|-|or|and) #N(\\d+)#)?((?: ${NO_ADJECTIVE}[a-z']+){0,3}?) (${nouns})(?![a-z0-9'])(?: ([a-z]+))?`,
    'g',
  );
  patterns.set(language, pattern);
  return pattern;
}
const DEMAND =
  /\b(?:hands? (?:me )?in|handing in|submit|upload|send|turn in|give|provide|include|attach|bring|film|record|take|photograph|shoot|make|produce|need|want|wants|expect|require[ds]?|should|must|contain|consists?|post|deliver|please|plus|create|show|choose|like to see|expect to see|receive)\b/;
const NO_DEMAND =
  /\b(?:any|no) #N\d+#(?: single)? [a-z]+$|\bnot #N\d+# [a-z]+$|\b(?:look at|study|watch(?:ed)?|compare the|we (?:saw|looked|watched|took)|there (?:are|were)|i (?:took|made|posted|have (?:put|shown|taken|got|attached|made)|will show)|(?:one|#N\d+#) of (?:the|your|my|these)|on page|in the book|for each|per (?:piece|person|student)|each (?:piece|person|student|of you))\b/;

/**
 * How many items of a kind are wanted: "three photographs", "3 to 5 JPEGs", "either one video or four
 * photographs".
 */
export function readCounts(sentence: Sentence, context: TextContext): CountMatch[] {
  const { tag } = sentence;
  const found: CountMatch[] = [];
  const isListLine = tag.replace(/#\w+#/g, '').length < 70;
  for (const match of tag.matchAll(buildPattern(context.language))) {
    const [whole, , firstIndex, secondIndex, adjectives, noun, more] = match;
    const item = findItem(noun ?? '', more ?? '', sentence, context);
    const first = sentence.items[Number(firstIndex)]?.value ?? 0;
    const second = secondIndex === undefined ? null : (sentence.items[Number(secondIndex)]?.value ?? null);
    if (!item || !Number.isInteger(first) || first < 1 || first > 200) continue;
    const from = match.index;
    const nounEnd = from + whole.length - (more ? more.length + 1 : 0);
    if (
      NO_DEMAND.test(tag.slice(0, nounEnd)) ||
      (!DEMAND.test(tag) && !isListLine && !/^(?:either )?#N/.test(tag) && !/^\s*$/.test(tag.slice(0, from)))
    )
      continue;
    if (
      /\b(?:first|last|each|every|minute|per)$|\b(?:continuous|unbroken|uninterrupted|unedited)\b/.test(
        adjectives ?? '',
      )
    )
      continue;
    const bound = second === null ? readBoundAt(tag, from, nounEnd) : null;
    found.push({
      item,
      min: second === null ? (bound === 'max' ? 0 : first) : Math.min(first, second),
      max: second === null ? (bound === 'min' ? null : first) : Math.max(first, second),
      from,
      to: nounEnd,
      alternative: null,
    });
  }
  for (const match of tag.matchAll(
    new RegExp(
      `(?:^|[,:(-] |and )(?:(?:number of|how many) )?(${[...Object.keys(context.language.nouns)].join('|')}) : #N(\\d+)#(?: (?:to|-) #N(\\d+)#)?(?= ,|$| \\)| max| min| and)`,
      'g',
    ),
  )) {
    const item = findItem(match[1] ?? '', '', sentence, context);
    const [first, second] = [
      sentence.items[Number(match[2])]?.value ?? 0,
      match[3] === undefined ? null : (sentence.items[Number(match[3])]?.value ?? null),
    ];
    if (item && Number.isInteger(first) && first > 0)
      found.push({
        item,
        min: first,
        max: second ?? first,
        from: match.index,
        to: match.index + match[0].length,
        alternative: null,
      });
  }
  if (found.length === 0) found.push(...readHeadedCount(sentence, context));
  completeBounds(sentence, found);
  for (const match of tag.matchAll(/(#N(\d+)#) of (?:them|these|those)\b/g)) {
    const noun = [...tag.slice(0, match.index).matchAll(/\b[a-z0-9]+\b/g)]
      .map((each) => findItem(each[0], '', sentence, context))
      .findLast((each) => each !== null);
    const value = sentence.items[Number(match[2])]?.value ?? 0;
    if (noun && Number.isInteger(value) && value > 1)
      found.push({
        item: noun,
        min: value,
        max: value,
        from: match.index,
        to: match.index + match[0].length,
        alternative: null,
      });
  }
  return markAlternatives(tag, found);
}

function findItem(
  noun: string,
  more: string,
  sentence: Sentence,
  context: TextContext,
): CountMatch['item'] | null {
  const { language } = context;
  if (/^(?:audio|sound)$/.test(noun))
    return /^(?:files?|recordings?|clips?|tracks?)$/.test(more) ? 'sound' : null;
  const known = language.nouns[noun];
  if (known === 'video' || known === 'photo' || known === 'sound' || known === 'document') return known;
  const format = language.formats[noun];
  if (format) return containerTable[format].kind;
  if (known !== 'recording') return null;
  if (/\b(?:film|video|camera)\b/.test(sentence.tag)) return 'video';
  if (/\b(?:audio|sound|mp3|wav|m4a|microphone)\b/.test(sentence.tag)) return 'sound';
  return context.recording;
}

/** "Photos of your sculpture: at least four, no more than eight": the noun stands before, as a heading. */
function readHeadedCount(sentence: Sentence, context: TextContext): CountMatch[] {
  const head = /^(?:[-*] )?([a-z0-9]+)\b[^:#]{0,50} : /.exec(sentence.tag);
  const item = head?.[1] ? findItem(head[1], '', sentence, context) : null;
  if (!head || !item) return [];
  let [min, max, to]: [number | null, number | null, number] = [null, null, 0];
  for (const match of sentence.tag.matchAll(/#N(\d+)#(?= ,|$| or more| max| min| at| \))/g)) {
    const bound = readBoundAt(sentence.tag, match.index, match.index + match[0].length);
    const value = sentence.items[Number(match[1])]?.value ?? 0;
    if (!bound || !Number.isInteger(value) || value < 1 || value > 200) continue;
    to = match.index + match[0].length;
    if (bound === 'min') min = value;
    else max = value;
  }
  if ((min === null && max === null) || (min !== null && max !== null && min > max)) return [];
  return [{ item, min: min ?? 0, max, from: 0, to, alternative: null }];
}

/** "Ten photographs minimum, fifteen maximum": the second figure has no noun of its own. */
function completeBounds(sentence: Sentence, found: CountMatch[]): void {
  const last = found.at(-1);
  if (!last || (last.min > 0 && last.max !== null)) return;
  for (const match of sentence.tag
    .slice(last.to)
    .matchAll(/#N(\d+)#(?= (?:max|maximum|min|minimum|at|tops)|$| ,| \)| and| or)/g)) {
    const from = last.to + match.index;
    const bound = readBoundAt(sentence.tag, from, from + match[0].length);
    const value = sentence.items[Number(match[1])]?.value ?? 0;
    if (bound === 'max' && last.max === null && value >= last.min)
      found[found.length - 1] = { ...last, max: value, to: from + match[0].length };
    else if (bound === 'min' && last.min === 0 && last.max !== null && value <= last.max)
      found[found.length - 1] = { ...last, min: value, to: from + match[0].length };
    return;
  }
}

/** "either A or B", "A or B": the items of a pair with different nouns are alternatives. */
function markAlternatives(tag: string, found: readonly CountMatch[]): CountMatch[] {
  const pairAt = found.findIndex((each, index) => {
    const next = found[index + 1];
    return (
      next !== undefined &&
      next.item !== each.item &&
      /^(?: \( [^)]* \))?(?: of [a-z ]{1,40})?(?: ,)?(?: please)? or (?:else )?(?:between )?$/.test(
        tag.slice(each.to, next.from),
      )
    );
  });
  return found.map((each, index) =>
    pairAt >= 0 && (index === pairAt || index === pairAt + 1)
      ? { ...each, alternative: index === pairAt ? 'a' : 'b' }
      : each,
  );
}
