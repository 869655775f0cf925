import type { Migration } from '../migration.ts';

/** The near-lossless working picture of takes that are costly to decode. */
export const intermediates: Migration = {
  name: '003-intermediates',
  statements: [`ALTER TABLE takes ADD COLUMN intermediateSha256 TEXT`],
};
