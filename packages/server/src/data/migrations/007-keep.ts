import { createHash } from 'node:crypto';
import { QueryTypes } from 'sequelize';
import type { Migration } from '../migration.ts';
import { columns, noteReferences } from './note-references.ts';

const TAKE_COLUMNS = `id, personId, name, sha256, sizeBytes, state, kind, isShaped, facts, filmstrip, seriesSha256, evidenceSha256, proposal, fault, proxySha256, stripSha256, posterSha256, intermediateSha256, createdAt`;
const MADE_COLUMNS = `id, takeId, personId, assignmentId, fileName, sha256, sizeBytes, facts, findings, plan, inputHash, posterSha256, comparison, moments, createdAt`;

const ofTake = columns([
  'sha256',
  'proxySha256',
  'stripSha256',
  'posterSha256',
  'seriesSha256',
  'evidenceSha256',
  'intermediateSha256',
]);
const ofMade = (row: string) =>
  `${columns(['sha256', 'posterSha256'])(row)} UNION SELECT json_extract(pair.value, '$.sourceSha256') FROM json_each(COALESCE(${row}.moments, '[]')) AS pair UNION SELECT json_extract(pair.value, '$.madeSha256') FROM json_each(COALESCE(${row}.moments, '[]')) AS pair`;
const ofHandIn = (row: string) =>
  `SELECT json_extract(file.value, '$.sha256') AS value FROM json_each(${row}.frozen, '$.files') AS file`;

/**
 * A take belongs to a person and serves any number of assignments; what is removed can be brought back for a
 * while; blobs have rows that speak of them; calendar addresses are known by their hash alone; what a teacher
 * changed is written down.
 */
export const keep: Migration = {
  name: '007-keep',
  statements: [
    // Long columns stand last: what comes after them costs a walk through all their pages.
    `CREATE TABLE takes_new (id TEXT PRIMARY KEY, personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, name TEXT NOT NULL, sha256 TEXT NOT NULL, sizeBytes INTEGER NOT NULL,
      state TEXT NOT NULL CHECK (state IN ('inspecting', 'ready', 'refused')), kind TEXT, isShaped TINYINT(1) NOT NULL, createdAt DATETIME NOT NULL, removedAt DATETIME,
      proxySha256 TEXT, stripSha256 TEXT, posterSha256 TEXT, intermediateSha256 TEXT, seriesSha256 TEXT, evidenceSha256 TEXT, fault TEXT, proposal TEXT, filmstrip TEXT, facts TEXT)`,
    `CREATE TABLE take_uses (takeId TEXT NOT NULL REFERENCES takes ON DELETE CASCADE, assignmentId TEXT NOT NULL REFERENCES assignments ON DELETE CASCADE, personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE,
      isChosen TINYINT(1) NOT NULL, createdAt DATETIME NOT NULL, choice TEXT, fault TEXT, samples TEXT, PRIMARY KEY (takeId, assignmentId))`,
    `INSERT INTO takes_new (${TAKE_COLUMNS}) SELECT ${TAKE_COLUMNS} FROM takes`,
    `INSERT INTO take_uses (takeId, assignmentId, personId, isChosen, choice, samples, createdAt) SELECT id, assignmentId, personId, isChosen, choice, samples, createdAt FROM takes`,
    `DROP TABLE takes`,
    `ALTER TABLE takes_new RENAME TO takes`,
    `CREATE INDEX takes_of_person ON takes (personId)`,
    `CREATE INDEX take_uses_of_work ON take_uses (personId, assignmentId)`,

    `CREATE TABLE made_files_new (id TEXT PRIMARY KEY, takeId TEXT NOT NULL REFERENCES takes ON DELETE CASCADE, personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, assignmentId TEXT NOT NULL REFERENCES assignments ON DELETE CASCADE, fileName TEXT NOT NULL,
      sha256 TEXT NOT NULL, sizeBytes INTEGER NOT NULL, inputHash TEXT NOT NULL, posterSha256 TEXT, createdAt DATETIME NOT NULL, removedAt DATETIME, moments TEXT, comparison TEXT, plan TEXT NOT NULL, findings TEXT NOT NULL, facts TEXT NOT NULL)`,
    `INSERT INTO made_files_new (${MADE_COLUMNS}) SELECT ${MADE_COLUMNS} FROM made_files`,
    `DROP TABLE made_files`,
    `ALTER TABLE made_files_new RENAME TO made_files`,
    `CREATE INDEX made_files_of_work ON made_files (personId, assignmentId)`,
    `CREATE UNIQUE INDEX made_files_once ON made_files (takeId, assignmentId, inputHash) WHERE removedAt IS NULL`,

    `ALTER TABLE assignments ADD COLUMN removedAt DATETIME`,
    `ALTER TABLE assignments ADD COLUMN isAnnounced TINYINT(1) NOT NULL DEFAULT 0`,
    `CREATE TABLE assignment_changes (id TEXT PRIMARY KEY, assignmentId TEXT NOT NULL REFERENCES assignments ON DELETE CASCADE, changes TEXT NOT NULL, createdAt DATETIME NOT NULL)`,
    `CREATE INDEX assignment_changes_of ON assignment_changes (assignmentId, createdAt)`,
    `CREATE TABLE change_marks (personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, assignmentId TEXT NOT NULL REFERENCES assignments ON DELETE CASCADE, seenAt DATETIME NOT NULL, PRIMARY KEY (personId, assignmentId))`,
    `ALTER TABLE hand_ins ADD COLUMN note TEXT`,
    `ALTER TABLE calendars RENAME TO calendars_before`,
    `CREATE TABLE calendars (personId TEXT PRIMARY KEY REFERENCES people ON DELETE CASCADE, tokenHash TEXT NOT NULL UNIQUE, madeAt DATETIME NOT NULL)`,

    `CREATE TABLE blob_refs (sha256 TEXT NOT NULL, owner TEXT NOT NULL, PRIMARY KEY (sha256, owner))`,
    `CREATE INDEX blob_refs_of ON blob_refs (owner)`,
    ...noteReferences('takes', 'take', ofTake),
    ...noteReferences('made_files', 'made', ofMade),
    ...noteReferences('assignments', 'assignment', columns(['coverSha256'])),
    ...noteReferences('hand_ins', 'hand-in', ofHandIn),
  ],
  convert: async (sequelize, transaction) => {
    const before = await sequelize.query<{ personId: string; token: string }>(
      'SELECT personId, token FROM calendars_before',
      { transaction, type: QueryTypes.SELECT },
    );
    for (const { personId, token } of before)
      await sequelize.query(
        'INSERT INTO calendars (personId, tokenHash, madeAt) VALUES (:personId, :tokenHash, :madeAt)',
        {
          transaction,
          replacements: {
            personId,
            tokenHash: createHash('sha256').update(token).digest('hex'),
            madeAt: new Date(),
          },
        },
      );
    await sequelize.query('DROP TABLE calendars_before', { transaction });
  },
};
