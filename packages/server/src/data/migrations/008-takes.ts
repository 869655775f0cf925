import type { Migration } from '../migration.ts';
import { columns, noteReferences } from './note-references.ts';

const ofTake = columns([
  'sha256',
  'proxySha256',
  'stripSha256',
  'posterSha256',
  'seriesSha256',
  'evidenceSha256',
  'intermediateSha256',
  'voiceSha256',
]);

/** Notes on takes, what was seen along them, links for phones, and printed cards. */
export const takes: Migration = {
  name: '008-takes',
  statements: [
    `ALTER TABLE takes ADD COLUMN seenAt DATETIME`,
    `ALTER TABLE takes ADD COLUMN note TEXT`,
    `ALTER TABLE takes ADD COLUMN voiceSha256 TEXT`,
    `ALTER TABLE takes ADD COLUMN origin TEXT NOT NULL DEFAULT 'file'`,
    `DROP TRIGGER takes_refs_insert`,
    `DROP TRIGGER takes_refs_update`,
    `DROP TRIGGER takes_refs_delete`,
    ...noteReferences('takes', 'take', ofTake),
    `CREATE TABLE phone_links (id TEXT PRIMARY KEY, personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, assignmentId TEXT REFERENCES assignments ON DELETE CASCADE,
      tokenHash TEXT NOT NULL UNIQUE, secretHash TEXT UNIQUE, createdAt DATETIME NOT NULL, expiresAt DATETIME NOT NULL)`,
    `CREATE INDEX phone_links_of_person ON phone_links (personId)`,
    `CREATE TABLE person_cards (id TEXT PRIMARY KEY, personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, codeHash TEXT NOT NULL UNIQUE,
      madeBy TEXT NOT NULL REFERENCES people ON DELETE CASCADE, createdAt DATETIME NOT NULL, withdrawnAt DATETIME)`,
    `CREATE INDEX person_cards_of_person ON person_cards (personId)`,
  ],
};
