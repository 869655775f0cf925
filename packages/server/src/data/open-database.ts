import { join } from 'node:path';
import { QueryTypes, Sequelize, type Transaction } from 'sequelize';
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
import { keep } from './migrations/007-keep.ts';
import { takes } from './migrations/008-takes.ts';
import { draft } from './migrations/009-draft.ts';
import { shake } from './migrations/010-shake.ts';
import { sheets } from './migrations/011-sheets.ts';
import { ahead } from './migrations/012-ahead.ts';
import { answers } from './migrations/013-answers.ts';

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

const migrations: readonly Migration[] = [
  firstTables,
  briefs,
  intermediates,
  fit,
  model,
  handIns,
  keep,
  takes,
  draft,
  shake,
  sheets,
  ahead,
  answers,
];

function connect(dataFolder: string, options: { foreignKeys?: boolean } = {}): Sequelize {
  return new Sequelize({
    dialect: 'sqlite',
    storage: join(dataFolder, 'apodix.sqlite'),
    logging: false,
    dialectModule: patientSqlite,
    retry: RETRY,
    ...options,
  });
}

/**
 * Brings `apodix.sqlite` in the data folder to its newest form and opens it (foreign keys on, write-ahead
 * log). The connection that stays begins after that: one that knew the file before its tables were there
 * says "no such table" when the file is held by another just as it would look again.
 */
export async function openDatabase(dataFolder: string): Promise<Sequelize> {
  await migrate(dataFolder);
  const sequelize = connect(dataFolder);
  try {
    await sequelize.query('PRAGMA journal_mode = WAL');
    await sequelize.query('PRAGMA synchronous = FULL');
    bindTables(sequelize);
    return sequelize;
  } catch (error) {
    await sequelize.close();
    throw error;
  }
}

/**
 * Brings the database to its newest form. Tables are built anew in it, so the rules between them are off the
 * while, and are checked as a whole before anything is kept (sqlite.org/lang_altertable, section 7).
 */
async function migrate(dataFolder: string): Promise<void> {
  const sequelize = connect(dataFolder, { foreignKeys: false });
  const umzug = new Umzug({
    migrations: migrations.map(({ name, statements, convert }) => ({
      name,
      up: () =>
        sequelize.transaction(async (transaction) => {
          const before = await countBroken(sequelize, transaction);
          for (const statement of statements) await sequelize.query(statement, { transaction });
          await convert?.(sequelize, transaction, dataFolder);
          const more = (await countBroken(sequelize, transaction)) - before;
          if (more > 0) throw new Error(`${name} would leave ${more} rows that point to nothing.`);
        }),
    })),
    storage: new SequelizeStorage({ sequelize }),
    logger: undefined,
  });
  try {
    await sequelize.query('PRAGMA journal_mode = WAL');
    await umzug.up();
  } finally {
    await sequelize.close();
  }
}

async function countBroken(sequelize: Sequelize, transaction: Transaction): Promise<number> {
  const rows = await sequelize.query('PRAGMA foreign_key_check', { transaction, type: QueryTypes.SELECT });
  return rows.length;
}
