import type { Part } from '../../presence/look.ts';
import type { Sentence } from '../finding/sentences.ts';
import type { WordMatch } from './read-word-limits.ts';

const WHOSE =
  "(?:your|their|his|her|the (?:player|performer|dancer|singer|actor|runner|pianist|student)(?:s|'s)?|both|both of your|the|all)";

/** Words for a part of the person that is to be seen. */
const PARTS: readonly (readonly [Part, RegExp])[] = [
  [
    'face',
    /\b(?:face|faces|facial expressions?)\b(?! (?:the|each|one|up|down|value|paint\w*|masks?|to face|forward))/,
  ],
  [
    'hands',
    new RegExp(
      `\\b${WHOSE} (?:(?:of )?your |the )?(?:hands|fingers|fingering)\\b|\\b(?:and|,) (?:hands|fingers)\\b|\\bhands and (?:your )?(?:face|fingers)\\b`,
    ),
  ],
  [
    'body',
    /\b(?:(?:your|their|the dancer's|the performer's|the runner's) (?:whole|full|entire|complete) (?:body|figure)|full body|whole of (?:your|the) body|(?:from )?head to (?:toes?|foot|feet)|all of you\b(?! [a-z]))/,
  ],
];

/** What says that it is about being seen. */
const SEEN =
  /\b(?:see|seen|show|shows|showing|shown|visible|clearly|in (?:the )?(?:view|frame|shot|picture|film|recording|video)|film|filmed|camera|capture[sd]?|on screen|in sight)\b/;
/** A piece that shows hands or a face is another thing. */
const ART =
  /\b(?:draw\w*|paint\w*|sketch\w*|sculpt\w*|print\w*|portraits?|collage|clay|study of|studies of|character'?s|puppets?|masks?|model\w*)\b/;
const NOT = /\b(?:not|never|no|without|avoid|[a-z]+n't|hide|cover|blur)\b[^,;.]{0,40}$/;
const NO_NEED = /\b(?:need|have to|required|necessary)\b/;
const MUST =
  /\b(?:must|has to|have to|needs? to|required|essential|at all times|will not be|won't be|cannot be marked)\b/;
/** Hands that are handed in, shaken or washed are not meant. */
const OTHER_HANDS = /\b(?:wash|shake|clap\w*|raise|hands on|hands off|hands free|on (?:your )?hands and)\b/;

/** "I want to see both hands and your face": a wish, unless the words insist. */
export function readInView({ tag }: Sentence): WordMatch[] {
  if (!SEEN.test(tag) || ART.test(tag) || OTHER_HANDS.test(tag)) return [];
  const found = PARTS.flatMap(([part, pattern]) => {
    const match = pattern.exec(tag);
    return match ? [{ part, from: match.index, to: match.index + match[0].length }] : [];
  });
  if (found.length === 0) return [];
  const from = Math.min(...found.map((each) => each.from));
  const to = Math.max(...found.map((each) => each.to));
  // "You do not need to show your face" asks for nothing; "do not show any faces" is another wish.
  if (NOT.test(tag.slice(0, from))) return NO_NEED.test(tag.slice(0, from)) ? [{ raw: null, from, to }] : [];
  const parts = found.filter((each) => !NOT.test(tag.slice(0, each.from))).map((each) => each.part);
  return [{ raw: { kind: 'in-view', parts }, severity: MUST.test(tag) ? 'must' : 'should', from, to }];
}
