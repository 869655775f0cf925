import { KeyedLock } from '@apodix/core';
import { Transaction, type Sequelize } from 'sequelize';
import { setTimeout as wait } from 'node:timers/promises';

const MAX_TRIES = 5;
const LONGEST_WAIT_MS = 200;
/** Transactions of this process stand in line here, where waiting costs nothing. */
const lock = new KeyedLock();

/**
 * Runs the work in one transaction that begins by taking the right to write, so that what is checked in it
 * still holds when it is written. Where another process holds the file for too long, all of it is done
 * again. Not to be called from within itself.
 */
export async function transact<T>(
  sequelize: Sequelize,
  work: (transaction: Transaction) => Promise<T>,
): Promise<T> {
  return lock.run('write', async () => {
    for (let attempt = 1; ; attempt += 1)
      try {
        return await sequelize.transaction({ type: Transaction.TYPES.IMMEDIATE }, work);
      } catch (error) {
        if (!isBusy(error) || attempt === MAX_TRIES) throw error;
        await wait(Math.random() * LONGEST_WAIT_MS * attempt);
      }
  });
}

const isBusy = (error: unknown) => error instanceof Error && error.message.includes('SQLITE_BUSY');
