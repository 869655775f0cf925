import type { JobKind } from '@apodix/core';
import { Op } from 'sequelize';
import { JobRow } from '../data/models.ts';
import { orderFairly } from './fair-order.ts';
import type { Lane } from './lanes.ts';

/** So many that wait are put in order. */
const MOST_ORDERED = 500;

export interface UnderWay {
  /** Jobs of the lane that this process has under way. */
  readonly busy: readonly JobRow[];
  /** Ids that are left out: they are about to begin. */
  readonly left: readonly string[];
}

/**
 * Jobs of a lane that may begin, in their order: those of all people in turn; those that can wait only where
 * nothing else waits or runs, and one at a time.
 */
export async function findWaiting(lane: Lane, { busy, left }: UnderWay): Promise<JobRow[]> {
  const find = (kinds: readonly JobKind[], most: number) =>
    JobRow.findAll({
      where: {
        state: 'waiting',
        kind: { [Op.in]: [...kinds] },
        id: { [Op.notIn]: [...left] },
        // Until then one that was postponed stays.
        leaseUntil: { [Op.or]: [null, { [Op.lte]: new Date() }] },
      },
      order: [['createdAt', 'ASC']],
      limit: most,
    });
  const waiting = await find(
    lane.kinds.filter((kind) => !lane.patient.includes(kind)),
    MOST_ORDERED,
  );
  if (waiting.length > 0 || busy.length > 0 || lane.patient.length === 0)
    return orderFairly(
      waiting,
      busy.map(({ personId }) => personId),
    );
  // Another server on the same data works on the same machine.
  const others = await JobRow.count({ where: { state: 'running', kind: { [Op.in]: [...lane.kinds] } } });
  return others === 0 ? find(lane.patient, 1) : [];
}
