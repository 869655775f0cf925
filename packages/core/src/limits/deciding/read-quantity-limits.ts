import type { LimitKind } from '../limit.ts';
import type { ReaderModels } from './models.ts';
import { judgeFeatures } from './linear-model.ts';
import type { Bounded } from './bounds.ts';
import { wordsOf } from './quantity-features.ts';
import type { TextContext } from './context.ts';
import type { Sentence } from '../finding/sentences.ts';
import type { MediaKind } from '../../media/containers.ts';

type Raw = { readonly kind: LimitKind } & Record<string, unknown>;
/**
 * Limits, or why there is none: `nothing` says nothing is asked for, `unread` that something is and was not
 * understood. `doubtful` limits may be about something that is not handed in: a person is asked.
 */
export type QuantityReading = readonly Raw[] | { readonly doubtful: readonly Raw[] } | 'nothing' | 'unread';

export interface QuantityInput {
  readonly sentence: Sentence;
  readonly bounded: Bounded;
  readonly context: TextContext;
  readonly heading: MediaKind | null;
  readonly features: readonly string[];
  readonly models: ReaderModels;
  /** It takes the place of a figure that was read just before it. */
  readonly isMended?: boolean;
}

const isBounded = (how: Bounded['how']) => how !== 'bare';

/** What a device does by itself, or what lies in a folder, is told, not asked. */
const IS_TOLD =
  /\b(?:phones?|cameras?)\b[^.,;]{0,30}\b(?:records?|films?|shoots?|makes?|saves?)\b|\b(?:shared folder|in the folder|on the drive|on the course page|backing track|is attached|are attached|(?:mine|ours) (?:is|are|was|were))\b/;
/** "They stay on your own disk, I don't need them": what is said of them is no limit. */
const IS_LEFT =
  /^(?: [a-z]+){0,3} beats? |\b(?:stays?|remains?) (?:on|with|in) your\b|\b(?:do not|don't) (?:need|want|send|hand in|upload) (?:me )?(?:it|them|those|that)\b/;
/** Below this chance a figure without a bound is not worth telling. */
const UNSURE = 0.3;
/** From this chance on a figure counts unasked. */
const SURE = 0.92;

const ORDERS = /\bverb:(?:hand|make)\b/;
const NAMED_NEAR = /^(?:media|work)[<>]$/;
const NAMED = /^(?:media|work)(?:<|>|<<)$/;
/** Whether a bound stands beside a word for what is handed in, and no word near it is about anything else. */
const isPlain = ({ how }: Bounded, features: readonly string[]) =>
  (how === 'max' || how === 'min' || how === 'range') &&
  features.some((each) => (ORDERS.test(features.join(' ')) ? NAMED : NAMED_NEAR).test(each)) &&
  !features.includes('tiny') &&
  !features.some((each) => /^(?:train|school|part|machine|takes|music|told)(?:<|>|<<|>>)$/.test(each));

const tell = (
  chance: number,
  { bounded, features }: QuantityInput,
  limits: readonly Raw[],
): QuantityReading => (chance < SURE && !isPlain(bounded, features) ? { doubtful: limits } : limits);

/** "The whole packet, map included, must not pass". */
const WHOLE_SET =
  /\b(?:(?:the )?whole (?:submission|upload|parcel|set|packet|lot|thing|series|folder|portfolio)|total|(?:all|both)(?: of (?:it|them)| the files)? together)\b[^#]{0,50}$/;

/** "At least 3 minutes, no more than 5": nothing in the sentence says what else it could be about. */
const isAllThereIs = ({ tag }: Sentence) =>
  tag
    .replace(/\( (?:it )?(?:was|used to be) #\w+# \)/g, '')
    .replace(
      /#\w+#|\b(?:at|the|very|least|most|max|maximum|min|minimum|no|not|more|less|longer|shorter|than|and|or|but|between|to|up|under|over|below|from|about|around|exactly|long|tops|only|please|mb|each|video|audio|file|files|photo|photos|is|limit|size|length|it|must|may|should|be|has|have|can)\b|[^a-z]/g,
      '',
    ).length <= 3;

/** "Film one dance of two minutes": a plain order, and the figure is that of what it orders. */
const ORDERED = new RegExp(
  `^(?:[-*] )?(?:please )?(?:${[
    ...['film', 'record', 'video', 'hand in', 'upload', 'submit', 'send', 'turn in', 'make', 'prepare'],
    ...['perform', 'create', 'give', 'sing', 'dance', 'play', 'i (?:would like|want|need|expect)'],
  ].join(
    '|',
  )}) (?:me )?(?:an?|one|#N\\d+#|your|us)?(?: [a-z'-]+){0,3}? (?:${wordsOf('media')}|${wordsOf('work')})(?: [a-z]+ it)? (?:of|lasting|that lasts|that is)(?: (?:about|around|roughly|exactly))? $`,
);

const readers: Readonly<Record<string, (input: QuantityInput) => QuantityReading>> = {
  duration: (input) => {
    const { sentence, bounded, features, models, isMended } = input;
    const { min, max, how, after } = bounded;
    const isOrdered = ORDERED.test(sentence.tag.slice(0, bounded.from));
    const chance =
      isMended || isOrdered || isAllThereIs(sentence) ? 1 : judgeFeatures(models.duration, features);
    // What a body does, in a sentence that names nothing else: only where all else speaks for it.
    const least = features.includes('activity-alone') ? 0.9 : 0.5;
    // Some seconds are rarely how long a performance is: without more to go by nobody is asked.
    const isMoment = features.includes('tiny') && chance < SURE;
    if (isMoment || chance < least) return isBounded(how) || chance > UNSURE ? 'unread' : 'nothing';
    const isTenth =
      /^(?: long)? \( \+ \/ (?:- )?#O\d+# \)|^(?: ,)? (?:\+ \/(?: -)?|plus or minus) #O\d+#/.test(after) &&
      /\b10 ?(?:%|per ?cent)/.test(sentence.items.map((each) => each.text).join(' '));
    const isAbout = isTenth || how === 'about' || /, give or take(?! (?:about )?#)/.test(after);
    return tell(chance, input, [{ kind: 'length', minUs: min, maxUs: max, ...(isAbout ? { isAbout } : {}) }]);
  },

  bytes: (input) => {
    const { sentence, bounded, features, models, isMended } = input;
    const { min, max, how, before, after, item } = bounded;
    const isTiny = item.isArticle === true && (item.value ?? 0) <= 1024;
    const chance = isTiny
      ? 0
      : isMended || isAllThereIs(sentence) || (bounded.isMadeSmaller && how === 'max')
        ? 1
        : judgeFeatures(models.bytes, features);
    if (chance < 0.5) return isBounded(how) ? 'unread' : 'nothing';
    const isTotal =
      /\b(?:total|altogether|together|combined|overall|whole (?:submission|upload|parcel|set|packet|lot|thing|series|folder|portfolio)|for the lot|for both|both|put together|the two of them|all (?:the |your )?files|in all|everything)\b/.test(
        `${
          (WHOLE_SET.exec(before.slice(before.lastIndexOf('#') + 1)) ??
            before
              .slice(before.lastIndexOf('#') + 1)
              .slice(-60)
              .split(/ [,|] /)
              .slice(-1))[0] ?? ''
        } ~ ${after.slice(0, 60).split(/ [,|)(] /)[0] ?? ''}`,
      ) &&
      !/^ (?:each|per|apiece|a piece)\b/.test(after) &&
      !/\beach (?:[a-z]+ ){0,3}$/.test(before) &&
      !/\bsingle file\b[^|]*$/.test(before.slice(-40));
    const isAmbiguous = item.isBinary !== true;
    const top = how === 'min' ? null : max;
    if (isTotal && top !== null && how !== 'range')
      return [{ kind: 'total-size', maxBytes: top, isAmbiguous }];
    const minBytes = how === 'range' || how === 'min' ? min : null;
    return tell(chance, input, [{ kind: 'file-size', minBytes, maxBytes: top, isAmbiguous }]);
  },

  px: ({ bounded }) => {
    const { min, max, before, after } = bounded;
    return [{ kind: 'picture-edge', edge: findEdge(before, after), min, max }];
  },

  lines: ({ bounded }) => {
    const { min, max, how, before } = bounded;
    if (
      how === 'bare' &&
      /\b(?:no|not|never|avoid|[a-z]+n't)(?: (?:film|shoot|record|use|in|it|them))* $/.test(before)
    )
      return 'unread';
    return [
      {
        kind: 'picture-edge',
        edge: 'lines',
        min: how === 'about' ? null : min,
        max: how === 'about' ? null : max,
      },
    ];
  },

  fps: ({ sentence, bounded: { min, max } }) =>
    /\b(?:as it is|as they are|unchanged)\b/.test(sentence.tag)
      ? 'nothing'
      : [{ kind: 'frame-rate', min, max }],

  hz: ({ bounded: { min, max, item } }) =>
    (item.value ?? 0) < 7000 ? 'nothing' : [{ kind: 'sample-rate', min, max }],

  lufs: ({ bounded: { min, max, how } }) => {
    if (how === 'about' || how === 'bare' || how === 'exact')
      return [{ kind: 'loudness', min: (min ?? 0) - 1, max: (max ?? 0) + 1 }];
    return [{ kind: 'loudness', min, max }];
  },

  peak: ({ sentence, bounded: { max, how, item } }) => {
    const isPeak = /\bpeaks?\b/.test(sentence.tag) || /dbtp|dbfs/.test(item.text);
    if (!isPeak || max === null) return isBounded(how) ? 'unread' : 'nothing';
    return [{ kind: 'true-peak', maxDbtp: max }];
  },

  dpi: ({ sentence, bounded: { min, after } }) => {
    const paper = findPaper(sentence);
    if (/^ (?:is|are|will be) (?:fine|ok|okay|enough|plenty)\b/.test(after)) return 'nothing';
    return min === null
      ? 'unread'
      : [
          {
            kind: 'print-resolution',
            minDpi: min,
            paperWidthMm: paper?.[0] ?? null,
            paperHeightMm: paper?.[1] ?? null,
          },
        ];
  },
};

/** Reads one bounded quantity by its dimension. */
export function readQuantityLimit(input: QuantityInput): QuantityReading {
  const isTold =
    input.bounded.how === 'bare' &&
    IS_TOLD.test(input.sentence.tag) &&
    !/\b(?:hand in|upload|submit|must|please|convert)\b/.test(input.sentence.tag);
  const isLoose = input.bounded.how === 'bare' || input.bounded.how === 'about';
  if (isTold || (isLoose && IS_LEFT.test(input.bounded.after))) return 'nothing';
  const reader = readers[input.bounded.item.dimension ?? ''];
  if (!reader) return input.bounded.how === 'max' || input.bounded.how === 'min' ? 'unread' : 'nothing';
  return reader(input);
}

function findEdge(before: string, after: string): 'long' | 'short' | 'width' | 'height' {
  const words = /^(?: [a-z']+){0,3}? (?:on|along|at|for|of) (?:the|its|their) (long|short)/.exec(after)?.[1];
  if (words) return words as 'long' | 'short';
  if (/^(?: or (?:more|less))?(?: at (?:most|least))? (?:wide|across|in width)\b/.test(after)) return 'width';
  if (/^(?: or (?:more|less))?(?: at (?:most|least))? (?:high|tall|in height)\b/.test(after)) return 'height';
  const said = [
    ...before.matchAll(/\b(long|short)(?:est|er)? (?:edge|side)|\b(width|height|wide|high|tall)\b/g),
  ].at(-1);
  if (said?.[1]) return said[1] as 'long' | 'short';
  if (said?.[2]) return said[2] === 'width' || said[2] === 'wide' ? 'width' : 'height';
  return 'long';
}

/** ISO 216, in millimetres. */
const PAPERS: Readonly<Record<string, readonly [number, number]>> = {
  a0: [841, 1189],
  a1: [594, 841],
  a2: [420, 594],
  a3: [297, 420],
  a4: [210, 297],
  a5: [148, 210],
  a6: [105, 148],
};

function findPaper(sentence: Sentence): readonly [number, number] | null {
  for (const item of sentence.items) {
    const paper = item.kind === 'word' ? PAPERS[item.text] : undefined;
    if (paper) return paper;
    if (item.kind === 'size' && item.dimension === 'other') return [item.value ?? 0, item.second ?? 0];
  }
  return null;
}

const ASPECTS = new Set([
  '16:9',
  '9:16',
  '4:3',
  '3:4',
  '3:2',
  '2:3',
  '1:1',
  '5:4',
  '4:5',
  '16:10',
  '10:16',
  '21:9',
  '2.39:1',
  '2.35:1',
  '1.85:1',
  '5:7',
  '7:5',
]);

/** Several sizes to choose from are none that can be checked. */
export function hasSeveralSizes(sentence: Sentence): boolean {
  return sentence.items.filter((item) => item.kind === 'size' && item.dimension === 'px').length > 1;
}

/** Sizes such as `1920 x 1080` and ratios such as `16:9`. */
export function readShapeLimits(sentence: Sentence): { raw: Raw; from: number; to: number }[] {
  const found: { raw: Raw; from: number; to: number }[] = [];
  const isChoice = hasSeveralSizes(sentence);
  const hasOneAspect =
    new Set(sentence.items.filter((item) => item.kind === 'ratio').map((item) => item.text)).size < 2;
  sentence.items.forEach((item, index) => {
    const [from, to] = sentence.places[index] ?? [0, 0];
    if (item.kind === 'size' && item.dimension === 'px' && !isChoice) {
      const before = sentence.tag.slice(0, from);
      const after = sentence.tag.slice(to);
      const isMax =
        /(?:at most|max(?:imum)?(?: of)?|no (?:more|larger|bigger) than|up to|under|below|within)(?: (?:size|resolution|of|is|:))* $/.test(
          before,
        ) || /^ (?:max(?:imum)?|at most|or (?:less|smaller|under|below))\b/.test(after);
      const isMin =
        /(?:at least|min(?:imum)?(?: of)?|no (?:less|smaller) than|over|above)(?: (?:size|resolution|of|is|:))* $/.test(
          before,
        ) || /^ (?:min(?:imum)?|at least|or (?:more|larger|above|better|bigger|higher))\b/.test(after);
      const bounds = (value: number) => ({ min: isMax ? null : value, max: isMin ? null : value });
      found.push(
        { raw: { kind: 'picture-edge', edge: 'width', ...bounds(item.value ?? 0) }, from, to },
        { raw: { kind: 'picture-edge', edge: 'height', ...bounds(item.second ?? 0) }, from, to },
      );
    }
    if (
      item.kind === 'ratio' &&
      hasOneAspect &&
      ASPECTS.has(item.text.replace(/ /g, '')) &&
      !/\b(?:scale|ratio of (?:water|ink)|parts?)\b/.test(sentence.tag)
    )
      found.push({ raw: { kind: 'aspect', width: item.value ?? 1, height: item.second ?? 1 }, from, to });
  });
  return found;
}
