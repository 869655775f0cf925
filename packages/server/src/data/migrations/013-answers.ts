import type { Migration } from '../migration.ts';

/** What a person chose where instructions can be read in two ways. */
export const answers: Migration = {
  name: '013-answers',
  statements: [
    `CREATE TABLE brief_answers (personId TEXT NOT NULL REFERENCES people ON DELETE CASCADE, assignmentId TEXT NOT NULL REFERENCES assignments ON DELETE CASCADE, answers TEXT NOT NULL, PRIMARY KEY (personId, assignmentId))`,
  ],
};
