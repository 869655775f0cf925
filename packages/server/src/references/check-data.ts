import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { QueryTypes, type Sequelize } from 'sequelize';
import { MadeRow, TakeRow } from '../data/models.ts';
import type { BlobStore } from '../storage/blob-store.ts';

export interface DataReport {
  /** Blobs that a row speaks of and that are not there: `take:…`, `made:…` and so on beside each. */
  readonly missing: readonly { readonly sha256: string; readonly owners: readonly string[] }[];
  /** Blobs whose bytes are not what their name says; only looked for where bytes are read. */
  readonly damaged: readonly string[];
  /** Blobs that nothing speaks of. They are cleared away in an hour. */
  readonly unused: readonly string[];
  /** Rows whose own columns name a blob that `blob_refs` does not note for them. */
  readonly unnoted: readonly string[];
  readonly brokenRows: number;
  /** What SQLite itself says of the file; `ok` where it is sound. */
  readonly integrity: string;
}

/**
 * Holds database and blobs against each other. It changes nothing.
 *
 * @param isReadingBytes Reads every blob and computes its SHA-256 anew, which takes as long as reading them.
 */
export async function checkData(
  sequelize: Sequelize,
  store: BlobStore,
  isReadingBytes: boolean,
): Promise<DataReport> {
  const select = <T extends object>(sql: string) => sequelize.query<T>(sql, { type: QueryTypes.SELECT });
  const references = await select<{ sha256: string; owner: string }>('SELECT sha256, owner FROM blob_refs');
  const owners = new Map<string, string[]>();
  for (const { sha256, owner } of references) owners.set(sha256, [...(owners.get(sha256) ?? []), owner]);
  const there = new Set(await store.list());
  const noted = new Set(references.map(({ sha256, owner }) => `${owner} ${sha256}`));
  const [integrity] = await select<{ integrity_check: string }>('PRAGMA integrity_check');
  return {
    missing: [...owners].flatMap(([sha256, of]) => (there.has(sha256) ? [] : [{ sha256, owners: of }])),
    damaged: isReadingBytes ? await findDamaged(store, there) : [],
    unused: [...there].filter((sha256) => !owners.has(sha256)),
    unnoted: (await listSpoken(sequelize)).filter((each) => !noted.has(each)),
    brokenRows: (await select('PRAGMA foreign_key_check')).length,
    integrity: integrity?.integrity_check ?? 'not said',
  };
}

/** Whether all that is spoken of is there and sound. What is unused is no fault. */
export const isSound = (report: DataReport) =>
  report.missing.length + report.damaged.length + report.unnoted.length + report.brokenRows === 0 &&
  report.integrity === 'ok';

async function findDamaged(store: BlobStore, sha256s: Iterable<string>): Promise<string[]> {
  const damaged: string[] = [];
  for (const sha256 of sha256s) {
    const hash = createHash('sha256');
    await pipeline(createReadStream(store.pathOf(sha256)), hash);
    if (hash.digest('hex') !== sha256) damaged.push(sha256);
  }
  return damaged;
}

const TAKE_BLOBS = [
  'sha256',
  'proxySha256',
  'stripSha256',
  'posterSha256',
  'seriesSha256',
  'evidenceSha256',
  'intermediateSha256',
] as const;

/** What the rows themselves say, read without help of the triggers that keep `blob_refs`. */
async function listSpoken(sequelize: Sequelize): Promise<string[]> {
  const takes = (await TakeRow.findAll({ attributes: ['id', ...TAKE_BLOBS], raw: true })).flatMap((row) =>
    say(
      `take:${row.id}`,
      TAKE_BLOBS.map((name) => row[name]),
    ),
  );
  const made = (await MadeRow.findAll({ attributes: ['id', 'sha256', 'posterSha256', 'moments'] })).flatMap(
    (row) =>
      say(`made:${row.id}`, [
        row.sha256,
        row.posterSha256,
        ...(row.moments ?? []).flatMap((pair) => [pair.sourceSha256, pair.madeSha256]),
      ]),
  );
  const handIns = await sequelize.query<{ id: string; sha256: string }>(
    `SELECT hand_ins.id AS id, json_extract(file.value, '$.sha256') AS sha256
     FROM hand_ins, json_each(hand_ins.frozen, '$.files') AS file`,
    { type: QueryTypes.SELECT },
  );
  return [...takes, ...made, ...handIns.flatMap(({ id, sha256 }) => say(`hand-in:${id}`, [sha256]))];
}

const say = (owner: string, sha256s: readonly (string | null | undefined)[]) =>
  sha256s.flatMap((sha256) => (sha256 ? [`${owner} ${sha256}`] : []));
