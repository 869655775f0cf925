import { join } from 'node:path';
import { pino } from 'pino';
import { afterEach, beforeEach, describe } from 'vitest';
import { MemoryLiveEvents } from '../events/live-events.ts';
import { controlRuns, describeJobQueue, noteHandlers } from '../test-support/describe-job-queue.ts';
import { addTake, openTestDatabase, type TestDatabase } from '../test-support/open-test-database.ts';
import { DatabaseJobQueue } from './database-job-queue.ts';

let test: TestDatabase;
let queue: DatabaseJobQueue | null = null;
beforeEach(async () => {
  test = await openTestDatabase();
});
afterEach(async () => {
  await queue?.stop();
  await test.close();
});

describe('jobs in the database', () =>
  describeJobQueue(async () => {
    const told: string[] = [];
    const runs = controlRuns();
    queue = new DatabaseJobQueue({
      handlers: noteHandlers(told),
      live: new MemoryLiveEvents(),
      workFolder: join(test.folder, 'work'),
      concurrency: 2,
      log: pino({ level: 'silent' }),
      sequelize: test.sequelize,
      runChild: runs.runChild,
    });
    await queue.start();
    const { id: takeId } = await addTake('recital', 'ann', 'a'.repeat(64));
    return { queue, runs, sequelize: test.sequelize, takeId, told };
  }));
