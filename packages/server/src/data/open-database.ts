import { join } from 'node:path';
import { Sequelize } from 'sequelize';
import sqlite3 from 'sqlite3';
import { SequelizeStorage, Umzug } from 'umzug';
import { bindTables } from './columns.ts';
import type { Migration } from './migration.ts';
import { firstTables } from './migrations/001-first-tables.ts';
import { briefs } from './migrations/002-briefs.ts';
import { intermediates } from './migrations/003-intermediates.ts';
import { fit } from './migrations/004-fit.ts';
import { model } from './migrations/005-model.ts';
import { handIns } from './migrations/006-hand-ins.ts';

/**
 * Whoever waits within SQLite holds one of the few threads that the writer needs to get done: it is left at
 * once, and asked again and again, for about ten seconds.
 */
const BUSY_MS = 20;
const RETRY = { match: [/SQLITE_BUSY/], max: 40, backoffBase: 15, backoffExponent: 1.12 };
/** Every connection, those too that Sequelize opens for a transaction each. */
const patientSqlite = {
  ...sqlite3,
  Database: function openPatiently(...args: ConstructorParameters<typeof sqlite3.Database>) {
    const database = new sqlite3.Database(...args);
    database.configure('busyTimeout', BUSY_MS);
    return database;
  },
};

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
    dialectModule: patientSqlite,
    retry: RETRY,
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
