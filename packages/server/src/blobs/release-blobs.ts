import { Op } from 'sequelize';
import { AssignmentRow, HandInRow, MadeRow, TakeRow } from '../data/models.ts';
import type { BlobStore } from './disk-blob-store.ts';

/** Every blob that a made file speaks of. */
export function listBlobsOfMade(made: MadeRow): (string | null)[] {
  return [
    made.sha256,
    made.posterSha256,
    ...(made.moments ?? []).flatMap((pair) => [pair.sourceSha256, pair.madeSha256]),
  ];
}

/**
 * Removes those of the given blobs that no row speaks of any more. References are counted on the rows
 * themselves, so a count can never drift from what is really used.
 */
export async function releaseBlobs(store: BlobStore, sha256s: readonly (string | null)[]): Promise<void> {
  for (const sha256 of new Set(sha256s.filter((each) => each !== null))) {
    const uses = await Promise.all([
      TakeRow.count({ where: { sha256 } }),
      TakeRow.count({ where: { proxySha256: sha256 } }),
      TakeRow.count({ where: { stripSha256: sha256 } }),
      TakeRow.count({ where: { posterSha256: sha256 } }),
      TakeRow.count({ where: { seriesSha256: sha256 } }),
      TakeRow.count({ where: { evidenceSha256: sha256 } }),
      TakeRow.count({ where: { intermediateSha256: sha256 } }),
      MadeRow.count({ where: { sha256 } }),
      MadeRow.count({ where: { posterSha256: sha256 } }),
      MadeRow.count({ where: { moments: { [Op.like]: `%${sha256}%` } as never } }),
      AssignmentRow.count({ where: { coverSha256: sha256 } }),
    ]);
    const isHandedIn = (await HandInRow.findAll()).some((row) =>
      row.frozen.files.some((file) => file.sha256 === sha256),
    );
    if (!isHandedIn && uses.every((count) => count === 0)) await store.remove(sha256);
  }
}
