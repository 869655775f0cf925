import type { Item } from '../finding/quantities.ts';
import type { Sentence } from '../finding/sentences.ts';

/** One or two quantities of a sentence with what the words around them make of them. */
export interface Bounded {
  readonly item: Item;
  readonly min: number | null;
  readonly max: number | null;
  readonly how: 'range' | 'max' | 'min' | 'about' | 'exact' | 'bare';
  /** Stretch of the tag that says so. */
  readonly from: number;
  readonly to: number;
  /** The words before and after it in the same sentence. */
  readonly before: string;
  readonly after: string;
  readonly isDropped: boolean;
  /** Its bound was put with a "not", which may carry over to the next one. */
  readonly isNegated?: boolean;
  /** What is larger is to be made smaller. */
  readonly isMadeSmaller?: boolean;
}

/** How far around a quantity its bound is looked for, in signs of the tag. */
const CONTEXT = 200;
const NOT = "(?:nobody(?:'s)?|no one(?:'s)?|no|not|never|cannot|nothing|none|neither|nor|without|[a-z]+n't)";
const FILL =
  '(?: (?:\\||of|is|are|be|will|should|must|has|have|to|at|about|around|approximately|roughly|just|a|an|the|only|total|overall|length|duration|running|time|size|file|sizes|long|for|it|in|:|=|set|as|per|video|clip|piece|recording|each|resolution|quality|your|my|our|somewhere|absolute|upper|lower|combined))*';
const WAY = "(?: (?:[a-z']+|#N\\d+#)){0,4}?";
const NOT_OVER = `${NOT}${WAY} (?:more|longer|larger|bigger|greater|higher|wider|taller|heavier|louder|over|above|beyond|past|exceed|exceeding|exceeds)(?: than| then)?`;
const NOT_BELOW = `${NOT}${WAY} (?:less|shorter|smaller|fewer|lower|quieter|below|under)(?: than| then)?`;
const AT_MOST =
  "(?:at (?:the )?(?:very )?(?:most|max|maximum)|max(?:imum)?(?: \\.)?|maximal|up to(?: and including)?|upto|under|below|beneath|less (?:than|then)|fewer than|shorter (?:than|then)|smaller (?:than|then)|lower than|slower than|within|limit(?:ed)?(?: to| of)?|cap(?:ped)?(?: at| of)?|ceiling(?: of)?|keep (?:[a-z]+ ){0,3}(?:to|at)|≤|< =|<|stops? at|restricted to|the longest(?: [a-z']+){0,3} is|longest(?: each)?|until|till|not more as)";
const AT_LEAST =
  "(?:at (?:the )?(?:very )?(?:least|min|minimum)|min(?:imum)?(?: \\.)?|minimal|more (?:than|then)|longer (?:than|then)|larger (?:than|then)|bigger (?:than|then)|higher than|greater than|faster than|over|above|past|beyond|upwards? of|≥|> =|>|exceeds?|starting (?:at|from)|the shortest(?: [a-z']+){0,3} is|shortest(?: each)?)";
const ABOUT =
  '(?:like|about|around|approximately|approx(?: \\.)?|roughly|circa|ca(?: \\.)?|~|some|in the region of|more or less|somewhere near)';
const EXACTLY = '(?:exactly|precisely)';
const AFTER_FILL =
  '(?: (?:long|each|apiece|in|length|size|file|total|wide|high|tall|per|a|piece|video|clip|photo|picture|image|is|on|the|every|item|edge|side|longest|shortest|short))*';

const before = (words: string) => new RegExp(`(?<![a-z'])${words}${FILL}$`);
const beforeRules = [
  ['max', before(NOT_OVER)],
  ['min', before(NOT_BELOW)],
  ['max', before(AT_MOST)],
  ['min', before(AT_LEAST)],
  ['exact', before(EXACTLY)],
  ['about', before(ABOUT)],
] as const;
const after = (words: string) => new RegExp(`^${AFTER_FILL}${words}`);
const NO_NEXT = '(?! (?:of |is |: |length |size |the |at )*#[A-Z])';
const afterRules = [
  [
    'max',
    after(
      ` (?:max(?:imum)?\\b${NO_NEXT}|at (?:the )?(?:very )?(?:most|max|maximum)\\b${NO_NEXT}|tops\\b|or (?:less|under|below|shorter|smaller|fewer|lower|slower)\\b|and (?:under|below|no more|not more|no longer|less)\\b|limit\\b|cap\\b|ceiling\\b|the longest\\b|(?:will|can|gets?|goes) (?:pass|in|through)\\b|at the (?:outside|(?:very )?longest|latest)\\b|(?:is|as) (?:the|my|your|our|an?) (?:absolute |upper |very )?(?:limit|maximum|max|ceiling|cap|most)\\b)`,
    ),
  ],
  [
    'max',
    /^(?: ,)? (?:and |but )?(?:not|no|never) (?:an? [a-z]+ |one (?:second|byte) )?(?:more|longer|bigger|larger|over)\b(?! than)/,
  ],
  [
    'max',
    new RegExp(
      `^ , (?:max(?:imum)?|at (?:the )?(?:very )?most|tops|no (?:more|longer))\\b${NO_NEXT}(?! than| then)`,
    ),
  ],
  [
    'min',
    after(
      ` (?:min(?:imum)?\\b${NO_NEXT}|at (?:the )?(?:very )?(?:least|min|minimum)\\b${NO_NEXT}|or (?:more|longer|above|over|higher|greater|better|larger|bigger|up|faster|wider)\\b|and (?:up|above|over|more|upwards|better)\\b|plus\\b(?! or)|\\+(?! \\/)|upwards\\b|(?:at )?the (?:very )?shortest\\b|is the (?:absolute )?(?:minimum|least)\\b)`,
    ),
  ],
  ['min', new RegExp(`^ , (?:min(?:imum)?|at (?:the )?(?:very )?least)\\b${NO_NEXT}`)],
  ['exact', after('(?: ,)? (?:exactly|precisely|on the dot|bang on|on the nose)\\b')],
  [
    'about',
    after(
      '(?: ,)? (?:or so|- ish|ish|give or take|approximately|approx|roughly|or thereabouts|more or less)\\b',
    ),
  ],
] as const;
const RANGE_BEFORE = /(?:anywhere |somewhere )?(?:between|from|of|: |in)? ?$/;
/** "Anything over 4 minutes will be cut off": what is refused lies on the other side. */
const REFUSED =
  /\b(?:(?:will|would|shall|may|are|is|get|gets) (?:all )?(?:automatically )?(?:be )?(?:rejected|refused|deleted|ignored|cut off|cut short|stopped|disqualified|penali[sz]ed|returned|sent back|marked down|turned away|lost|bounced?)|(?:will|is|are|can|would|does|do|may)(?: not|n't)(?: be)? (?:accepted|allowed|uploaded|watched|marked|opened|played|taken|upload|fit|go through|work|ok|okay|fine|counted|considered|read|listened|heard|assessed|graded)|(?:won't|can't|cannot|isn't|aren't|doesn't|don't)(?: be)? (?:accepted|allowed|uploaded|watched|marked|opened|played|taken|upload|fit|go through|work|ok|okay|fine|counted|considered|read|listened|heard|assessed|graded|get)|(?:is|are) too (?:long|big|large|much|small|short|heavy)|loses? (?:a )?(?:marks?|points?)|fails? to upload|upload fails|chokes?|crash(?:es)?)\b/;
/** "Larger ones must be compressed": what lies above is to be made smaller. */
const SMALLER =
  /(?:\b(?:must|need to|needs to|has to|have to|should|please) (?:be )?|, (?:please |then )?)(?:make it smaller|made smaller|compress|shrink|shrunk|reduced?|squash|trim|cut it|cut down|split|zip)|\b(?:compress|shrink|squash) (?:it|them|the file|your)\b/;
const REFUSED_BEFORE =
  /\b(?:(?:is|are)(?: not|n't) (?:fine|ok|okay|allowed|acceptable)|isn't (?:fine|ok|okay)|reject|rejects|refuse|refuses|too (?:long|big) (?:is|means)|(?:will|do|does|can)(?: not|n't) (?:take|accept|watch|mark|open)|(?:won't|don't|can't|cannot|doesn't) (?:take|accept|watch|mark|open))\b[^.]{0,60}$/;
/** "If it is larger than 2 GB, split it", "it is fine to go over two minutes": no least is asked for. */
const CONDITIONAL = /\bif (?:your|the|it|this|a) [^,]*$|\b(?:fine|ok|okay|allowed|free) (?:to|if)\b[^,]*$/;
/** "I don't care if it is 40 seconds or 3 minutes". */
const DONT_CARE =
  /\b(?:do(?:es)?(?: not|n't)|not|isn't|aren't) (?:really )?(?:care|mind|matter|worry|necessary|need to|have to)\b[^.,;]{0,40}$|\b(?:no need|needn't|unnecessary)\b[^.,;]{0,40}$/;
const NEGATED = /^(?:no|not|never|cannot|nothing|none|neither|nor|without|[a-z]+n't)\b/;
const CHANGE =
  /\b(?:gone|goes|raised|changed|change|increased|moved|extended|lowered|reduced|went|up|down)\b/;
const DROPPED_BEFORE =
  /(?:\b(?:i|it|we) (?:wrote|said|asked for|put|told you)|originally|instead of|rather than|used to be|was|were|had been|previously|not|isn't|forget|ignore|scrap|no longer)(?: (?:the|a|an|at|my|that|limit|of|about))* $/;

/** Every quantity that may be a limit, with its bounds; ranges are joined. */
export function readBounded(sentence: Sentence): Bounded[] {
  const found: Bounded[] = [];
  const matches = [...sentence.tag.matchAll(/#([DBPLFHUKIN])(\d+)#/g)];
  let cut = 0;
  for (let index = 0; index < matches.length; index += 1) {
    const first = matches[index];
    if (!first) continue;
    const at = first.index;
    const item = sentence.items[Number(first[2])];
    if (!item) continue;
    const endOf = (match: RegExpMatchArray) => (match.index ?? 0) + match[0].length;
    const second = matches[index + 1];
    const joint = second && second[1] === first[1] ? sentence.tag.slice(endOf(first), second.index) : null;
    const other = second ? sentence.items[Number(second[2])] : undefined;
    const words = sentence.tag.slice(Math.max(cut, at - 2 * CONTEXT), at);
    const wordsAt = Math.max(cut, at - 2 * CONTEXT);
    if (joint !== null && other && second) {
      const values = [item.value ?? 0, other.value ?? 0] as const;
      const isSpread =
        /^(?: long| in length)?(?: ,| \()* (?:\+ \/ -|±|plus or minus|plus \/ minus|give or take|\+ or -)(?: about)? $/.test(
          joint,
        );
      const isEitherWay =
        /^ ,(?: with| and)? $/.test(joint) &&
        /^ (?:either (?:way|side)|each way)\b/.test(sentence.tag.slice(endOf(second)));
      const isRange =
        /^ (?:to|-|until|till|up to|or|\/) $/.test(joint) ||
        (/^ and $/.test(joint) && /\b(?:between|from)(?: [a-z]+)?(?: the)? $/.test(words));
      if (isSpread || isEitherWay || (isRange && values[0] <= values[1])) {
        if (/\bfrom $/.test(words) && CHANGE.test(sentence.tag.slice(0, at))) {
          cut = second.index ?? 0;
          continue;
        }
        const rest = sentence.tag.slice(endOf(second));
        const opening = RANGE_BEFORE.exec(words)?.[0].trim() ?? '';
        found.push({
          item,
          min: isSpread || isEitherWay ? values[0] - values[1] : values[0],
          max: isSpread || isEitherWay ? values[0] + values[1] : values[1],
          how: 'range',
          from: at - (opening ? opening.length + 1 : 0),
          to: endOf(second),
          before: sentence.tag.slice(Math.max(0, at - 2 * CONTEXT), at),
          after: rest.slice(0, 2 * CONTEXT),
          isDropped: DONT_CARE.test(words),
        });
        cut = endOf(second);
        index += 1;
        continue;
      }
    }
    // With the beginning of the next quantity, so that a cue that belongs to that one is told apart.
    const rest = sentence.tag.slice(endOf(first), second ? (second.index ?? 0) + 2 : undefined);
    const last = found.at(-1);
    const isCarried =
      last !== undefined &&
      last.isNegated === true &&
      /^ (?:or|nor|and) (?:be )?(?:longer|shorter|more|less|bigger|smaller|larger|over|under|above|below|higher|lower|fewer|greater)\b/.test(
        words,
      );
    found.push(
      bindOne(
        sentence,
        item,
        isCarried ? ` not${words.replace(/^ (?:or|nor|and)/, '')}` : words,
        rest,
        at,
        endOf(first),
        wordsAt,
      ),
    );
    cut = endOf(first);
  }
  return found;
}

function bindOne(
  sentence: Sentence,
  item: Item,
  words: string,
  rest: string,
  at: number,
  end: number,
  cut: number,
): Bounded {
  const common = {
    isMadeSmaller: SMALLER.test(sentence.tag.slice(end)),
    item,
    before: sentence.tag.slice(Math.max(0, at - 2 * CONTEXT), at),
    after: sentence.tag.slice(end, end + 2 * CONTEXT),
  };
  const value = item.value ?? 0;
  const build = (how: Bounded['how'], from: number, to: number): Bounded => ({
    ...common,
    how,
    from,
    to,
    min: how === 'max' ? null : value,
    max: how === 'min' ? null : value,
    isDropped: false,
  });
  const trimmed = words.slice(-CONTEXT).replace(/ $/, '');
  const offset = Math.max(0, words.length - CONTEXT);
  const isAfterFrom = /\bfrom$/.test(trimmed) && CHANGE.test(common.before) && /^ to /.test(rest);
  const clauseAfter = /\bif [^,]*$/.test(common.before)
    ? common.after
    : (common.after.split(/ (?:but|,|;) /)[0] ?? '');
  const isRefused = REFUSED.test(clauseAfter) || REFUSED_BEFORE.test(common.before);
  const { isMadeSmaller } = common;
  const turn = (how: Bounded['how']) =>
    how === 'min' && isMadeSmaller
      ? 'max'
      : isRefused
        ? (({ max: 'min', min: 'max' } as const)[how as 'max' | 'min'] ?? how)
        : how;
  if (DONT_CARE.test(common.before)) return { ...build('bare', at, end), isDropped: true };
  for (const [how, pattern] of beforeRules) {
    const match = pattern.exec(trimmed);
    if (
      match &&
      how === 'min' &&
      !isRefused &&
      !isMadeSmaller &&
      !NEGATED.test(match[0]) &&
      CONDITIONAL.test(common.before)
    )
      return { ...build('bare', at, end), isDropped: true };
    if (match)
      return {
        ...build(NEGATED.test(match[0]) ? how : turn(how), cut + offset + match.index, end),
        isNegated: NEGATED.test(match[0]),
      };
  }
  // "A minute fifty (1:50) is the maximum", "40 seconds and 80 MB at most".
  if (
    /^ \( #[A-Z]\d+# \) (?:is|as) (?:the|my|our|an?) (?:absolute |very )?(?:limit|max|maximum|cap|ceiling|most)\b|^ (?:and|,|\/) #[BDPL]\d+# (?:at (?:the )?most|max(?:imum)?|tops|or less)\b/.test(
      common.after,
    )
  )
    return build('max', at, end);
  for (const [how, pattern] of afterRules) {
    const match = pattern.exec(rest.slice(0, CONTEXT));
    if (match) return build(turn(how), at, end + match[0].length);
  }
  const isDropped =
    isAfterFrom ||
    DROPPED_BEFORE.test(common.before) ||
    /^ (?:is|are) (?:unnecessary|not (?:needed|necessary|required)|overkill)\b/.test(rest) ||
    (/^ (?:is|are) (?:plenty|enough|fine|ok|okay)\b/.test(rest) &&
      /#[DBPLFHUKI]\d+#|#N\d+# is/.test(common.after)) ||
    /^ before\b/.test(rest) ||
    /\(\s*(?:it )?(?:was|used to be|previously)[^)]*$/.test(common.before);
  return { ...build(item.isLeast ? 'min' : 'bare', at, end), isDropped };
}
