import type { Migration } from '../migration.ts';

/** What is known of a take while it is still being measured. */
export const draft: Migration = {
  name: '009-draft',
  statements: [`ALTER TABLE takes ADD COLUMN draft TEXT`],
};
