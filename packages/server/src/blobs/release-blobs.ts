import { Op, type Model, type ModelStatic } from 'sequelize';
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

/** What was adopted in the last hour may be about to be used. */
export const GRACE_MS = 3_600_000;

/**
 * Removes those of the given blobs that no row speaks of any more; young ones are left to the sweep.
 * References are counted on the rows themselves, so a count can never drift from what is really used.
 */
export async function releaseBlobs(
  store: BlobStore,
  sha256s: readonly (string | null)[],
  graceMs = GRACE_MS,
): Promise<number> {
  let count = 0;
  for (const sha256 of new Set(sha256s.filter((each) => each !== null)))
    if (await store.removeUnused(sha256, graceMs, () => isBlobUsed(sha256))) count += 1;
  return count;
}

/** Removes every blob that no row speaks of; gives how many. */
export async function sweepBlobs(store: BlobStore, graceMs = GRACE_MS): Promise<number> {
  const used = await listUsedBlobs();
  const unused = (await store.list()).filter((sha256) => !used.has(sha256));
  return releaseBlobs(store, unused, graceMs);
}

/** Every digest that stands anywhere in rows that speak of blobs; rather one too many than one too few. */
async function listUsedBlobs(): Promise<Set<string>> {
  const read = async (model: ModelStatic<Model>, attributes: string[]) =>
    (await model.findAll({ attributes, raw: true })).flatMap((row) => Object.values(row) as unknown[]);
  const values = await Promise.all([
    read(TakeRow, TAKE_BLOBS),
    read(MadeRow, ['sha256', 'posterSha256', 'moments']),
    read(AssignmentRow, ['coverSha256']),
    read(HandInRow, ['frozen']),
  ]);
  return new Set(values.flat().flatMap((value) => String(value).match(/[0-9a-f]{64}/g) ?? []));
}

const TAKE_BLOBS = [
  'sha256',
  'proxySha256',
  'stripSha256',
  'posterSha256',
  'seriesSha256',
  'evidenceSha256',
  'intermediateSha256',
];

async function isBlobUsed(sha256: string): Promise<boolean> {
  const uses = await Promise.all([
    ...TAKE_BLOBS.map((column) => TakeRow.count({ where: { [column]: sha256 } })),
    MadeRow.count({ where: { sha256 } }),
    MadeRow.count({ where: { posterSha256: sha256 } }),
    MadeRow.count({ where: { moments: { [Op.like]: `%${sha256}%` } as never } }),
    AssignmentRow.count({ where: { coverSha256: sha256 } }),
    HandInRow.count({ where: { frozen: { [Op.like]: `%${sha256}%` } as never } }),
  ]);
  return uses.some((count) => count > 0);
}
