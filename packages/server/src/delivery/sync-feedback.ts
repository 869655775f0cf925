import { DeliveryView, moveHandIn } from '@apodix/core';
import type { Logger } from 'pino';
import type { Sequelize } from 'sequelize';
import { FeedbackRow, HandInRow, ReceiptRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import type { LiveEvents } from '../jobs/live-events.ts';
import { callCourseSite, type CourseSite } from './course-site.ts';

/** Asks the course site for feedback on what was received and has none yet; gives how many came. */
export async function syncFeedback(
  sequelize: Sequelize,
  site: CourseSite,
  live: LiveEvents,
  log: Logger,
): Promise<number> {
  const known = new Set((await FeedbackRow.findAll()).map((row) => row.handInId));
  const open = (await HandInRow.findAll({ where: { state: 'received' } })).filter(
    (row) => !known.has(row.id),
  );
  let count = 0;
  for (const handIn of open) {
    try {
      const receipt = await ReceiptRow.findOne({ where: { handInId: handIn.id } });
      if (!receipt) continue;
      const { deliveryId } = receipt.receipt.courseSite;
      const answer = await callCourseSite(site, `/api/deliveries/${encodeURIComponent(deliveryId)}`, {
        signal: AbortSignal.timeout(5000),
      });
      const { feedback } = DeliveryView.parse(await answer.json());
      if (!feedback) continue;
      await transact(sequelize, async (transaction) => {
        await FeedbackRow.upsert(
          {
            handInId: handIn.id,
            text: feedback.text,
            points: feedback.points,
            createdAt: new Date(feedback.at),
          },
          { transaction },
        );
        await handIn.update({ state: moveHandIn(handIn.state, 'return') }, { transaction });
      });
      live.tell(handIn.personId, { type: 'work', assignmentId: handIn.assignmentId });
      count += 1;
    } catch (error) {
      log.warn({ err: error }, 'The course site could not be asked for feedback');
    }
  }
  return count;
}
