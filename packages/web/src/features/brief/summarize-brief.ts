import { describeLimit, isWrittenSlot, type Limit, type LimitKind, type Slot } from '@apodix/core';

const NUMBERS = ['No', 'One', 'Two', 'Three', 'Four', 'Five', 'Six', 'Seven', 'Eight', 'Nine', 'Ten'];

/** Kinds that the one sentence names, in its order, and how each is put. */
const phrases: readonly (readonly [LimitKind, (wanted: string, limit: Limit) => string])[] = [
  ['length', (wanted) => wanted],
  ['file-size', (wanted) => wanted],
  [
    'picture-edge',
    (wanted, limit) =>
      limit.kind === 'picture-edge' && limit.edge !== 'lines'
        ? `${describeLimit(limit).label.toLowerCase()} ${wanted}`
        : wanted,
  ],
  ['frame-rate', (wanted) => `${wanted.replace(' a second', '')} pictures a second`],
  ['orientation', (wanted) => `filmed ${wanted}`],
  ['one-take', () => 'in one unbroken take'],
  ['file-name', (wanted) => `named ${wanted}`],
];

/** `One MP4, 1:30 to 2:00, at most 100 MB, filmed sideways, named Surname_Firstname_Piece.` */
export function summarizeBrief(limits: readonly Limit[], slots: readonly Slot[]): string {
  const format = limits.find((limit) => limit.kind === 'format');
  const wantedFormat = format ? describeLimit(format).wanted : null;
  const wanted = slots.filter((slot) => slot.min > 0);
  const nouns = {
    video: 'video',
    sound: 'sound recording',
    photo: 'photograph',
    text: 'typed answer',
    link: 'link',
  } as const;
  const items = wanted.map((slot) => {
    const count =
      slot.min === slot.max ? (NUMBERS[slot.min] ?? String(slot.min)) : `${slot.min} to ${slot.max}`;
    const format = isWrittenSlot(slot) ? null : wantedFormat;
    return `${count} ${format ?? nouns[slot.item]}${slot.min === 1 && slot.max === 1 ? '' : format ? ' files' : 's'}`;
  });
  const rest = phrases.flatMap(([kind, put]) =>
    limits.filter((limit) => limit.kind === kind).map((limit) => put(describeLimit(limit).wanted, limit)),
  );
  const all = [...(items.length ? items : wantedFormat ? [wantedFormat] : []), ...rest];
  return all.length ? `${all.join(', ')}.` : '';
}
