import { isHeld, isWrittenSlot, type AssignmentView } from '@apodix/core';

export type StopName = 'brief' | 'takes' | 'shape' | 'fit' | 'hand-in';

export interface StopState {
  readonly name: StopName;
  readonly label: string;
  readonly isDone: boolean;
  /** What it still needs before something can be done there; null where nothing. */
  readonly needs: string | null;
}

/** The five stops with their own states, computed from the work itself. */
export function buildStops(view: AssignmentView | null): StopState[] {
  const ready = view?.takes.filter((take) => take.state === 'ready') ?? [];
  const current = view?.made.filter((made) => made.isCurrent) ?? [];
  const isShaped =
    current.length > 0 ||
    view?.state === 'shaped' ||
    ready.some((take) => take.recipe !== null && take.recipe.version > 1);
  const isMade =
    view !== null &&
    (view.state === 'ready' ||
      view.state === 'sending' ||
      view.state === 'handed-in' ||
      view.state === 'feedback-back');
  const isHandedIn = view?.handIns.some((handIn) => isHeld(handIn.state)) ?? false;
  const isOfWords = view?.slots.some(isWrittenSlot) ?? false;
  const last = view !== null && view.kind !== 'course' ? 'Save' : 'Hand in';
  return [
    { name: 'brief', label: 'Brief', isDone: ready.length > 0, needs: null },
    { name: 'takes', label: 'Takes', isDone: ready.length > 0, needs: null },
    { name: 'shape', label: 'Shape', isDone: isShaped, needs: ready.length ? null : 'a take' },
    { name: 'fit', label: 'Fit', isDone: isMade, needs: ready.length ? null : 'a take' },
    {
      name: 'hand-in',
      label: last,
      isDone: isHandedIn,
      needs: current.length || isOfWords ? null : 'a made file',
    },
  ];
}
