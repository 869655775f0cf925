import { describeLimit, findRowScope } from '../limits/table.ts';
import type { Finding } from '../limits/finding.ts';
import type { Limit, LimitOf } from '../limits/limit.ts';
import { describeSame, findSame } from './find-same.ts';
import { findSlotItem, type MediaKind } from '../media/containers.ts';
import { formatBytes } from '../units/bytes.ts';
import type { ParcelItem, ParcelText, SlotItem } from './parcel.ts';

export interface ParcelFacts {
  readonly items: readonly (ParcelItem & { readonly kind: MediaKind })[];
  readonly text: ParcelText;
  readonly attemptsUsed: number;
  readonly isDue: boolean;
  /** Of slots that hold words, those that are answered. */
  readonly written?: readonly SlotItem[];
}

type Verdict = Pick<Finding, 'state' | 'figure'> & { readonly reason: string; readonly help: string };
const met = (figure: string | null, reason = 'as wanted'): Verdict => ({
  state: 'met',
  figure,
  reason,
  help: '',
});
const short = (figure: string | null, reason: string, help: string): Verdict => ({
  state: 'short',
  figure,
  reason,
  help,
});

/** Findings on the hand-in as a whole: one for each limit that no single file can meet. */
export function judgeParcel(limits: readonly Limit[], facts: ParcelFacts): Finding[] {
  return limits
    .filter((limit) => findRowScope(limit) === 'parcel')
    .map((limit) => {
      const { label, wanted } = describeLimit(limit);
      const verdict = judge(limit, facts);
      return {
        of: 'limit' as const,
        limitId: limit.id,
        kind: limit.kind,
        severity: limit.severity,
        stage: 'planned',
        state: verdict.state,
        label,
        figure: verdict.figure,
        value: null,
        unit: null,
        wanted,
        margin: null,
        method: 'contents of the parcel',
        measuredOn: null,
        sentence: writeSentence(verdict, wanted),
        fix: verdict.state === 'short' ? { by: 'person', text: verdict.help } : null,
        bullet: null,
      };
    });
}

/** A demand that is only wanted or not says nothing more by its own words. */
function writeSentence({ state, reason }: Verdict, wanted: string): string {
  if (state === 'met') return `${wanted} · ${reason}`;
  return wanted === 'wanted' ? reason : `${reason} · wanted: ${wanted}`;
}

function judge(limit: Limit, facts: ParcelFacts): Verdict {
  const judgeKind = judges[limit.kind] as ((limit: Limit, facts: ParcelFacts) => Verdict) | undefined;
  return judgeKind ? judgeKind(limit, facts) : met(null, 'nothing to check');
}

type Judges = { readonly [K in Limit['kind']]?: (limit: LimitOf<K>, facts: ParcelFacts) => Verdict };

const judges: Judges = {
  count: (limit, facts) => {
    const count =
      limit.item === 'text' || limit.item === 'link'
        ? (facts.written ?? []).filter((item) => item === limit.item).length
        : facts.items.filter((item) => item.kind === limit.item || findSlotItem(item.kind) === limit.item)
            .length;
    const isMet = count >= limit.min && (limit.max === null || count <= limit.max);
    if (limit.alternative !== null && !isMet && count === 0)
      return { state: 'unknown', figure: '0', reason: 'one of several ways', help: '' };
    return isMet
      ? met(String(count))
      : short(
          String(count),
          count < limit.min ? `${limit.min - count} missing` : `${count - (limit.max ?? 0)} too many`,
          count >= limit.min
            ? 'Take out what is too many.'
            : limit.item === 'text' || limit.item === 'link'
              ? 'Write it in Hand in.'
              : 'Make the missing files and put them in.',
        );
  },
  'total-size': (limit, facts) => {
    const total = facts.items.reduce((sum, item) => sum + item.sizeBytes, 0);
    return total <= limit.maxBytes
      ? met(formatBytes(total))
      : short(
          formatBytes(total),
          `too big by ${formatBytes(total - limit.maxBytes)}`,
          'Make the files smaller, or hand in fewer.',
        );
  },
  different: (_limit, { items }) => {
    const same = findSame(items);
    return same
      ? short(null, describeSame(same), 'Put another one in the place of what is there twice.')
      : met(String(items.length), 'no two are the same');
  },
  participants: (_limit, facts) =>
    facts.text.participants.trim()
      ? met('written')
      : short(null, 'not written yet', 'Write the names of everyone who took part, in Hand in.'),
  note: (_limit, facts) =>
    facts.text.note.trim() ? met('written') : short(null, 'not written yet', 'Write a note, in Hand in.'),
  'own-work': (_limit, facts) =>
    facts.text.isOwnWork ? met('stated') : short(null, 'not ticked yet', 'Tick the statement, in Hand in.'),
  due: (_limit, facts) =>
    facts.isDue
      ? short(null, 'the due time has passed', 'Ask your teacher whether it is still taken.')
      : met(null, 'there is time'),
  attempts: (limit, facts) =>
    facts.attemptsUsed < limit.max
      ? met(`${facts.attemptsUsed} used`)
      : short(`${facts.attemptsUsed} used`, 'none is left', 'Ask your teacher for another one.'),
};
