import { TakeUseRow } from '../data/models.ts';
import type { LiveEvents } from '../events/live-events.ts';

/** Tells a person's pages of every assignment that a take serves, and of the take itself. */
export async function tellOfTake(
  live: LiveEvents,
  take: { readonly id: string; readonly personId: string },
): Promise<void> {
  for (const { assignmentId } of await TakeUseRow.findAll({ where: { takeId: take.id } }))
    live.tell(take.personId, { type: 'work', assignmentId });
  live.tell(take.personId, { type: 'takes' });
}
