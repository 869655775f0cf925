import type { Migration } from '../migration.ts';

/** Jobs that get ahead, and whether a person lets them. */
export const ahead: Migration = {
  name: '012-ahead',
  statements: [
    `ALTER TABLE take_uses ADD COLUMN isMadeAhead TINYINT(1) NOT NULL DEFAULT 1`,
    `CREATE TABLE jobs_new (id TEXT PRIMARY KEY, kind TEXT NOT NULL CHECK (kind IN ('inspect', 'shake', 'sample', 'ahead', 'make', 'sheet', 'deliver')), personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, takeId TEXT REFERENCES takes ON DELETE CASCADE, assignmentId TEXT REFERENCES assignments ON DELETE CASCADE,
      state TEXT NOT NULL CHECK (state IN ('waiting', 'running', 'done', 'failed', 'cancelled')), stage TEXT NOT NULL, share REAL NOT NULL, secondsLeft REAL, attempts INTEGER NOT NULL, leaseUntil DATETIME, isCancelRequested TINYINT(1) NOT NULL, input TEXT NOT NULL, inputHash TEXT NOT NULL, fault TEXT, createdAt DATETIME NOT NULL, owner TEXT)`,
    `INSERT INTO jobs_new SELECT id, kind, personId, takeId, assignmentId, state, stage, share, secondsLeft, attempts, leaseUntil, isCancelRequested, input, inputHash, fault, createdAt, owner FROM jobs`,
    `DROP TABLE jobs`,
    `ALTER TABLE jobs_new RENAME TO jobs`,
    `CREATE INDEX jobs_by_state ON jobs (state, createdAt)`,
    `CREATE UNIQUE INDEX jobs_open ON jobs (kind, personId, inputHash) WHERE state IN ('waiting', 'running')`,
  ],
};
