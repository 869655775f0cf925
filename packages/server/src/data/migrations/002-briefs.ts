import type { Migration } from '../migration.ts';

/**
 * Limits and text as each person has corrected them, due times by group, and the address of each person's
 * calendar.
 */
export const briefs: Migration = {
  name: '002-briefs',
  statements: [
    `CREATE TABLE briefs (personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, assignmentId TEXT NOT NULL REFERENCES assignments ON DELETE CASCADE, limits TEXT NOT NULL, instructions TEXT, PRIMARY KEY (personId, assignmentId))`,
    `CREATE TABLE calendars (personId TEXT PRIMARY KEY REFERENCES people ON DELETE CASCADE, token TEXT NOT NULL UNIQUE)`,
    `ALTER TABLE enrolments ADD COLUMN groupName TEXT`,
    `ALTER TABLE assignments ADD COLUMN dueByGroup TEXT NOT NULL DEFAULT '[]'`,
  ],
};
