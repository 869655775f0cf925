import type { CueMark } from '../finding/cues.ts';
import type { HandedKind, Mention } from '../finding/find-mentions.ts';
import type { Sentence } from '../finding/sentences.ts';
import { readBoundAt } from './context.ts';
import { judgeFeatures } from './linear-model.ts';
import type { CountMatch } from './read-counts.ts';
import { describeKind, describeMention } from './slot-features.ts';
import type { ReaderModels } from './models.ts';

export interface SlotMatch {
  readonly item: HandedKind;
  readonly min: number;
  readonly max: number | null;
  readonly sentence: number;
  readonly from: number;
  readonly to: number;
  readonly alternative: string | null;
  /** How sure the reader is that this kind is to be handed in, 0 to 1. */
  readonly chance: number;
}

export interface SlotInput {
  readonly mentions: readonly Mention[];
  readonly sentences: readonly Sentence[];
  readonly cuesOf: (sentence: number) => readonly CueMark[];
  /** Counts that were told in so many words, by the sentence that they stand in. */
  readonly counted: readonly (CountMatch & { readonly sentence: number })[];
  readonly isCorrection: (sentence: number) => boolean;
  readonly models: ReaderModels;
}

const KINDS: readonly HandedKind[] = ['video', 'sound', 'photo', 'document', 'text', 'link'];
/** From this chance on a kind is wanted. */
const LEAST_CHANCE = 0.5;

/**
 * What is to be handed in: each kind that the text speaks of, where the model says so, with the count that
 * its
 * best mention tells. Without one it is at least one.
 */
export function decideSlots(input: SlotInput): SlotMatch[] {
  const { mentions, sentences, cuesOf } = input;
  return KINDS.flatMap((kind) => {
    const own = mentions.filter((mention) => mention.kind === kind);
    if (own.length === 0) return [];
    const chance = judgeFeatures(input.models.slot, describeKind(kind, mentions, sentences, cuesOf));
    // A format alone names no item: "MP4 or MOV" is about whatever is handed in.
    if (
      own.every(({ how, determiner }) => how === 'format' && determiner === 'none') &&
      !isAnyHanded(sentences, cuesOf)
    )
      return [];
    const counted = input.counted.filter((count) => count.item === kind);
    if (chance < (counted.length > 0 ? LEAST_CHANCE / 2 : LEAST_CHANCE)) return [];
    if (counted.length > 0) {
      const chosen = chooseCount(counted, own, input);
      // "Six photographs of your process plus one final image".
      const added = counted.filter(
        (count) =>
          count.sentence === chosen.sentence &&
          count !== chosen &&
          /\bplus\b/.test(
            sentences[count.sentence]?.tag.slice(
              Math.min(count.to, chosen.to),
              Math.max(count.from, chosen.from),
            ) ?? '',
          ),
      );
      if (added.length > 0)
        return counted
          .filter((count) => count === chosen || added.includes(count))
          .map((count) => ({ ...count, item: kind, chance }));
      const things = chosen.max === 1 ? countThings(sentences[chosen.sentence]) : null;
      return [{ ...chosen, ...(things === null ? {} : { min: things, max: things }), item: kind, chance }];
    }
    const best = own
      .map((mention) => ({ mention, worth: weighMention(mention, sentences, cuesOf) }))
      .reduce((one, other) => (other.worth > one.worth ? other : one));
    return [countMention(best.mention, own, input, chance)];
  });
}

/** Something is handed in, made or asked for anywhere in the text. */
const isAnyHanded = (sentences: readonly Sentence[], cuesOf: SlotInput['cuesOf']) =>
  sentences.some((_, at) => cuesOf(at).some(({ cue }) => cue === 'hand' || cue === 'make' || cue === 'must'));

type Counted = SlotInput['counted'][number];

/**
 * Of several counts of a kind the last correction, else the one that is most surely asked for, else the
 * most.
 */
function chooseCount(counted: readonly Counted[], own: readonly Mention[], input: SlotInput): Counted {
  const worth = (count: Counted) => {
    const mention = own.find(
      (each) => each.sentence === count.sentence && each.from < count.to && each.to > count.from,
    );
    const before = input.sentences[count.sentence]?.tag.slice(Math.max(0, count.from - 40), count.from) ?? '';
    const isMended =
      /\b(?:strike that|scrap that|no|sorry|i mean|make that|rather)(?: ,| :| -|) ?(?:i meant |make it )?$/.test(
        before,
      );
    const isPast = /\b(?:sent|last time|last year|had|was|were)\b/.test(before);
    return (
      (mention ? weighMention(mention, input.sentences, input.cuesOf) : 0) +
      (isMended ? 9 : 0) +
      (input.isCorrection(count.sentence) ? 4 : 0) -
      (isPast ? 4 : 0)
    );
  };
  const [first, ...others] = counted.map((count) => ({ count, worth: worth(count) }));
  if (!first) throw new RangeError('A count was expected.');
  return others.reduce(
    (best, each) =>
      each.worth > best.worth || (each.worth === best.worth && each.count.min > best.count.min) ? each : best,
    first,
  ).count;
}

/** How likely a mention is the one that tells what is handed in. */
function weighMention(mention: Mention, sentences: readonly Sentence[], cuesOf: SlotInput['cuesOf']): number {
  const sentence = sentences[mention.sentence];
  if (!sentence) return 0;
  const features = new Set(describeMention(mention, sentence, cuesOf(mention.sentence)));
  let worth = mention.min === null ? 0 : mention.determiner === 'a' ? 2 : 3;
  if (features.has('verb:hand')) worth += 2;
  if (features.has('is-label') || features.has('first')) worth += 1;
  if (features.has('not') || features.has('if') || features.has('told-before')) worth -= 3;
  if (features.has('compound') || features.has('verb:look')) worth -= 2;
  if (!features.has('placed:no')) worth -= 1;
  return worth;
}

/** "One video", "a video", "up to four photos"; "video, one per student"; else at least one. */
function countMention(
  mention: Mention,
  own: readonly Mention[],
  { sentences, mentions }: SlotInput,
  chance: number,
): SlotMatch {
  const sentence = sentences[mention.sentence];
  const tag = sentence?.tag ?? '';
  const common = {
    item: mention.kind,
    sentence: mention.sentence,
    from: mention.from,
    to: mention.to,
    alternative: null,
    chance,
  };
  const things = mention.min === 1 || mention.min === null ? countThings(sentence) : null;
  if (things !== null) return { ...common, min: things, max: things };
  const not = /\bnot #N\d+# [a-z]+(?: ,| -| but)+ #N(\d+)#/.exec(tag);
  const instead = not ? (sentence?.items[Number(not[1])]?.value ?? 0) : 0;
  if (not && Number.isInteger(instead) && instead > 0) return { ...common, min: instead, max: instead };
  if (mention.min !== null && !(mention.isPlural && mention.determiner === 'a')) {
    const bound = mention.min === mention.max ? readBoundAt(tag, mention.from, mention.to) : null;
    const least =
      bound === 'max'
        ? /(?:fewer|less) than #N(\d+)# (?:,|and|but|or)(?: [a-z]+){0,2} (?:no|not) more than $/.exec(
            tag.slice(0, mention.from),
          )
        : null;
    const min = least ? (sentence?.items[Number(least[1])]?.value ?? 0) : bound === 'max' ? 0 : mention.min;
    return { ...common, min, max: bound === 'min' ? null : mention.max };
  }
  if (mention.how === 'noun' && !mention.isPlural && mention.min !== null)
    return { ...common, min: 1, max: 1 };
  const after = tag.slice(mention.to, mention.to + 60);
  const behind =
    /^(?: [a-z'()#0-9A-Z]+){0,8}?(?: ,| :| \(| -| \|)+ (?:just |only )?#N(\d+)#(?= (?:per|for each|each|a|only|file|of|track|upload)\b|$| [,)|]| please| max)/.exec(
      after,
    );
  const number = behind ? (sentence?.items[Number(behind[1])]?.value ?? 0) : 0;
  if (behind && Number.isInteger(number) && number > 0 && number <= 60)
    return { ...common, to: mention.to + behind[0].length, min: number, max: number };
  const sum = /#N(\d+)# (?:altogether|in all|in total|all together)\b/.exec(tag);
  const total = sum ? (sentence?.items[Number(sum[1])]?.value ?? 0) : 0;
  if (sum && Number.isInteger(total) && total > 1 && total <= 60)
    return { ...common, from: sum.index, to: sum.index + sum[0].length, min: total, max: total };
  const kinds = new Set(mentions.map(({ kind }) => kind));
  const isAlone = kinds.size === 1;
  if (isAlone) {
    for (const [at, { tag: other, items }] of sentences.entries()) {
      const one =
        /number of files?(?: :| \|| =)* #N(\d+)#/.exec(other) ??
        /(?<![a-z])#N(\d+)# (?:single )?(?:files?|uploads?|takes? only|only|attachments?|submissions? per)(?![a-z])/.exec(
          other,
        );
      const value = one ? (items[Number(one[1])]?.value ?? 0) : 0;
      if (one && value >= 1 && value <= 60 && !/\b(?:submissions?|attempts?)\b/.test(one[0]))
        return {
          ...common,
          sentence: at,
          from: one.index,
          to: one.index + one[0].length,
          min: value,
          max: value,
        };
      const short =
        /^(?:just |only )?#N(\d+)# [a-z]+(?: only| please| total| altogether)?$/.exec(other) ??
        /#N(\d+)# (?:upload|submission|file|video) per (?:pair|group|team|person|student)\b/.exec(other);
      const shortValue = short ? (items[Number(short[1])]?.value ?? 0) : 0;
      if (short && shortValue === 1)
        return {
          ...common,
          sentence: at,
          from: short.index,
          to: short.index + short[0].length,
          min: 1,
          max: 1,
        };
      const single = /\b(?:a|just the|only the|just) (?:single )?file\b/.exec(other);
      if (single)
        return {
          ...common,
          sentence: at,
          from: single.index,
          to: single.index + single[0].length,
          min: 1,
          max: 1,
        };
    }
  }
  if (mention.isPlural && own.every((one) => one.isPlural)) return { ...common, min: 1, max: null };
  return { ...common, min: 1, max: 1 };
}

const EACH =
  /\beach (?:as|scanned|photographed|in|on|one|its own|a|an|saved|recorded|filmed)\b|#N\d+# (?:picture|photo|photograph|image|video|clip|file|scan|recording|pdf) (?:per|for each|of each|on each) (?!person|student|pupil|group|pair|team|candidate|artist|swimmer|actor|player|company|head)/;

/** "Four drawings, each scanned": as many as there are things; null where nothing says so. */
function countThings(sentence: Sentence | undefined): number | null {
  if (!sentence || !EACH.test(sentence.tag)) return null;
  const numbers = sentence.items.flatMap(({ kind, dimension, value = 0 }) =>
    kind === 'quantity' && dimension === 'number' && Number.isInteger(value) && value > 1 && value <= 60
      ? [value]
      : [],
  );
  return numbers[0] ?? null;
}
