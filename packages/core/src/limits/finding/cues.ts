import type { Sentence } from './sentences.ts';

/** What a word or a few of them do in a sentence, told by the words alone. */
export type Cue =
  | 'hand' // handing in: submit, upload, send in
  | 'make' // making it: film, record, photograph
  | 'look' // taking in what is there: watch, open, use
  | 'told' // somebody else's: I posted, we watched, the backing track
  | 'be' // is, are, consists of
  | 'not'
  | 'must'
  | 'may'
  | 'if'
  | 'example'
  | 'own'; // your, each of you, per student

/** A stretch of the sentence's tag that is a cue. */
export interface CueMark {
  readonly cue: Cue;
  readonly from: number;
  readonly to: number;
}

const it = '(?: (?:it|them|this|that|these|everything|me|us|all of it|your work|both|all))?';

/** English cues; where several begin at the same word, the first of the list counts. */
const CUES: readonly (readonly [Cue, string])[] = [
  [
    'told',
    "i(?:'ve| have| will|'ll)? (?:\\w+ )?(?:post(?:ed)?|gave|give you|shared?|sent|showed|shown|play(?:ed)?|made|put|attach(?:ed)?|upload(?:ed)?|provide[d]?|handed|took)|we (?:watched|saw|listened|looked|took|made|filmed|recorded|read|played|use[d]?|covered)|(?:is|are) (?:on|in) the (?:course|shared|school|class|drive|folder|website|site|board|portal|music|page)|(?:backing|accompaniment|click|play along|practice|demo|sample|model|example|reference|tutorial|template)(?: (?:track|video|recording|file|clip|audio|mp3|photo|image|pdf))?|(?:last|this) (?:year|term|week)'s|handout|worksheet|syllabus|slides?|textbook|packet",
  ],
  [
    'hand',
    `hand(?:s|ed|ing)?${it} (?:in|over|to me)|hand - in|handing in|turn(?:s|ed|ing)?${it} in|submit(?:s|ted|ting)?|submissions?|upload(?:s|ed|ing)?|re ?- ?upload|send(?:s|ing)?|attach(?:es|ed|ing)?|post(?:s|ing)?|deliver(?:s|ed|ing|ables?)?|e ?- ?mail(?:s|ed)?|give (?:me|us)|get (?:me|us)|bring (?:me|us)|share[sd]?|provide[sd]?|supply|include[sd]?|drop (?:it|them|your|a|the)|put (?:it|them|your|a|the)|(?:i|we|you) (?:will |'ll |only |just )?(?:need|want|expect|require|accept|collect|'d like|would like)|i am after|looking for|(?:all|what) i (?:want|need)(?: back)?|is (?:needed|wanted|required|expected|due)|are (?:needed|wanted|required|expected|due)|goes? in|comes? in|due|required|contain[s]?|consists? of|evidence|lodge[sd]?|enter(?:ed)?|forward|return|present(?:ed)?`,
  ],
  [
    'make',
    'film(?:ed|ing)|film (?:it|yourself|your|the|a|each|one|this|them|in|from|with)|record(?:s|ed|ing yourself)?|re ?- ?record|shoot|shot|photograph(?:ed)?|snap|tak(?:e|en|ing)|make|makes|produce[sd]?|create[sd]?|export(?:ed)?|sav(?:e|ed)|bounce|render|captur(?:e|ed)|scan(?:ned)?|screenshot|prepare|perform|play|sing|edit|assemble|combine|add|choose|pick|select|compress|convert|crop|type[d]?|write|written',
  ],
  [
    'look',
    'watch(?:ed|ing)?|look(?:ed|ing)? at|listen(?:ed|ing)? to|see|study|read|open|use|follow|compare|refer to|find|download|stream|copy|print|check|review',
  ],
  [
    'not',
    "not|no|never|nothing|without|avoid|don't|do n't|dont|isn't|aren't|can't|cannot|won't|doesn't|shouldn't|needn't|neither|nor|none|instead of|rather than",
  ],
  ['if', 'if|unless|when|whenever|in case|should you'],
  ['example', 'e\\.?g\\.?|for example|for instance|such as|example|sample'],
  ['must', 'must|has to|have to|needs? to|should|shall|please|make sure|ensure|be sure'],
  ['may', 'may|can|could|might|allowed|fine|okay|ok|optional|optionally|welcome'],
  [
    'own',
    'your|yourself|each (?:of you|student|person|pupil|player|group|pair|team|candidate|actor|dancer|singer)|every (?:student|player|pupil|candidate|group|one)|per (?:student|person|pupil|group|pair|team|player|candidate|actor|swimmer)|everyone|you',
  ],
  ['be', 'is|are|was|were|will be|comes? as|format|deliverables?|what'],
];

const PATTERNS = CUES.map(
  ([cue, words]) => [cue, new RegExp(`(?<![a-z0-9'])(?:${words})(?![a-z0-9'])`, 'g')] as const,
);

/** All cues of a sentence in their order; one that lies inside another is left out. */
export function findCues({ tag }: Pick<Sentence, 'tag'>): CueMark[] {
  const found: CueMark[] = [];
  for (const [cue, pattern] of PATTERNS) {
    for (const match of tag.matchAll(pattern)) {
      const [from, to] = [match.index, match.index + match[0].length];
      if (!found.some((mark) => mark.from < to && mark.to > from)) found.push({ cue, from, to });
    }
  }
  return found.sort((left, right) => left.from - right.from);
}
