import { JobView, Limit, type AssignmentView, type SiteFault } from '@apodix/core';
import { ApiClient } from '@apodix/demo';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { QueryTypes, Sequelize } from 'sequelize';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';

let apodix: RunningApodix;
let client: ApiClient;
let folder = '';
let picture = '';

/** Files are made before the first test, two at a time, on whatever machine there is. */
const LONG_MS = 400_000;
/** What is about the course site’s answers alone is handed in as typed words: nothing has to be made. */
const ofWords = ['twice', 'four', 'later', 'calm', 'down'];
const ofFiles = ['stop', 'late-stop', 'gap'];
const slot = { id: 'words', label: 'Words', item: 'text' as const, min: 1, max: 1, alternative: null };

beforeAll(async () => {
  const limits = [Limit.parse({ id: 'format', kind: 'format', wanted: ['jpeg'] })];
  apodix = await startApodix(
    [
      ...ofFiles.map((id) => buildAnnouncement(id, 'photo', limits, { attemptsAllowed: null })),
      ...ofWords.map((id) => buildAnnouncement(id, 'photo', [], { attemptsAllowed: null, slots: [slot] })),
    ],
    { APODIX_DELIVERY_RETRY_MS: '300', APODIX_REQUESTS_PER_MINUTE: '100000' },
  );
  folder = await mkdtemp(join(tmpdir(), 'apodix-hand-in-'));
  picture = join(folder, 'picture.jpg');
  const noise = { type: 'gaussian' as const, mean: 128, sigma: 30 };
  await sharp({ create: { width: 900, height: 700, channels: 3, background: '#888', noise } })
    .jpeg()
    .toFile(picture);
  client = new ApiClient(apodix.url);
  await client.signIn('ann');
  await Promise.all([...ofFiles.map(makeFile), ...ofWords.map((id) => write(id, 'for you'))]);
}, LONG_MS);
afterAll(async () => {
  await apodix.stop();
  await rm(folder, { recursive: true, force: true });
});

/** One file is proven and in the parcel; only Hand in is left. */
async function makeFile(id: string): Promise<void> {
  await client.make(await client.bringIn(id, picture, 'picture.jpg'));
  await write(id, 'for you');
}
async function write(id: string, note: string): Promise<void> {
  const { parcel } = await client.readAssignment(id);
  const answers = ofWords.includes(id) ? [{ slotId: slot.id, text: 'Written.' }] : [];
  await client.writeParcel(id, { ...parcel, answers, text: { note, participants: '', isOwnWork: true } });
}
const tell = (mode: SiteFault['mode'], times = 1) =>
  apodix.callSite('/api/fault', {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ mode, times }),
  });

interface SiteDelivery {
  readonly deliveryId: string;
  readonly state: string;
  readonly files: readonly { readonly sha256: string | null }[];
}
/** What the course site has, of which this assignment tells receipts or not: by the bytes alone. */
async function listReceived(): Promise<SiteDelivery[]> {
  const answer = await apodix.callSite('/api/deliveries');
  const { deliveries } = (await answer.json()) as { deliveries: SiteDelivery[] };
  return deliveries.filter((each) => each.state === 'received');
}
const press = async (id: string): Promise<JobView> => {
  const answer = await fetch(`${apodix.url}/api/assignments/${id}/hand-in`, {
    method: 'POST',
    headers: { cookie: client.cookie },
  });
  expect(answer.status).toBe(200);
  return JobView.parse(await answer.json());
};
const cancel = (jobId: string) =>
  fetch(`${apodix.url}/api/jobs/${jobId}/cancel`, { method: 'POST', headers: { cookie: client.cookie } });
async function until(id: string, isTrue: (view: AssignmentView) => boolean): Promise<AssignmentView> {
  for (const end = Date.now() + 60_000; ;) {
    const view = await client.readAssignment(id);
    if (isTrue(view)) return view;
    if (Date.now() > end) throw new Error(`Still not: ${JSON.stringify([view.handIns, view.jobs])}`);
    await wait(50);
  }
}
/** The server's own, beside it or while it is down. */
const openDatabase = () =>
  new Sequelize({
    dialect: 'sqlite',
    storage: join(apodix.dataFolder, 'apodix.sqlite'),
    logging: false,
  });
const isSettled = (view: AssignmentView) =>
  view.handIns.length > 0 && view.handIns.every((each) => each.state !== 'on-its-way');
const listStates = (view: AssignmentView) => view.handIns.map(({ attempt, state }) => [attempt, state]);

describe('a hand-in', () => {
  it('that is received after one was refused is handed in, and is attempt 1', async () => {
    await tell('too-large');
    await expect(client.handIn('twice')).rejects.toThrow(/larger/);
    await client.handIn('twice');
    const view = await client.readAssignment('twice');
    expect([view.state, view.attemptsUsed]).toEqual(['handed-in', 1]);
    expect(listStates(view)).toEqual([
      [1, 'received'],
      [1, 'not-handed-in'],
    ]);
  });

  it('pressed four times at once is one delivery', async () => {
    const before = (await listReceived()).length;
    const jobs = await Promise.all([1, 2, 3, 4].map(() => press('four')));
    expect(new Set(jobs.map((job) => job.id)).size).toBe(1);
    const view = await until('four', isSettled);
    expect(listStates(view)).toEqual([[1, 'received']]);
    expect((await listReceived()).length).toBe(before + 1);
  });

  it('pressed in a second tab after it arrived is still the same one, until something is changed', async () => {
    await client.handIn('four');
    await client.handIn('four');
    expect(listStates(await client.readAssignment('four'))).toEqual([[1, 'received']]);
    await write('four', 'a word more');
    await client.handIn('four');
    expect(listStates(await client.readAssignment('four'))).toEqual([
      [2, 'received'],
      [1, 'received'],
    ]);
  });

  it('stays handed in where a later one is refused', async () => {
    await client.handIn('later');
    await write('later', 'another note');
    await tell('wrong-type');
    await expect(client.handIn('later')).rejects.toThrow(/type/);
    const view = await client.readAssignment('later');
    expect([view.state, view.attemptsUsed, view.receiptId !== null]).toEqual(['handed-in', 1, true]);
  });

  it('goes through where the course site has too much to do for a moment', async () => {
    await tell('busy');
    await client.handIn('calm');
    expect(listStates(await client.readAssignment('calm'))).toEqual([[1, 'received']]);
  });

  it('whose confirmation is lost on the way is received once', async () => {
    await write('calm', 'lost on the way');
    const before = (await listReceived()).length;
    await tell('lost-answer', 2);
    await client.handIn('calm');
    expect(listStates(await client.readAssignment('calm'))[0]).toEqual([2, 'received']);
    expect((await listReceived()).length).toBe(before + 1);
  });

  it('that is stopped while it is sent is not handed in, and the course site takes it no more', async () => {
    const before = (await listReceived()).length;
    await tell('slow');
    const job = await press('stop');
    await until('stop', (view) => view.jobs.some((each) => each.stage.startsWith('Sending')));
    await cancel(job.id);
    const view = await until('stop', isSettled);
    expect([view.state, listStates(view)]).toEqual(['ready', [[1, 'not-handed-in']]]);
    await wait(3500);
    expect((await listReceived()).length).toBe(before);
  });

  it('that is stopped in the moment in which it begins is not handed in', async () => {
    const before = (await listReceived()).length;
    for (const delayMs of [0, 40, 120]) {
      await write('stop', `stopped after ${delayMs} ms`);
      await tell('slow');
      const job = await press('stop');
      await wait(delayMs);
      await cancel(job.id);
      const view = await until('stop', isSettled);
      expect(view.handIns[0]?.state).toBe('not-handed-in');
    }
    await tell('none');
    expect((await listReceived()).length).toBe(before);
  });

  it('that had arrived while it was stopped is handed in, with its receipt', async () => {
    await tell('lost-answer', 6);
    const job = await press('late-stop');
    await until('late-stop', (view) => view.jobs.some((each) => /confirm/.test(each.stage)));
    await cancel(job.id);
    const view = await until('late-stop', isSettled);
    await tell('none');
    expect([view.state, listStates(view)]).toEqual(['handed-in', [[1, 'received']]]);
    expect((await client.readReceipt(view.receiptId ?? '')).files).toHaveLength(1);
  });

  it('is on its way, and nothing else, as long as nobody can tell', async () => {
    const before = (await listReceived()).length;
    await tell('lost-answer', 6);
    await press('down');
    await until('down', (view) => view.jobs.some((each) => /confirm/.test(each.stage)));
    await apodix.killSite();
    await until('down', (view) => view.jobs.some((each) => /not known yet/.test(each.stage)));
    expect((await client.readAssignment('down')).state).toBe('sending');
    await apodix.startSiteAgain();
    const view = await until('down', isSettled);
    expect(listStates(view)).toEqual([[1, 'received']]);
    expect((await listReceived()).length).toBe(before + 1);
  });

  it('whose job was lost in a crash is taken up again', async () => {
    await tell('slow');
    await press('gap');
    await apodix.kill();
    const database = openDatabase();
    await database.query(`DELETE FROM jobs WHERE kind = 'deliver' AND assignmentId = 'gap'`);
    const [row] = await database.query<{ state: string }>(
      `SELECT state FROM hand_ins WHERE assignmentId = 'gap'`,
      { type: QueryTypes.SELECT },
    );
    await database.close();
    expect(row?.state).toBe('on-its-way');
    await apodix.startAgain();
    expect(listStates(await until('gap', isSettled))).toEqual([[1, 'received']]);
  });

  it('that was said not to be handed in is not sent, though a crash left its job open', async () => {
    const before = (await listReceived()).length;
    await tell('wrong-type');
    await write('later', 'refused once more');
    await expect(client.handIn('later')).rejects.toThrow(/type/);
    await apodix.kill();
    const database = openDatabase();
    await database.query(`UPDATE jobs SET state = 'running', fault = NULL WHERE id =
      (SELECT id FROM jobs WHERE kind = 'deliver' AND assignmentId = 'later' ORDER BY createdAt DESC LIMIT 1)`);
    await database.close();
    await apodix.startAgain();
    const view = await until('later', ({ jobs }) => jobs.every((job) => job.state === 'failed'));
    expect([view.handIns[0]?.state, (await listReceived()).length]).toEqual(['not-handed-in', before]);
  });

  it('what happened last is told, however much happened before', async () => {
    const database = openDatabase();
    await database.query(`INSERT INTO audit_events
      WITH RECURSIVE counts (n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM counts WHERE n < 250)
      SELECT 'old-' || n, 'ann', 'calm', 'Long ago', '2026-01-01 00:00:00.000 +00:00' FROM counts`);
    await database.close();
    await write('calm', 'at last');
    await client.handIn('calm');
    expect((await client.readAssignment('calm')).events.at(-1)?.what).toMatch(/^Received by/);
  });
});
