import { createHash } from 'node:crypto';
import { mkdir, stat, utimes, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { pino } from 'pino';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { AssignmentRow, MadeRow, PersonRow, SessionRow, TakeRow } from '../data/models.ts';
import { BlobReferences } from '../references/blob-references.ts';
import { checkData, isSound } from '../references/check-data.ts';
import { DatabaseSessionStore } from '../sessions/database-session-store.ts';
import { PieceFolders } from '../making/piece-folders.ts';
import { DiskBlobStore } from '../storage/disk-blob-store.ts';
import {
  addMade,
  addOwnAssignment,
  addTake,
  openTestDatabase,
  type TestDatabase,
} from '../test-support/open-test-database.ts';
import { tidyUp } from './tidy-up.ts';

const HOUR = 3_600_000;
let test: TestDatabase;
let blobs: DiskBlobStore;
const log = pino({ level: 'silent' });
const sessions = new DatabaseSessionStore();
const digestOf = (text: string) => createHash('sha256').update(text).digest('hex');

/** Bytes that were adopted so many hours ago. */
async function adopt(text: string, hoursAgo: number): Promise<string> {
  const path = join(test.folder, `in-${text}`);
  await writeFile(path, text);
  const { sha256 } = await blobs.adopt(path);
  const at = new Date(Date.now() - hoursAgo * HOUR);
  await utimes(blobs.pathOf(sha256), at, at);
  return sha256;
}
const tidy = (hoursLater = 0) =>
  tidyUp(
    {
      sessions,
      jobs: { removeEnded: () => Promise.resolve(0) },
      references: new BlobReferences(test.sequelize, blobs),
      uploads: { removeExpired: () => Promise.reject(new Error('The folder cannot be read.')) },
      pieces: new PieceFolders(join(test.folder, 'pieces'), 1000),
      log,
    },
    new Date(Date.now() + hoursLater * HOUR),
  );

beforeEach(async () => {
  test = await openTestDatabase();
  blobs = new DiskBlobStore(join(test.folder, 'blobs'));
});
afterEach(() => test.close());

describe('what is not needed any more', () => {
  it('goes: bytes that nothing speaks of, in spite of a step that fails; what is spoken of stays', async () => {
    const [used, unused, young] = [await adopt('used', 5), await adopt('unused', 5), await adopt('young', 0)];
    await addTake('t', 'ann', used);
    await tidy();
    expect(await Promise.all([used, unused, young].map((each) => blobs.has(each)))).toEqual([
      true,
      false,
      true,
    ]);
  });

  it('that was removed stays for a day, to be brought back, and is then gone with its bytes', async () => {
    await addOwnAssignment('own', 'ann');
    const [source, made] = [await adopt('source', 50), await adopt('made', 50)];
    const take = await addTake('t', 'ann', source, 'own');
    await addMade(test.sequelize, 'm', { takeId: 't', personId: 'ann', assignmentId: 'own', sha256: made });
    const removedAt = new Date();
    await take.update({ removedAt });
    await MadeRow.update({ removedAt }, { where: { id: 'm' } });
    await AssignmentRow.update({ removedAt }, { where: { id: 'own' } });
    await tidy(23);
    expect([await TakeRow.count(), await MadeRow.count(), await AssignmentRow.count()]).toEqual([1, 1, 1]);
    expect([await blobs.has(source), await blobs.has(made)]).toEqual([true, true]);
    await tidy(25);
    expect([await TakeRow.count(), await MadeRow.count(), await AssignmentRow.count()]).toEqual([0, 0, 0]);
    expect([await blobs.has(source), await blobs.has(made)]).toEqual([false, false]);
  });

  it('of a guest goes with the session; people with an account stay', async () => {
    for (const id of ['guest-1', 'guest-2'])
      await PersonRow.create({
        id,
        displayName: 'Guest',
        firstName: '',
        surname: '',
        candidateNumber: null,
        role: 'guest',
      });
    const kept = await adopt('kept', 5);
    const gone = await adopt('gone', 5);
    await sessions.start('guest-1', 1);
    await sessions.start('guest-2', 1);
    await SessionRow.update({ expiresAt: new Date(Date.now() - 1000) }, { where: { personId: 'guest-2' } });
    await addTake('t1', 'guest-1', kept);
    await addTake('t2', 'guest-2', gone);
    await tidy();
    expect((await PersonRow.findAll({ order: ['id'] })).map((row) => row.id)).toEqual([
      'ann',
      'bob',
      'guest-1',
    ]);
    expect([await blobs.has(kept), await blobs.has(gone)]).toEqual([true, false]);
  });
});

describe('coded pieces', () => {
  /** A piece of a recording, used so many hours ago. */
  async function putPiece(
    sha256: string,
    name: string,
    sizeBytes: number,
    hoursAgo: number,
  ): Promise<string> {
    const path = join(test.folder, 'pieces', sha256, 'key', name);
    await mkdir(dirname(path), { recursive: true });
    await writeFile(path, Buffer.alloc(sizeBytes));
    const at = new Date(Date.now() - hoursAgo * HOUR);
    await utimes(path, at, at);
    return path;
  }
  const isThere = (path: string) =>
    stat(path).then(
      () => true,
      () => false,
    );

  it('go with their recording, a day after their last use, and the longest unused of too many', async () => {
    const [kept, gone] = [await adopt('kept', 0), digestOf('gone')];
    await addTake('t', 'ann', kept);
    const paths = [
      await putPiece(gone, '2400.mp4', 10, 0),
      await putPiece(kept, '2400.mp4', 10, 25),
      await putPiece(kept, '2500.mp4', 600, 3),
      await putPiece(kept, '2600.mp4', 600, 2),
    ];
    await tidy();
    expect(await Promise.all(paths.map(isThere))).toEqual([false, false, false, true]);
  });

  it('are no folder of anything else', () =>
    expect(() => new PieceFolders('pieces', 1).of('../blobs')).toThrow(TypeError));
});

describe('the check of the data folder', () => {
  const check = (isReadingBytes = false) => checkData(test.sequelize, blobs, isReadingBytes);

  it('finds nothing wrong where all is there', async () => {
    await addTake('t', 'ann', await adopt('there', 0));
    await adopt('nobody’s', 0);
    const report = await check(true);
    expect([isSound(report), report.unused.length]).toEqual([true, 1]);
  });

  it('tells bytes that are missing, bytes that are other ones, and rows that are not noted', async () => {
    await addTake('lost', 'ann', digestOf('never adopted'));
    const damaged = await adopt('damaged', 0);
    await addTake('hurt', 'ann', damaged);
    await writeFile(blobs.pathOf(damaged), 'other bytes');
    expect((await check()).missing).toEqual([{ sha256: digestOf('never adopted'), owners: ['take:lost'] }]);
    expect((await check(true)).damaged).toEqual([damaged]);
    await test.sequelize.query(`DELETE FROM blob_refs WHERE owner = 'take:hurt'`);
    const report = await check();
    expect([isSound(report), report.unnoted]).toEqual([false, [`take:hurt ${damaged}`]]);
  });

  it('tells nothing of a folder that is not there yet', async () => {
    await mkdir(join(test.folder, 'blobs'), { recursive: true });
    expect(isSound(await check(true))).toBe(true);
  });
});
