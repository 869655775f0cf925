import { join } from 'node:path';
import { Sequelize } from 'sequelize';
import type { Database } from 'sqlite3';
import { SequelizeStorage, Umzug } from 'umzug';
import { bindTables } from './columns.ts';
import type { Migration } from './migration.ts';
import { firstTables } from './migrations/001-first-tables.ts';
import { briefs } from './migrations/002-briefs.ts';
import { intermediates } from './migrations/003-intermediates.ts';
import { fit } from './migrations/004-fit.ts';
import { model } from './migrations/005-model.ts';
import { handIns } from './migrations/006-hand-ins.ts';

const BUSY_MS = 5000;

const migrations: readonly Migration[] = [firstTables, briefs, intermediates, fit, model, handIns];

/**
 * Opens `apodix.sqlite` in the data folder (foreign keys on, write-ahead log) and brings it to the newest
 * form.
 */
export async function openDatabase(dataFolder: string): Promise<Sequelize> {
  const sequelize = new Sequelize({
    dialect: 'sqlite',
    storage: join(dataFolder, 'apodix.sqlite'),
    logging: false,
    // Every connection waits for a writer, those of transactions too.
    hooks: {
      afterConnect: (connection) => {
        (connection as Database).configure('busyTimeout', BUSY_MS);
      },
    },
  });
  try {
    await sequelize.query('PRAGMA journal_mode = WAL');
    await sequelize.query('PRAGMA synchronous = FULL');
    bindTables(sequelize);
    await migrate(sequelize, dataFolder);
    return sequelize;
  } catch (error) {
    await sequelize.close();
    throw error;
  }
}

async function migrate(sequelize: Sequelize, dataFolder: string): Promise<void> {
  const umzug = new Umzug({
    migrations: migrations.map(({ name, statements, convert }) => ({
      name,
      up: () =>
        sequelize.transaction(async (transaction) => {
          for (const statement of statements) await sequelize.query(statement, { transaction });
          await convert?.(sequelize, transaction, dataFolder);
        }),
    })),
    storage: new SequelizeStorage({ sequelize }),
    logger: undefined,
  });
  await umzug.up();
}
