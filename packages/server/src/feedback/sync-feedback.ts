import { DeliveryView, moveHandIn, type HandInEvent, type HandInState } from '@apodix/core';
import type { Logger } from 'pino';
import type { Sequelize } from 'sequelize';
import { FeedbackRow, HandInRow, ReceiptRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import { callCourseSite, type CourseSite } from '../delivery/course-site.ts';
import type { LiveEvents } from '../events/live-events.ts';
import { writeAudit } from '../work/write-audit.ts';

export interface FeedbackContext {
  readonly sequelize: Sequelize;
  readonly site: CourseSite;
  readonly live: LiveEvents;
  readonly log: Logger;
}

/** States in which something more can come from the course site. */
const OPEN: HandInState[] = ['received', 'being-checked'];
const ANSWER_MS = 5000;

/**
 * Asks the course site how far the teacher is with what was received: begun, accepted, feedback given. Gives
 * how many hand-ins moved on.
 */
export async function syncFeedback(context: FeedbackContext): Promise<number> {
  let count = 0;
  for (const handIn of await HandInRow.findAll({ where: { state: OPEN } }))
    try {
      if (await syncOne(handIn, context)) count += 1;
    } catch (error) {
      context.log.warn({ err: error }, 'The course site could not be asked for feedback');
    }
  return count;
}

async function syncOne(handIn: HandInRow, { sequelize, site, live }: FeedbackContext): Promise<boolean> {
  const receipt = await ReceiptRow.findOne({ where: { handInId: handIn.id } });
  if (!receipt) return false;
  const path = `/api/deliveries/${encodeURIComponent(receipt.receipt.courseSite.deliveryId)}`;
  const answer = await callCourseSite(site, path, { signal: AbortSignal.timeout(ANSWER_MS) });
  const view = DeliveryView.parse(await answer.json());
  const event = findEvent(view, handIn.state);
  if (event === null) return false;
  await transact(sequelize, async (transaction) => {
    const { feedback } = view;
    if (event === 'return' && feedback)
      await FeedbackRow.upsert(
        {
          handInId: handIn.id,
          text: feedback.text,
          points: feedback.points,
          createdAt: new Date(feedback.at),
        },
        { transaction },
      );
    await handIn.reload({ transaction });
    await handIn.update({ state: moveHandIn(handIn.state, event) }, { transaction });
    await writeAudit(handIn.personId, handIn.assignmentId, WORDS[event], transaction);
  });
  live.tell(handIn.personId, { type: 'work', assignmentId: handIn.assignmentId });
  return true;
}

type SiteEvent = Extract<HandInEvent, 'return' | 'accept' | 'begin-check' | 'take-back'>;
const WORDS: Readonly<Record<SiteEvent, string>> = {
  return: 'Feedback came back',
  accept: 'Accepted by the teacher',
  'begin-check': 'The teacher began to check it',
  'take-back': 'Taken back',
};

/** What happened on the site since; null where nothing did. */
function findEvent(view: DeliveryView, state: HandInState): SiteEvent | null {
  // It was asked to give it back, and its answer was lost on the way.
  if (view.state === 'taken-back') return state === 'received' ? 'take-back' : null;
  if (view.feedback) return 'return';
  if (view.check === 'accepted') return 'accept';
  return view.check === 'begun' && state === 'received' ? 'begin-check' : null;
}
