import { containerTable, type MediaKind } from '../../media/containers.ts';
import type { Severity } from '../limit.ts';
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
  const recording = isFilmed && !kinds.has('sound') ? 'video' : kinds.has('sound') && !kinds.has('video') ? 'sound' : isFilmed ? 'video' : null;
  if (recording === 'sound' && sentences.some((sentence) => /\brecordings?\b/.test(sentence.tag))) kinds.add('sound');
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
function readKindAt(sentence: Sentence, index: number, language: Language, recording: MediaKind | null): MediaKind | null {
  const item = sentence.items[index];
  if (item?.kind !== 'word') return null;
  const before = sentence.items[index - 1]?.text ?? '';
  const isSound = (before === 'sound' || before === 'audio' || before === 'voice') && /^(?:recordings?|files?|clips?|tracks?)$/.test(item.text);
  return isSound ? 'sound' : readKind(item.text, language, recording);
}

/**
 * The medium that a limit is about, where the text speaks of more than one: "for photos" after it, else the nearest noun before it in the
 * sentence, else what the heading says.
 */
export function findTarget(sentence: Sentence, from: number, to: number, context: TextContext, heading: MediaKind | null, allowed: readonly MediaKind[]): MediaKind | 'any' {
  if (context.kinds.size < 2) return 'any';
  const here = readRecordingHere(sentence, context);
  const after = /^ (?:[a-z]+ ){0,2}?(?:for|per|a|an|each|every) (?:the |each |every |your |any |single )?([a-z0-9]+)/.exec(sentence.tag.slice(to, to + 80))?.[1];
  const next = /^ ([a-z0-9]+)/.exec(sentence.tag.slice(to, to + 40))?.[1];
  const isOf = (kind: MediaKind | null) => kind !== null && allowed.includes(kind);
  for (const word of [after, next]) {
    const direct = word ? readKind(word, context.language, here) : null;
    if (direct && isOf(direct)) return direct;
  }
  if (EVERY_FILE.test(sentence.tag.slice(Math.max(0, from - 60), from)) || /^ (?:per|a|each|for each|for every) file\b/.test(sentence.tag.slice(to))) return 'any';
  let nearest: MediaKind | null = null;
  sentence.items.forEach((item, index) => {
    if (item.kind !== 'word' || (sentence.places[index]?.[0] ?? 0) >= Math.max(from, 1)) return;
    const kind = readKindAt(sentence, index, context.language, here);
    if (kind && isOf(kind)) nearest = kind;
  });
  const chosen = nearest ?? heading ?? null;
  if (chosen && isOf(chosen)) return chosen;
  const possible = [...context.kinds].filter((kind) => isOf(kind));
  return possible.length === 1 && allowed.length < 4 ? (possible[0] ?? 'any') : 'any';
}

const EVERY_FILE = /\b(?:each|every|any|all|both|no|single|individual|either)(?: [a-z]+)? files?\b[^,;]*$|^(?:[-*] )?(?:max(?:imum)? )?(?:file ?size|size|limit|upload limit|file limit)\b[^,;]*$/;

function readRecordingHere(sentence: Sentence, context: TextContext): MediaKind | null {
  const { formats } = context.language;
  const held = sentence.items.map((item) => formats[item.text]).filter((id) => id !== undefined).map((id) => containerTable[id].kind);
  if (held.includes('sound')) return 'sound';
  return held.includes('video') ? 'video' : context.recording;
}

/** A heading names the medium for what follows: "Photos:", "For the video:". null where a line is none. */
export function readHeading(sentence: Sentence, context: TextContext): MediaKind | null {
  const match = /^(?:[-*] )?(?:for (?:the |your )?|the |your )?([a-z]+)(?: files?)?(?: :| -|$)/.exec(sentence.tag);
  return match?.[1] ? readKind(match[1], context.language, readRecordingHere(sentence, context)) : null;
}

const WISH = /\b(?:ideally|preferabl[ey]|preferred|i(?:'d| would) prefer|if (?:at all )?possible|where(?:ver)? possible|if you can|if your (?:phone|camera) (?:can|allows)|try to|aim (?:for|to)|(?:would|'d) be (?:nice|good|great|best|better|ideal|lovely)|be great if|recommended|recommend|best if|better if|hopefully|optional(?:ly)?)\b/;

/** Must, unless the clause that it stands in is put as a wish. */
export function findSeverity(sentence: Sentence, from: number, to: number): Severity {
  const [start, end] = findClause(sentence.tag, from, to);
  return WISH.test(sentence.tag.slice(start, end)) ? 'should' : 'must';
}

/** The clause around a stretch of a sentence: up to a comma, a bracket or a "but". */
export function findClause(tag: string, from: number, to: number): [number, number] {
  const before = tag.slice(0, from);
  const start = Math.max(before.lastIndexOf(' , '), before.lastIndexOf(' but '), before.lastIndexOf(' ( '), before.lastIndexOf(' ) '), before.lastIndexOf(' : '), -1);
  const after = tag.slice(to);
  const ends = [' , ', ' but ', ' ( ', ' ) '].map((mark) => after.indexOf(mark)).filter((at) => at >= 0);
  return [start < 0 ? 0 : start + 2, to + (ends.length ? Math.min(...ends) : after.length)];
}

export const CORRECTION = /\b(?:correction|update[ds]?|edit|ignore|scrap|forget|sorry|actually|i have changed|i've changed|changed my mind|i meant|make that|instead|no longer|now|has gone (?:up|down)|was wrong|my mistake|have moved|has moved|i've moved|moved (?:it|to|this)|extended|new (?:limit|deadline|length|size|date)|rather)\b/;

/** Whether a count is put as a least or a most: "at least two clips", "up to 4 pictures", "4 photos max". */
export function readBoundAt(tag: string, from: number, to: number): 'min' | 'max' | null {
  const before = tag.slice(Math.max(0, from - 60), from);
  const after = tag.slice(to, to + 40);
  if (/(?:at (?:the )?(?:very )?least|min(?:imum)?(?: of)?|no (?:less|fewer) than|not (?:less|fewer) than|(?<!no )(?<!not )(?<!n't )more than)(?: of)? $/.test(before) || /^ (?:or more|min(?:imum)?\b(?! (?:of )?#)|at (?:the )?(?:very )?least(?! #)|and up)/.test(after)) return 'min';
  if (/(?:at (?:the )?(?:very )?most|max(?:imum)?(?: of)?|up to|no more than|not more than|fewer than|less than|limit(?:ed)? (?:to|of))(?: of)? $/.test(before) || /^ (?:or (?:less|fewer)|max(?:imum)?\b(?! (?:of )?#)|at (?:the )?(?:very )?most(?! #)|tops)/.test(after)) return 'max';
  return null;
}
