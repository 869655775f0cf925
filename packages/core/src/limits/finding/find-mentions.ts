import { containerTable } from '../../media/containers.ts';
import type { Language } from './language.ts';
import type { Sentence } from './sentences.ts';

/** What can be handed in: a file of a kind, a typed answer, an address. */
export type HandedKind = 'video' | 'sound' | 'photo' | 'document' | 'text' | 'link';

/** A place where a text names something of a kind that can be handed in. */
export interface Mention {
  readonly kind: HandedKind;
  /** Number of the sentence. */
  readonly sentence: number;
  /** Stretch of its tag, from the number or the first adjective to the noun. */
  readonly from: number;
  readonly to: number;
  readonly noun: string;
  readonly how: 'noun' | 'format' | 'verb';
  /**
   * The word or number before it, as a class: `a`, `one`, `number`, `your`, `the`, `no`, `each`, `my`,
   * `none`.
   */
  readonly determiner: string;
  readonly min: number | null;
  readonly max: number | null;
  readonly isPlural: boolean;
  /** Words between number and noun. */
  readonly adjectives: string;
}

const VIDEO = 'videos?|vids?|films?|movies?|footage|video ?clips?|clips?|screen ?casts?|vlogs?|reels?';
const SOUND =
  '(?:audio|sound|voice|mp3|wav)(?: (?:files?|recordings?|clips?|tracks?|memos?|notes?|commentar(?:y|ies)|only|dramas?|takes?|mix|version|bounces?|piece))|audios?|just its sound|(?:only|just) the sound|podcasts?|voice ?overs?|sound ?tracks?|(?:stereo |mono )?(?:mix|bounce|bounces|mixdown)';
const PHOTO =
  'photos?|photographs?|pictures?|pics?|images?|scans?|scanned cop(?:y|ies)|snaps?|screen ?- ?shots?|screen ?grabs?|stills?';
const DOCUMENT = 'documents?|(?:single |one )?(?:pdf|word|text) (?:files?|documents?)';
const TEXT =
  '(?:text|answer|response|reply|submission|typing) (?:box|field|area|space|window|editor)|online text|typed (?:answer|response|paragraph|reflection|statement)s?|text entry';
const LINK =
  '(?:share(?:d|able)? |web |video |drive |streaming |working |public |unlisted )?(?:links?|urls?|hyperlinks?|web address(?:es)?)';
const RECORDING = 'recordings?|performances?';

const NOUNS: readonly (readonly [HandedKind | 'recording', string])[] = [
  ['sound', SOUND],
  ['text', TEXT],
  ['link', LINK],
  ['video', VIDEO],
  ['photo', PHOTO],
  ['document', DOCUMENT],
  ['recording', RECORDING],
];

const NUMBER = '#N\\d+#';
const ADJECTIVE =
  "(?!(?:you|i|we|they|it|must|should|will|can|may|your|my|of|the|in|to|and|for|per|a|an|is|are|at|from|with|by|on|or|times?|attempts?|each|as|that|which|if|but|minutes?|points?|be|than|not|no)\\b)(?:[a-z][a-z']*|#D\\d+# (?:to|-|or) #D\\d+#|#D\\d+#|#[PL]\\d+#|-)";
const DETERMINER = `(?:(?:between |from )?${NUMBER}(?: \\( ${NUMBER} \\))?(?: (?:to|-|or|and) ${NUMBER})?|a|an|one|the|your|my|our|each|every|any|no|both|another|this|that|these|those|his|her|their|some|all|either|up to)`;

const VERBS: readonly (readonly [HandedKind | 'recording', RegExp])[] = [
  [
    'photo',
    /(?<![a-z])(?:photograph (?:it|them|your|the|each|one|both|every|all|this)|snap (?:it|your|the|one)|scan (?:it|them|your|the|each))(?![a-z])/g,
  ],
  [
    'video',
    /(?<![a-z])(?:film (?:it|yourself|your|the|each|one|both|every|this|them|a)|filmed|filming|video (?:yourself|your)|videotape)(?![a-z])/g,
  ],
  [
    'recording',
    /(?<![a-z])(?:record (?:it|yourself|your|the|each|one|both|every|this|them|a|all)|recorded)(?![a-z])/g,
  ],
];

const patterns = new WeakMap<Language, readonly (readonly [HandedKind | 'recording' | 'format', RegExp])[]>();

function readPatterns(language: Language) {
  const known = patterns.get(language);
  if (known) return known;
  const formats = Object.keys(language.formats)
    .filter((word) => word !== 'wave')
    .join('|');
  const rows = [
    ...NOUNS,
    ['format', `(?:${formats})(?: files?| documents?| videos?| images?)?`] as const,
  ].map(
    ([kind, words]) =>
      [
        kind,
        new RegExp(
          `(?<![a-z0-9'])(?:(${DETERMINER}) )?((?:${ADJECTIVE} ){0,4}?)(${words})(?![a-z0-9'])`,
          'g',
        ),
      ] as const,
  );
  patterns.set(language, rows);
  return rows;
}

/** Every mention in a text. What "recording" means is told by `recording`. */
export function findMentions(
  sentences: readonly Sentence[],
  language: Language,
  recording: 'video' | 'sound' | null,
): Mention[] {
  const found: Mention[] = [];
  const all = sentences.map(({ tag }) => tag).join(' . ');
  // "Audio clips" are meant by "clips" where nothing is filmed.
  const areClipsHeard =
    /\b(?:audio|sound) clips?\b/.test(all) && !/\b(?:videos?|film(?:ed|ing)?|camera)\b/.test(all);
  sentences.forEach((sentence, at) => {
    const own: Mention[] = [];
    for (const [kind, pattern] of readPatterns(language)) {
      for (const match of sentence.tag.matchAll(pattern)) {
        const noun = match[3] ?? '';
        const to = match.index + match[0].length;
        const nounFrom = to - noun.length;
        if (own.some((each) => each.to > nounFrom && each.to - each.noun.length < to)) continue;
        const of =
          areClipsHeard && /^clips?$/.test(noun)
            ? 'sound'
            : kind === 'recording'
              ? recording
              : kind === 'format'
                ? readFormat(noun, language)
                : kind;
        if (of === null) continue;
        const determiner = match[1] ?? '';
        own.push({
          kind: of,
          sentence: at,
          from: match.index,
          to,
          noun,
          how: kind === 'format' ? 'format' : 'noun',
          ...readDeterminer(determiner, sentence),
          isPlural: /s$/.test(noun.split(' ')[0] ?? '') || / \w+s$/.test(noun),
          adjectives: (match[2] ?? '').trim(),
        });
      }
    }
    for (const [kind, pattern] of VERBS) {
      for (const match of sentence.tag.matchAll(pattern)) {
        const of = kind === 'recording' ? recording : kind;
        const [from, to] = [match.index, match.index + match[0].length];
        if (of === null || own.some((each) => each.from < to && each.to > from)) continue;
        own.push({
          kind: of,
          sentence: at,
          from,
          to,
          noun: match[0],
          how: 'verb',
          determiner: 'none',
          min: null,
          max: null,
          isPlural: false,
          adjectives: '',
        });
      }
    }
    found.push(...own.sort((left, right) => left.from - right.from));
  });
  return found;
}

function readFormat(noun: string, language: Language): HandedKind | null {
  const id = language.formats[noun.split(' ')[0] ?? ''];
  return id ? containerTable[id].kind : null;
}

function readDeterminer(words: string, sentence: Sentence): Pick<Mention, 'determiner' | 'min' | 'max'> {
  const numbers = [...words.matchAll(/#N(\d+)#/g)].map((each) => sentence.items[Number(each[1])]?.value ?? 0);
  if (numbers.length > 0) {
    const isRange = / (?:to|-|or|and) #N/.test(words) && numbers.length > 1;
    const [first = 0, last = first] = [numbers[0], isRange ? numbers.at(-1) : numbers[0]];
    if (!Number.isInteger(first) || first < 1 || first > 200 || last < first)
      return { determiner: 'odd', min: null, max: null };
    return { determiner: first === 1 && last === 1 ? 'one' : 'number', min: first, max: last };
  }
  if (words === 'a' || words === 'an' || words === 'one' || words === 'another')
    return { determiner: 'a', min: 1, max: 1 };
  if (words === 'both') return { determiner: 'both', min: 2, max: 2 };
  if (words === '') return { determiner: 'none', min: null, max: null };
  const kind = /^(?:my|our|his|her|their)$/.test(words)
    ? 'my'
    : /^(?:this|that|these|those)$/.test(words)
      ? 'that'
      : /^(?:each|every)$/.test(words)
        ? 'each'
        : words;
  return { determiner: kind, min: null, max: null };
}
