import { ApodixError, isWrittenSlot, Receipt } from '@apodix/core';
import { ParcelRow } from '../data/models.ts';
import { viewJob } from '../queue/job-queue.ts';
import { need, type Handlers } from '../routing/call.ts';
import { loadWork, type Work } from '../work/load-work.ts';
import { viewAssignment } from '../work/view-assignment.ts';
import { noteByHand } from './by-hand.ts';
import { pressHandIn } from './press-hand-in.ts';
import { takeBack } from './take-back.ts';

export const handInRoutes: Handlers<
  'writeParcel' | 'handIn' | 'noteByHand' | 'takeBack' | 'readReceipt' | 'readPublicKey'
> = {
  writeParcel: async ({ granted, body, services }) => {
    const [person, assignment] = [need(granted.person), need(granted.assignment)];
    requireKnown(await loadWork(person, assignment), body);
    await ParcelRow.upsert({ personId: person.id, assignmentId: assignment.id, parcel: body });
    services.live.tell(person.id, { type: 'work', assignmentId: assignment.id });
    return viewAssignment(await loadWork(person, assignment), services.jobs);
  },

  handIn: async ({ granted, services }) =>
    viewJob(await pressHandIn(need(granted.person), need(granted.assignment), services)),

  noteByHand: async ({ granted, body, services }) => {
    const [person, assignment] = [need(granted.person), need(granted.assignment)];
    await noteByHand(person, assignment, body.note, services);
    services.live.tell(person.id, { type: 'work', assignmentId: assignment.id });
    return viewAssignment(await loadWork(person, assignment), services.jobs);
  },

  takeBack: async ({ granted, services }) => {
    const [person, assignment] = [need(granted.person), need(granted.assignment)];
    await takeBack(person, assignment, services);
    services.live.tell(person.id, { type: 'work', assignmentId: assignment.id });
    return viewAssignment(await loadWork(person, assignment), services.jobs);
  },

  readReceipt: ({ granted }) => Promise.resolve(Receipt.parse(need(granted.receipt).receipt)),
  readPublicKey: ({ services }) => Promise.resolve(services.signingKey.describePublicKey()),
};

/** Throws `BAD_REQUEST` where a parcel names a file or slot that is not there, or one twice. */
function requireKnown(work: Work, parcel: Work['parcel']): void {
  const slotOf = (slotId: string) => work.assignment.slots.find((slot) => slot.id === slotId);
  const areItemsKnown = parcel.items.every((item) => {
    const slot = slotOf(item.slotId);
    return slot && !isWrittenSlot(slot) && work.made.some((row) => row.id === item.madeId);
  });
  const areAnswersKnown = parcel.answers.every((answer) => {
    const slot = slotOf(answer.slotId);
    return slot && isWrittenSlot(slot);
  });
  const isOnce = (ids: readonly string[]) => new Set(ids).size === ids.length;
  const isKnown =
    areItemsKnown &&
    areAnswersKnown &&
    isOnce(parcel.items.map((item) => item.madeId)) &&
    isOnce(parcel.answers.map((answer) => answer.slotId));
  if (!isKnown)
    throw new ApodixError('BAD_REQUEST', {
      detail: 'The parcel names a file or slot that is not there, or one twice.',
    });
}
