import { containerTable, type MediaKind } from '../../media/containers.ts';
import type { Severity } from '../limit.ts';
import type { Mention } from '../finding/find-mentions.ts';
import type { Language } from '../finding/language.ts';
import type { Sentence } from '../finding/sentences.ts';

/** What the text as a whole speaks of. */
export interface TextContext {
  readonly language: Language;
  readonly kinds: ReadonlySet<MediaKind>;
  /** What "recording" and "performance" mean in this text. */
  readonly recording: MediaKind | null;
}

export function readTextContext(sentences: readonly Sentence[], language: Language): TextContext {
  const kinds = new Set<MediaKind>();
  for (const sentence of sentences) {
    sentence.items.forEach((_, index) => {
      const kind = readKindAt(sentence, index, language, null);
      if (kind) kinds.add(kind);
    });
  }
  const all = sentences.map((sentence) => sentence.tag).join(' . ');
  const isFilmed = kinds.has('video') || /\b(?:film(?:ed|ing)?|camera|landscape|sideways)\b/.test(all);
  const recording =
    isFilmed && !kinds.has('sound')
      ? 'video'
      : kinds.has('sound') && !kinds.has('video')
        ? 'sound'
        : isFilmed
          ? 'video'
          : null;
  if (recording === 'sound' && sentences.some((sentence) => /\brecordings?\b/.test(sentence.tag)))
    kinds.add('sound');
  return { language, kinds, recording };
}

/** The kind of medium that a word speaks of; format names count as the medium that they hold. */
export function readKind(word: string, language: Language, recording: MediaKind | null): MediaKind | null {
  const noun = language.nouns[word.replace(/'s?$/, '')];
  if (noun === 'video' || noun === 'photo' || noun === 'sound' || noun === 'document') return noun;
  if (noun === 'recording') return recording;
  const format = language.formats[word];
  return format ? containerTable[format].kind : null;
}

/** The kind that the word at a place speaks of; a "sound recording" is sound whatever else is filmed. */
function readKindAt(
  sentence: Sentence,
  index: number,
  language: Language,
  recording: MediaKind | null,
): MediaKind | null {
  const item = sentence.items[index];
  if (item?.kind !== 'word') return null;
  const before = sentence.items[index - 1]?.text ?? '';
  const isSound =
    (before === 'sound' || before === 'audio' || before === 'voice') &&
    /^(?:recordings?|files?|clips?|tracks?)$/.test(item.text);
  return isSound ? 'sound' : readKind(item.text, language, recording);
}

export interface Target {
  readonly target: MediaKind | 'any';
  /** Where nothing near it says what it is about: the kind that it could be about alone. */
  readonly rival: MediaKind | null;
}

/**
 * The medium that a limit is about, where the text speaks of more than one: "for photos" after it, else the
 * nearest noun before it in the sentence, else what the heading says.
 */
export function findTarget(
  sentence: Sentence,
  from: number,
  to: number,
  context: TextContext,
  heading: MediaKind | null,
  allowed: readonly MediaKind[],
  mentions: readonly Mention[],
): Target {
  const sure = (target: Target['target']): Target => ({ target, rival: null });
  const named = mentions.flatMap(({ kind, from: at, to: end }) =>
    kind === 'text' || kind === 'link' ? [] : [{ kind, from: at, to: end }],
  );
  const isOf = (kind: MediaKind | null | undefined): kind is MediaKind =>
    kind !== null && kind !== undefined && allowed.includes(kind);
  const kinds = new Set([...context.kinds, ...named.map(({ kind }) => kind)]);
  if (kinds.size < 2) return sure('any');
  const { tag } = sentence;
  const words = [...named, ...findAliases(sentence, context)]
    .filter(({ kind }) => isOf(kind))
    .sort((left, right) => left.from - right.from);
  const rest = tag.slice(to);
  const ahead =
    /^ (?:[a-z]+ ){0,2}?(?:for|per|a|an|each|every|on|of) (?:the |each |every |your |any |single |a |an )?/.exec(
      rest,
    )?.[0].length ?? 1;
  const next = words.find((each) => each.from <= to + ahead && each.to > to + ahead - 1 && each.from >= to);
  if (next) return sure(next.kind);
  const before = words.filter((each) => each.to <= Math.max(from, 1));
  const last = before.at(-1);
  if (
    EVERY_FILE.test(tag.slice(last ? last.to : 0, from)) ||
    /^ (?:per|a|each|for each|for every) file\b/.test(rest)
  )
    return sure('any');
  // "A PNG or a PDF, at most 7 MB": one limit for either.
  const other = before.findLast((each) => each.kind !== last?.kind);
  const isEither =
    last &&
    other &&
    /^(?: files?| format)?(?: ,)? or(?: an?| as| the| one)* $/.test(tag.slice(other.to, last.from));
  if (isEither) return sure('any');
  if (last) return sure(last.kind);
  if (isOf(heading)) return sure(heading);
  const possible = [...kinds].filter((kind) => isOf(kind));
  if (possible.length === 1 && allowed.length < 4) return sure(possible[0] ?? 'any');
  const isEvery = possible.length < 2 || NAMES_EVERY.test(tag);
  return { target: 'any', rival: isEvery ? null : (possible[0] ?? null) };
}

/** Words that stand for what is written or spoken, where the text says that such a file is handed in. */
const DOCUMENT_WORDS =
  /\b(?:portfolio|score|script|essay|worksheet|lesson plan|session plan|plan|cue sheets?|concept sheet|contact sheet|statement|report|diary|log(?: book)?|part sheet|storyboard|research|prompt book|table)\b/g;
const SOUND_WORDS = /\b(?:memo|commentary|podcast|recording|mix|bounce)\b/g;

const PHOTO_WORDS = /\b(?:scanned (?:[a-z]+ ){0,2}[a-z]+|stills?|collage|drawing)\b/g;

function findAliases(
  { tag }: Sentence,
  { kinds }: TextContext,
): { kind: MediaKind; from: number; to: number }[] {
  const find = (kind: MediaKind, words: RegExp) =>
    kinds.has(kind)
      ? [...tag.matchAll(words)].map((match) => ({
          kind,
          from: match.index,
          to: match.index + match[0].length,
        }))
      : [];
  return [...find('document', DOCUMENT_WORDS), ...find('sound', SOUND_WORDS), ...find('photo', PHOTO_WORDS)];
}

/** Says by itself that it is for whatever file is handed in. */
const NAMES_EVERY =
  /\b(?:each|every|any|all|both|no|single|individual|either|per|files?)(?: [a-z]+)? files?\b|\b(?:each|apiece|in all|in total|together|altogether)\b/;
const EVERY_FILE =
  /\b(?:each|every|any|all|both|no|single|individual|either)(?: [a-z]+)? files?\b[^,;]*$|^(?:[-*] )?(?:max(?:imum)? )?(?:file ?size|size|limit|upload limit|file limit)\b[^,;]*$/;

function readRecordingHere(sentence: Sentence, context: TextContext): MediaKind | null {
  const { formats } = context.language;
  const held = sentence.items
    .map((item) => formats[item.text])
    .filter((id) => id !== undefined)
    .map((id) => containerTable[id].kind);
  if (held.includes('sound')) return 'sound';
  return held.includes('video') ? 'video' : context.recording;
}

/** A heading names the medium for what follows: "Photos:", "For the video:". null where a line is none. */
export function readHeading(sentence: Sentence, context: TextContext): MediaKind | null {
  const match = /^(?:[-*] )?(?:for (?:the |your )?|the |your )?([a-z]+)(?: files?)?(?: :| -|$)/.exec(
    sentence.tag,
  );
  return match?.[1] ? readKind(match[1], context.language, readRecordingHere(sentence, context)) : null;
}

const WISH =
  /\b(?:ideally|preferabl[ey]|preferred|i(?:'d| would) prefer|if (?:at all )?possible|where(?:ver)? possible|if you can|if your (?:phone|camera) (?:can|allows)|try to|aim (?:for|to)|(?:would|'d) be (?:nice|good|great|best|better|ideal|lovely)|be great if|recommended|recommend|best if|better if|hopefully|optional(?:ly)?)\b/;

/** Must, unless the clause that it stands in is put as a wish. */
export function findSeverity(sentence: Sentence, from: number, to: number): Severity {
  const [start, end] = findClause(sentence.tag, from, to);
  return WISH.test(sentence.tag.slice(start, end)) ? 'should' : 'must';
}

/** The clause around a stretch of a sentence: up to a comma, a bracket or a "but". */
export function findClause(tag: string, from: number, to: number): [number, number] {
  const before = tag.slice(0, from);
  const start = Math.max(
    before.lastIndexOf(' , '),
    before.lastIndexOf(' but '),
    before.lastIndexOf(' ( '),
    before.lastIndexOf(' ) '),
    before.lastIndexOf(' : '),
    -1,
  );
  const after = tag.slice(to);
  const ends = [' , ', ' but ', ' ( ', ' ) '].map((mark) => after.indexOf(mark)).filter((at) => at >= 0);
  return [start < 0 ? 0 : start + 2, to + (ends.length ? Math.min(...ends) : after.length)];
}

/** "Sorry, did I say five, I meant seven": what follows takes the place of what stands before. */
export const MENDS =
  /\b(?:sorry|i meant|no wait|wait no|make that|make it|rather|strike that|scrap that|correction)\b|[[(] ?no ?[:,]/i;

export const CORRECTION =
  /\b(?:correction|amm?end(?:ment|ed)|scrap|scratch|strike that|ignore|forget (?:that|the|what)|disregard|sorry|my (?:mistake|fault)|i (?:really )?meant|i was wrong|was (?:wrong|a mistake|a slip|too hopeful)|make (?:that|it) #|no wait|wait no|actually (?:no|it|the)|(?:it's|it is) actually|has gone (?:up|down)|goes up|went up|changed (?:from|to|my mind)|i have changed|i've changed|please read|should read|read #|no longer|extended|(?:have|has|i've|now) moved|moved (?:it|to|this|from)|moves to|update[ds]?\b|i had (?:said|written|put|limited)|not #[A-Z]\d+# (?:[a-z]+ )?(?:as|like|any)|is gone|is off|edit(?= [:-])|has been (?:changed|moved|extended|raised|lowered)|new (?:limit|deadline|length|size|date)|the real one|has now fixed|instead of (?:the )?#)\b/;

/** Whether a count is put as a least or a most: "at least two clips", "up to 4 pictures", "4 photos max". */
export function readBoundAt(tag: string, from: number, to: number): 'min' | 'max' | null {
  const before = tag.slice(Math.max(0, from - 60), from);
  const after = tag.slice(to, to + 40);
  if (
    /(?:at (?:the )?(?:very )?least|min(?:imum)?(?: of)?|no (?:less|fewer) than|not (?:less|fewer) than|(?<!no )(?<!not )(?<!n't )more than)(?: of)? $/.test(
      before,
    ) ||
    /^ (?:or more|min(?:imum)?\b(?! (?:of )?#)|at (?:the )?(?:very )?least(?! #)|and up)/.test(after)
  )
    return 'min';
  if (
    /(?:at (?:the )?(?:very )?most|max(?:imum)?(?: of)?|up to|no more than|not more than|fewer than|less than|limit(?:ed)? (?:to|of))(?: of)? $/.test(
      before,
    ) ||
    /^ (?:or (?:less|fewer)|max(?:imum)?\b(?! (?:of )?#)|at (?:the )?(?:very )?most(?! #)|tops)/.test(after)
  )
    return 'max';
  return null;
}
