import { QueryTypes, type Sequelize } from 'sequelize';
import type { BlobStore } from '../storage/blob-store.ts';

/** What was adopted in the last hour may be about to be used. */
export const GRACE_MS = 3_600_000;

/**
 * What speaks of a blob stands in `blob_refs`, written by the database itself whenever a take, a made file,
 * an assignment or a hand-in is written (see migration 007), so that it cannot drift from them.
 */
export class BlobReferences {
  readonly #sequelize: Sequelize;
  readonly #store: BlobStore;

  constructor(sequelize: Sequelize, store: BlobStore) {
    this.#sequelize = sequelize;
    this.#store = store;
  }

  async isUsed(sha256: string): Promise<boolean> {
    const rows = await this.#sequelize.query('SELECT 1 FROM blob_refs WHERE sha256 = :sha256 LIMIT 1', {
      replacements: { sha256 },
      type: QueryTypes.SELECT,
    });
    return rows.length > 0;
  }

  /** Every blob that anything speaks of. */
  async listUsed(): Promise<Set<string>> {
    const rows = await this.#sequelize.query<{ sha256: string }>('SELECT DISTINCT sha256 FROM blob_refs', {
      type: QueryTypes.SELECT,
    });
    return new Set(rows.map((row) => row.sha256));
  }

  /** Removes those of the given blobs that nothing speaks of; young ones are left to the sweep. */
  async release(sha256s: readonly string[], graceMs = GRACE_MS): Promise<number> {
    let count = 0;
    for (const sha256 of new Set(sha256s))
      if (await this.#store.removeUnused(sha256, graceMs, () => this.isUsed(sha256))) count += 1;
    return count;
  }

  /** Removes every blob that nothing speaks of; gives how many. */
  async sweep(graceMs = GRACE_MS): Promise<number> {
    const used = await this.listUsed();
    return this.release(
      (await this.#store.list()).filter((sha256) => !used.has(sha256)),
      graceMs,
    );
  }
}
