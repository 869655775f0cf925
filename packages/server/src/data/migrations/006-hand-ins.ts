import { QueryTypes } from 'sequelize';
import type { Migration } from '../migration.ts';

const states = [
  'on-its-way',
  'not-handed-in',
  'received',
  'being-checked',
  'accepted',
  'returned',
  'taken-back',
  'by-hand',
];

/**
 * The states that a hand-in can have, whether the course site was ever asked for it, and what can be there
 * only once: a hand-in on its way, an attempt that was received, a job for the same thing.
 */
export const handIns: Migration = {
  name: '006-hand-ins',
  statements: [
    'ALTER TABLE hand_ins RENAME COLUMN state TO stateBefore',
    `ALTER TABLE hand_ins ADD COLUMN state TEXT NOT NULL DEFAULT 'not-handed-in' CHECK (state IN (${states.map((state) => `'${state}'`).join(', ')}))`,
    'ALTER TABLE hand_ins ADD COLUMN askedAt DATETIME',
    `UPDATE hand_ins SET askedAt = createdAt, state = CASE
      WHEN stateBefore = 'sending' THEN 'on-its-way'
      WHEN stateBefore = 'failed' THEN 'not-handed-in'
      WHEN id IN (SELECT handInId FROM feedback) THEN 'returned' ELSE 'received' END`,
    'ALTER TABLE hand_ins DROP COLUMN stateBefore',
    'ALTER TABLE jobs ADD COLUMN owner TEXT',
  ],
  convert: async (sequelize, transaction) => {
    await numberAgain();
    // Of several on their way the newest goes on.
    for (const statement of [
      `UPDATE hand_ins SET state = 'not-handed-in' WHERE state = 'on-its-way' AND EXISTS (SELECT 1 FROM hand_ins AS newer WHERE newer.personId = hand_ins.personId AND newer.assignmentId = hand_ins.assignmentId AND newer.state = 'on-its-way' AND newer.rowid > hand_ins.rowid)`,
      `UPDATE jobs SET state = 'cancelled' WHERE state IN ('waiting', 'running') AND EXISTS (SELECT 1 FROM jobs AS older WHERE older.kind = jobs.kind AND older.personId = jobs.personId AND older.inputHash = jobs.inputHash AND older.state IN ('waiting', 'running') AND older.rowid < jobs.rowid)`,
      `CREATE UNIQUE INDEX hand_ins_on_their_way ON hand_ins (personId, assignmentId) WHERE state = 'on-its-way'`,
      `CREATE UNIQUE INDEX hand_ins_attempts ON hand_ins (personId, assignmentId, attempt) WHERE state NOT IN ('on-its-way', 'not-handed-in')`,
      `CREATE UNIQUE INDEX jobs_open ON jobs (kind, personId, inputHash) WHERE state IN ('waiting', 'running')`,
    ])
      await sequelize.query(statement, { transaction });

    /** Two could be received under one number: they are counted again in the order in which they arrived. */
    async function numberAgain(): Promise<void> {
      const received = await sequelize.query<{ id: string; personId: string; assignmentId: string }>(
        `SELECT id, personId, assignmentId FROM hand_ins WHERE state IN ('received', 'returned') ORDER BY receivedAt, createdAt`,
        { transaction, type: QueryTypes.SELECT },
      );
      const counts = new Map<string, number>();
      for (const { id, personId, assignmentId } of received) {
        const of = `${personId} ${assignmentId}`;
        const attempt = (counts.get(of) ?? 0) + 1;
        counts.set(of, attempt);
        await sequelize.query('UPDATE hand_ins SET attempt = :attempt WHERE id = :id', {
          transaction,
          replacements: { attempt, id },
        });
      }
    }
  },
};
