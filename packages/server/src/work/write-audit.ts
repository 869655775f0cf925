import { randomUUID } from 'node:crypto';
import type { Transaction } from 'sequelize';
import { AuditRow } from '../data/models.ts';

/** Writes one line of what has happened, in words that the person reads in Hand in. */
export async function writeAudit(
  personId: string,
  assignmentId: string | null,
  what: string,
  transaction?: Transaction,
): Promise<void> {
  await AuditRow.create(
    { id: randomUUID(), personId, assignmentId, what, createdAt: new Date() },
    transaction ? { transaction } : {},
  );
}
