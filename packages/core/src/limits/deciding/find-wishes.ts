import type { Understood } from './found.ts';
import type { Sentence } from '../finding/sentences.ts';

export interface Wish {
  readonly start: number;
  readonly end: number;
  readonly text: string;
}

const STRONG =
  /\b(?:must|make sure|ensure|need to|needs to|has to|have to|has got to|be sure|remember to|required?|do not|never|only|at least|at most|no more than|no less than|[a-z]*n't)\b|(?:^|, |- |\band )(?:no|not|nothing)\b/;
const DEMAND =
  /\b(?:must|make sure|ensure|need to|needs to|has to|have to|has got to|should|shall|please|be sure|remember|want (?:to see|to hear|you)|wants? to|expect|required?|do not|always|never|only|avoid|[a-z]+n't)\b|(?:^|, )(?:no|not|nothing)\b/;
const IMPERATIVE =
  /^(?:please |then |and |so |now |just |also |[-*] )*(?:each|every|use|hold|keep|leave|trim|put|add|place|stand|light|check|avoid|include|crop|start|begin|end|wear|face|speak|turn|make|show|shoot|film|record|photograph|save|export|bounce|send|upload|hand|submit|remove|set|fill|frame|clean|label|attach|encode|convert|reduce|compress|introduce|announce|state|say|explain|describe|look|bow|sit|tune|smile|dress|warm|mute)\b/;
const FREE =
  /\b(?:do(?: not|n't) (?:need to )?worry|does(?: not|n't) matter|do(?: not|n't) mind|no (?:minimum|maximum|limit|upper limit|lower limit)|any (?:length|format|size)|any length you like|have fun|do your best|good luck|well done|thank you|thanks|see you (?:then|soon|on|in|next|at|there|all)|is fine|are fine)\b/;

/** Sentences and clauses that ask for something and of which nothing was understood. */
export function findWishes(
  sentences: readonly Sentence[],
  understood: readonly Understood[],
  unread: readonly Understood[],
  text: string,
): Wish[] {
  const wishes: Wish[] = [];
  const isUnderstood = createTouchTest(understood);
  const isUnreadAt = createTouchTest(unread);
  for (const sentence of sentences) {
    const isTouched = isUnderstood(sentence.start, sentence.end);
    const clauses = isTouched
      ? divideClauses(sentence)
      : [{ start: sentence.start, end: sentence.end, tag: sentence.tag }];
    for (const clause of clauses) {
      if (isUnderstood(clause.start, clause.end)) continue;
      const isUnread = isUnreadAt(clause.start, clause.end);
      const asks = isTouched
        ? STRONG.test(clause.tag)
        : DEMAND.test(clause.tag) || IMPERATIVE.test(clause.tag);
      if (!isUnread && (!asks || FREE.test(clause.tag))) continue;
      if (clause.tag.replace(/#\w+#|[^a-z]/g, '').length < 5) continue;
      wishes.push({
        start: clause.start,
        end: clause.end,
        text: text.slice(clause.start, clause.end).replace(/\s+/g, ' ').trim().slice(0, 500),
      });
    }
  }
  // A quantity that asks for something and was not read, inside a clause that was: told by itself.
  const isWished = createTouchTest(wishes);
  for (const each of unread)
    if (!isWished(each.start, each.end))
      wishes.push({ start: each.start, end: each.end, text: text.slice(each.start, each.end) });
  return wishes.sort((left, right) => left.start - right.start);
}

/** Whether any of the stretches touches a given one, in logarithmic time. */
function createTouchTest(list: readonly Understood[]): (start: number, end: number) => boolean {
  const sorted = [...list].sort((left, right) => left.start - right.start);
  let furthest = -1;
  const reach = sorted.map((each) => (furthest = Math.max(furthest, each.end)));
  return (start, end) => {
    let low = 0;
    let high = sorted.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((sorted[middle]?.start ?? 0) < end) low = middle + 1;
      else high = middle;
    }
    return low > 0 && (reach[low - 1] ?? -1) > start;
  };
}

function divideClauses(sentence: Sentence): { start: number; end: number; tag: string }[] {
  const clauses: { start: number; end: number; tag: string }[] = [];
  let from = 0;
  const close = (to: number) => {
    const items = sentence.items.slice(from, to);
    const [first, last] = [items[0], items.at(-1)];
    if (first && last)
      clauses.push({
        start: first.start,
        end: last.end,
        tag: sentence.tag.slice(sentence.places[from]?.[0] ?? 0, sentence.places[to - 1]?.[1] ?? 0),
      });
    from = to + 1;
  };
  sentence.items.forEach((item, index) => {
    if (item.kind === 'sign' && /^[,:()]$/.test(item.text)) close(index);
  });
  close(sentence.items.length);
  return clauses;
}
