import { findCues, type CueMark } from '../finding/cues.ts';
import type { HandedKind, Mention } from '../finding/find-mentions.ts';
import type { Sentence } from '../finding/sentences.ts';

/**
 * Words before a mention that make it a part or a place of something: "in the video", "from your
 * recording".
 */
const PLACED =
  /(?:^| )(in|on|from|during|of|to|with|for|as|by|about|at|into|through|over|before|after|like|per) $/;
/** What a line is about, before its colon. */
const LABEL = /^(?:[-*+] |#N\d+# [).] |\( ?[a-z0-9] ?\) )*([a-z' -]{2,40}?) (?:: |- |= )/;
const LABEL_WORDS =
  /\b(?:what|format|formats|submit|submission|submissions|hand in|hand - in|turn in|file|files|deliverables?|upload|uploads|required|requirements?|evidence|product|output|media|task|send|type|medium|item|items|how|you need|recording)\b/;

/** What can be said of a mention by its words and the clause that it stands in; each a word of its own. */
export function describeMention(mention: Mention, sentence: Sentence, cues: readonly CueMark[]): string[] {
  const { tag } = sentence;
  const before = tag.slice(0, mention.from);
  const after = tag.slice(mention.to);
  const clauseFrom = Math.max(
    ...[' ( ', ' ) ', ' : ', ' but ', ' - '].map((mark) => {
      const at = before.lastIndexOf(mark);
      return at < 0 ? 0 : at + mark.length;
    }),
  );
  const earlier = cues.filter((cue) => cue.to <= mention.from);
  const verbs = earlier.filter(
    ({ cue }) => cue === 'hand' || cue === 'make' || cue === 'look' || cue === 'told' || cue === 'be',
  );
  const verb = verbs.at(-1);
  const later = cues.filter(
    (cue) =>
      cue.from >= mention.to &&
      (cue.cue === 'hand' ||
        cue.cue === 'make' ||
        cue.cue === 'look' ||
        cue.cue === 'told' ||
        cue.cue === 'be'),
  );
  const next = later[0];
  const inClause = earlier.filter((cue) => cue.from >= clauseFrom);
  const has = (cue: CueMark['cue']) => inClause.some((each) => each.cue === cue);
  const label = LABEL.exec(tag);
  const isLabel = label !== null && mention.to <= label[0].length;
  const isListed = label !== null && mention.from >= label[0].length - 1;
  const placed = PLACED.exec(` ${before}`.slice(-14))?.[1];
  const distance = verb ? before.slice(verb.to).split(' ').length : 0;
  const det = mention.determiner;
  const features = [
    `det:${det}`,
    `how:${mention.how}`,
    `verb:${verb?.cue ?? 'none'}`,
    `verb+det:${verb?.cue ?? 'none'}+${det}`,
    `next:${next ? next.cue : 'none'}`,
    `plural:${mention.isPlural}+${det === 'number' || det === 'one' || det === 'a' ? 'counted' : 'bare'}`,
    placed ? `placed:${placed}` : 'placed:no',
    placed ? `placed+det:${placed}+${det}` : 'placed:no',
    distance > 6 ? 'far' : 'near',
    mention.from === 0 ? 'first' : 'later',
    /#[DBPLSFR]\d+#/.test(tag) ? 'figures' : 'plain',
    /#D\d+#/.test(mention.adjectives) ? 'long' : 'long:no',
  ];
  if (has('not')) features.push('not', `not+${verb?.cue ?? 'none'}`);
  if (has('told')) features.push('told-before');
  if (has('if')) features.push('if');
  if (has('may')) features.push('may');
  if (has('must')) features.push('must');
  if (has('own')) features.push('own');
  if (has('example')) features.push('example');
  if (isLabel) features.push('is-label');
  if (isListed) features.push('listed', LABEL_WORDS.test(label[1] ?? '') ? 'listed-media' : 'listed-other');
  if (before.lastIndexOf('(') > before.lastIndexOf(')')) features.push('bracket');
  if (/^ (?:of|showing|in which|where you|with your|that shows|from the) /.test(after))
    features.push('of-what');
  if (/^(?: ,| only| please|$| \)| \(| and| or| plus| :)/.test(after)) features.push('ends');
  if (/^ (?:per|for each|from each|each|apiece) /.test(after)) features.push('per');
  if (/^ only\b|^ , one\b| only one\b/.test(after)) features.push('only');
  if (/^ (?:is|are|was|were|must|should|has|have|will|can|needs?|may|cannot|can't|won't)\b/.test(after))
    features.push('subject');
  if (
    /^ (?:camera|call|game|editor|editing|app|software|lesson|club|card|equipment|class|quality|frame|day|store|shop|room|studio|size|limit|length|format|name|file name)\b/.test(
      after,
    )
  )
    features.push('compound');
  if (/\b(?:i|we|my|our)\b/.test(tag.slice(Math.max(0, mention.from - 40), mention.from)))
    features.push('teacher');
  if (/\b(?:was|were|had|did|last)\b/.test(tag.slice(Math.max(0, mention.from - 40), mention.from)))
    features.push('past');
  return [...new Set(features)];
}

/** What is not to be done. */
const NOT_ASKED = /\b(?:not|never|no|nothing|needn't|[a-z]+n't)(?: [a-z']+){0,4} $/;
/** "Nothing to hand in", "I am not collecting these". */
export const NOTHING =
  /\b(?:nothing (?:to|is|needs|for|will be)(?: [a-z]+){0,2} (?:hand|turn|send|submit|upload|collect|due|handed|in)|not (?:collecting|handing in|marking)|collect none|nobody hands|no homework|needn't(?: send| hand| upload| either|$| ,)|for (?:your own|you|fun)[^.]{0,20}not for me|don't have to (?:send|hand|upload|submit)|(?:i|we)(?:'m| am| are) not (?:collecting|marking|recording)|no (?:hand ?- ?in|submission|written evaluation|upload))\b/;

/** What tells whether a kind is to be handed in: all that its mentions show, and the text as a whole. */
export function describeKind(
  kind: HandedKind,
  mentions: readonly Mention[],
  sentences: readonly Sentence[],
  cuesOf: (sentence: number) => readonly CueMark[],
): string[] {
  const own = mentions.filter((mention) => mention.kind === kind);
  const found = new Set<string>([`kind:${kind}`]);
  let best = 0;
  for (const mention of own) {
    const sentence = sentences[mention.sentence];
    if (!sentence) continue;
    const features = describeMention(mention, sentence, cuesOf(mention.sentence));
    for (const feature of features) found.add(feature);
    if (features.includes('verb:hand') && !features.includes('not')) best += 1;
  }
  const asks = sentences.reduce(
    (sum, { tag }, at) =>
      sum +
      cuesOf(at).filter(
        ({ cue, from }) => cue === 'hand' && !NOT_ASKED.test(tag.slice(Math.max(0, from - 30), from)),
      ).length,
    0,
  );
  if (best > 0) found.add('handed');
  const kinds = new Set(mentions.map((mention) => mention.kind));
  found.add(kinds.size === 1 ? 'alone' : `kinds:${Math.min(4, kinds.size)}`);
  found.add(`mentions:${Math.min(4, own.length)}`);
  if (own.every((mention) => mention.how === 'format')) found.add('formats-only');
  if (own.every((mention) => mention.how === 'verb')) found.add(asks > 0 ? 'verbs-only+asks' : 'verbs-only');
  found.add(`asks:${Math.min(2, asks)}`);
  if (sentences.some(({ tag }) => NOTHING.test(tag))) found.add('nothing-asked');
  const isHandedIn = asks > 0;
  found.add(isHandedIn ? 'text-hands' : 'text-no-hands');
  if (kinds.size === 1 && isHandedIn) found.add('alone+text-hands');
  const order = [...new Set(mentions.map((mention) => mention.kind))].indexOf(kind);
  found.add(`order:${Math.min(3, order)}`);
  return [...found];
}

/** Cues of each sentence, found once. */
export function rememberCues(sentences: readonly Sentence[]): (sentence: number) => readonly CueMark[] {
  const known = new Map<number, readonly CueMark[]>();
  return (at) => {
    const before = known.get(at);
    if (before) return before;
    const sentence = sentences[at];
    const cues = sentence ? findCues(sentence) : [];
    known.set(at, cues);
    return cues;
  };
}
