import { z } from 'zod';

/** Where a hand-in stands. Before Hand in is pressed there is only a draft, the parcel. */
export const HandInState = z.enum([
  'on-its-way',
  'not-handed-in',
  'received',
  'being-checked',
  'accepted',
  'returned',
  'taken-back',
  'by-hand',
]);
export type HandInState = z.infer<typeof HandInState>;

/** What happens to a hand-in. */
export type HandInEvent =
  | 'press'
  | 'note-by-hand'
  | 'confirm'
  | 'refuse'
  | 'give-up'
  | 'stop'
  | 'begin-check'
  | 'accept'
  | 'return'
  | 'take-back';

type Moves = Readonly<Partial<Record<HandInEvent, HandInState>>>;

/** Every transition that there is. `docs/hand-in.md` draws it; a test holds both together. */
export const handInMoves: Readonly<Record<'draft' | HandInState, Moves>> = {
  draft: { press: 'on-its-way', 'note-by-hand': 'by-hand' },
  'on-its-way': {
    confirm: 'received',
    refuse: 'not-handed-in',
    'give-up': 'not-handed-in',
    stop: 'not-handed-in',
  },
  'not-handed-in': {},
  received: {
    'begin-check': 'being-checked',
    accept: 'accepted',
    return: 'returned',
    'take-back': 'taken-back',
  },
  'being-checked': { accept: 'accepted', return: 'returned' },
  accepted: {},
  returned: {},
  'taken-back': {},
  'by-hand': { 'take-back': 'taken-back' },
};

/** The state that follows. Throws a `RangeError` where the event has no place in that state. */
export function moveHandIn(from: 'draft' | HandInState, event: HandInEvent): HandInState {
  const to = handInMoves[from][event];
  if (!to) throw new RangeError(`A hand-in that is ${from} takes no ${event}.`);
  return to;
}

/** Whether the teacher has it, or may have it: by the course site or by hand. */
export function isHeld(state: HandInState): boolean {
  return ['received', 'being-checked', 'accepted', 'returned', 'by-hand'].includes(state);
}

/**
 * The hand-in that an assignment stands by: what is on its way, else the newest that the teacher has, else
 * the newest at all. null where there was none.
 */
export function findStanding<T extends { readonly state: HandInState; readonly createdAt: string | Date }>(
  handIns: readonly T[],
): T | null {
  const newestFirst = [...handIns].sort(
    (left, right) => new Date(right.createdAt).getTime() - new Date(left.createdAt).getTime(),
  );
  return (
    newestFirst.find((each) => each.state === 'on-its-way') ??
    newestFirst.find((each) => isHeld(each.state)) ??
    newestFirst[0] ??
    null
  );
}
