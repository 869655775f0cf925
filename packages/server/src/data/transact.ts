import { TimeoutError, Transaction, type Sequelize } from 'sequelize';
import { setTimeout as wait } from 'node:timers/promises';

const MAX_TRIES = 8;
const LONGEST_WAIT_MS = 120;

/**
 * Runs the work in one transaction that begins by taking the right to write, so that what is checked in it
 * still holds when it is written. Where another writer holds the file for too long, all of it is done again.
 */
export async function transact<T>(
  sequelize: Sequelize,
  work: (transaction: Transaction) => Promise<T>,
): Promise<T> {
  for (let attempt = 1; ; attempt += 1)
    try {
      return await sequelize.transaction({ type: Transaction.TYPES.IMMEDIATE }, work);
    } catch (error) {
      if (!isBusy(error) || attempt === MAX_TRIES) throw error;
      await wait(Math.random() * LONGEST_WAIT_MS * attempt);
    }
}

function isBusy(error: unknown): boolean {
  return error instanceof TimeoutError || /SQLITE_BUSY/.test(error instanceof Error ? error.message : '');
}
