import { isHeld, type HandInState } from './hand-in-state.ts';

export type WorkStateName =
  'nothing-yet' | 'taken' | 'shaped' | 'made' | 'ready' | 'sending' | 'handed-in' | 'feedback-back';
export type StopName = 'brief' | 'takes' | 'shape' | 'fit' | 'hand-in';

export interface WorkCounts {
  /** Files that the assignment wants at least. */
  readonly wanted: number;
  /** Typed answers and links that it wants, and those that are there. */
  readonly answers: { readonly wanted: number; readonly given: number };
  readonly takes: number;
  readonly refusedTakes: number;
  readonly inspecting: number;
  /** Takes whose recipe a person has changed or confirmed. */
  readonly shaped: number;
  /** Made files that meet every must and are still current. */
  readonly proven: number;
  readonly madeShort: number;
  readonly missing: readonly string[];
  /** Where the hand-in stands that counts; null where there was none. */
  readonly handIn: HandInState | null;
  readonly hasFeedback: boolean;
  /** Something was made after the last hand-in. */
  readonly isNewerThanHandIn: boolean;
}

export interface WorkSituation {
  readonly state: WorkStateName;
  /** What is true now. */
  readonly situation: string;
  /** What to do next, as a command. */
  readonly nextStep: string;
  readonly nextStop: StopName;
}

type Words = Pick<WorkSituation, 'situation' | 'nextStep'>;
const HELD: Readonly<Partial<Record<HandInState, Words>>> & { readonly received: Words } = {
  received: { situation: 'Received by the course site.', nextStep: 'See the receipt.' },
  'being-checked': { situation: 'Your teacher is checking it.', nextStep: 'See the receipt.' },
  accepted: { situation: 'Accepted by your teacher.', nextStep: 'See the receipt.' },
  'by-hand': { situation: 'You gave it to your teacher by hand.', nextStep: 'See what you noted.' },
};

/** What is told of work that could be handed in: what became of it when it was, else the given words. */
function describeReady({ handIn }: Pick<WorkCounts, 'handIn'>, words: string): string {
  if (handIn === 'not-handed-in') return 'The hand-in did not go through.';
  return handIn === 'taken-back' ? 'You took your hand-in back.' : words;
}

/** Where the work on an assignment stands, read from what is there; nothing of it is stored. */
export function judgeWork(counts: WorkCounts): WorkSituation {
  if (counts.handIn === 'on-its-way')
    return {
      state: 'sending',
      situation: 'On its way to the course site.',
      nextStep: 'See how far it is.',
      nextStop: 'hand-in',
    };
  if (counts.handIn !== null && isHeld(counts.handIn) && !counts.isNewerThanHandIn) {
    if (counts.hasFeedback)
      return {
        state: 'feedback-back',
        situation: 'Received, and feedback is back.',
        nextStep: 'Read feedback.',
        nextStop: 'hand-in',
      };
    const { situation, nextStep } = HELD[counts.handIn] ?? HELD.received;
    return { state: 'handed-in', situation, nextStep, nextStop: 'hand-in' };
  }
  const isWritten = counts.answers.given >= counts.answers.wanted;
  if (counts.wanted === 0 && counts.answers.wanted > 0 && counts.takes === 0)
    return isWritten
      ? {
          state: 'ready',
          situation: describeReady(counts, 'Everything is written. One press is left.'),
          nextStep: 'Hand it in.',
          nextStop: 'hand-in',
        }
      : { state: 'nothing-yet', situation: 'Not written yet.', nextStep: 'Write it.', nextStop: 'hand-in' };
  const total = Math.max(1, counts.wanted);
  if (counts.proven >= total) {
    if (!isWritten)
      return {
        state: 'made',
        situation: total > 1 ? `All ${total} files are proven.` : 'File proven.',
        nextStep: counts.answers.wanted > 1 ? 'Write the answers.' : 'Write the answer.',
        nextStop: 'hand-in',
      };
    if (counts.missing.length === 0)
      return {
        state: 'ready',
        situation: describeReady(counts, 'The file is made, and nothing falls short. One press is left.'),
        nextStep: 'Hand it in.',
        nextStop: 'hand-in',
      };
    return {
      state: 'ready',
      situation: total > 1 ? `All ${total} files are proven.` : 'File proven.',
      nextStep: 'Hand it in.',
      nextStop: 'hand-in',
    };
  }
  if (counts.proven > 0)
    return {
      state: 'made',
      situation: `${counts.proven} of ${total} files proven.`,
      nextStep: counts.takes < total ? 'Bring in the next.' : 'Make the next.',
      nextStop: counts.takes < total ? 'takes' : 'fit',
    };
  if (counts.madeShort > 0)
    return {
      state: 'made',
      situation: 'Made, but a limit falls short.',
      nextStep: 'Put it right.',
      nextStop: 'fit',
    };
  if (counts.takes > 0) {
    const what = counts.takes === 1 ? 'One take is here.' : `${counts.takes} takes are here.`;
    if (counts.shaped > 0)
      return {
        state: 'shaped',
        situation: `${what} Start and finish are set.`,
        nextStep: 'Make the file.',
        nextStop: 'fit',
      };
    return { state: 'taken', situation: what, nextStep: 'Shape it.', nextStop: 'shape' };
  }
  if (counts.inspecting > 0)
    return {
      state: 'taken',
      situation: 'A take is being measured.',
      nextStep: 'See how far it is.',
      nextStop: 'takes',
    };
  if (counts.refusedTakes > 0)
    return {
      state: 'nothing-yet',
      situation: 'The file that came in cannot be used.',
      nextStep: 'See why.',
      nextStop: 'takes',
    };
  return {
    state: 'nothing-yet',
    situation: 'Nothing recorded yet.',
    nextStep: 'Read the brief.',
    nextStop: 'brief',
  };
}
