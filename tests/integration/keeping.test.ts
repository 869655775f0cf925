import {
  Announcement,
  AssignmentView,
  DeliveryView,
  Limit,
  OwnTakesView,
  ParcelInput,
  type Limits,
} from '@apodix/core';
import { ApiClient } from '@apodix/demo';
import { mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createHash } from 'node:crypto';
import { Sequelize } from 'sequelize';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';

let apodix: RunningApodix;
let client: ApiClient;
let folder = '';
let picture = '';

const LONG_MS = 240_000;
const written = (id: string, min = 1): Partial<Announcement> => ({
  slots: [
    { id: 'why', label: 'Why you chose it', item: 'text', min, max: 1, alternative: null },
    { id: 'page', label: 'Your page', item: 'link', min, max: 1, alternative: null },
  ],
  title: `Words ${id}`,
  attemptsAllowed: 5,
});
const jpeg = Limit.parse({ id: 'format', kind: 'format', wanted: ['jpeg'] });
const size = (maxBytes: number) => Limit.parse({ id: 'size', kind: 'file-size', maxBytes });

const announcements = [
  buildAnnouncement('words', 'photo', [], written('words')),
  buildAnnouncement('back', 'photo', [], written('back')),
  buildAnnouncement('paper', 'photo', [], written('paper')),
  buildAnnouncement('print', 'photo', [jpeg, size(400_000)], { attemptsAllowed: 5 }),
  buildAnnouncement('poster', 'photo', [jpeg, size(90_000)], { attemptsAllowed: 5 }),
  buildAnnouncement('prose', 'photo', [], {
    instructions: 'Hand in one photograph as a JPEG file, at most 400 kB.',
    attemptsAllowed: 5,
  }),
];

beforeAll(async () => {
  apodix = await startApodix(announcements, { APODIX_GUEST_QUOTA_BYTES: '1000' });
  folder = await mkdtemp(join(tmpdir(), 'apodix-keeping-'));
  picture = join(folder, 'picture.jpg');
  const noise = { type: 'gaussian' as const, mean: 128, sigma: 30 };
  await sharp({ create: { width: 640, height: 480, channels: 3, background: '#888', noise } })
    .jpeg()
    .toFile(picture);
  client = new ApiClient(apodix.url);
  await client.signIn('ann');
});
afterAll(async () => {
  await apodix.stop();
  await rm(folder, { recursive: true, force: true });
});

async function call(method: string, path: string, body?: unknown, headers: Record<string, string> = {}) {
  const answer = await fetch(apodix.url + path, {
    method,
    headers: {
      cookie: client.cookie,
      ...(body === undefined ? {} : { 'content-type': 'application/json' }),
      ...headers,
    },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const text = await answer.text();
  const json: unknown = text.startsWith('{') ? JSON.parse(text) : null;
  return { status: answer.status, headers: answer.headers, json };
}
const writeParcel = (id: string, changes: Partial<ParcelInput>) =>
  call('PUT', `/api/assignments/${id}/parcel`, {
    text: { note: '', participants: '', isOwnWork: true },
    items: [],
    answers: [],
    ...changes,
  });
const answer = (why: string, page: string) => ({
  answers: [
    { slotId: 'why', text: why },
    { slotId: 'page', text: page },
  ],
});
const full = answer('Because of the light.', 'https://pages.example/ann');
const findDelivery = async (assignmentId: string) => {
  const view = await client.readAssignment(assignmentId);
  const { courseSite } = await client.readReceipt(view.receiptId ?? '');
  return `/api/deliveries/${courseSite.deliveryId}`;
};
const readDelivery = async (path: string) => DeliveryView.parse(await (await apodix.callSite(path)).json());
const check = (path: string, how: 'begun' | 'accepted') =>
  apodix.callSite(`${path}/check`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ check: how }),
  });

describe('an assignment that asks for words', () => {
  it('is completed by writing, and arrives as it was written', async () => {
    const before = await client.readAssignment('words');
    expect([before.state, before.nextStep, before.nextStop]).toEqual(['nothing-yet', 'Write it.', 'hand-in']);
    await writeParcel('words', answer('Because of the light.', 'pages, somewhere'));
    expect((await client.readAssignment('words')).missing).toEqual(['give a whole web address: Your page']);
    await expect(client.handIn('words')).rejects.toThrow(/NOT_READY/);
    await writeParcel('words', full);
    await client.handIn('words');
    const receipt = await client.readReceipt((await client.readAssignment('words')).receiptId ?? '');
    expect(receipt.answers?.map(({ slotLabel, text }) => [slotLabel, text])).toEqual([
      ['Why you chose it', 'Because of the light.'],
      ['Your page', 'https://pages.example/ann'],
    ]);
    expect((await readDelivery(await findDelivery('words'))).answers).toEqual(full.answers);
  });

  it('refuses a file in a slot for words, words in none, and a slot twice', async () => {
    const twice = [...full.answers, { slotId: 'why', text: 'again' }];
    for (const changes of [
      { items: [{ slotId: 'why', madeId: 'none' }] },
      { answers: [{ slotId: 'elsewhere', text: 'x' }] },
      { answers: twice },
    ])
      expect((await writeParcel('words', changes)).status).toBe(400);
  });
});

describe('what was handed in', () => {
  it('is taken back while nobody has begun to check it, and handed in again', async () => {
    await writeParcel('back', full);
    await client.handIn('back');
    const path = await findDelivery('back');
    expect((await call('POST', '/api/assignments/back/take-back')).status).toBe(200);
    expect((await readDelivery(path)).state).toBe('taken-back');
    const view = await client.readAssignment('back');
    expect([view.state, view.situation, view.attemptsUsed]).toEqual([
      'ready',
      'You took your hand-in back.',
      0,
    ]);
    // Asked once more, as from a second tab, there is nothing left to take back.
    expect((await call('POST', '/api/assignments/back/take-back')).status).toBe(409);
    await writeParcel('back', answer('Better words.', 'https://pages.example/ann'));
    await client.handIn('back');
    expect(
      (await client.readAssignment('back')).handIns.map(({ attempt, state }) => [attempt, state]),
    ).toEqual([
      [2, 'received'],
      [1, 'taken-back'],
    ]);
  });

  it('stays with the teacher from the first look on, and the steps are told', async () => {
    const path = await findDelivery('back');
    await check(path, 'begun');
    const refused = await call('POST', '/api/assignments/back/take-back');
    expect([refused.status, refused.json]).toMatchObject([409, { code: 'CHECK_BEGUN' }]);
    expect((await readDelivery(path)).state).toBe('received');
    // A start asks the course site what is new, as every minute does.
    await apodix.crash();
    const begun = await client.readAssignment('back');
    expect([begun.handIns[0]?.state, begun.situation]).toEqual([
      'being-checked',
      'Your teacher is checking it.',
    ]);
    await check(path, 'accepted');
    await apodix.crash();
    expect((await client.readAssignment('back')).handIns[0]?.state).toBe('accepted');
  });

  it('that was received before a crash, and has no receipt yet, gets it after the restart: the same delivery', async () => {
    const before = await findDelivery('words');
    await apodix.kill();
    const storage = join(apodix.dataFolder, 'apodix.sqlite');
    const database = new Sequelize({ dialect: 'sqlite', storage, logging: false });
    for (const statement of [
      `DELETE FROM receipts WHERE assignmentId = 'words'`,
      `DELETE FROM jobs WHERE assignmentId = 'words'`,
      `UPDATE hand_ins SET state = 'on-its-way', receiptId = NULL, receivedAt = NULL WHERE assignmentId = 'words'`,
    ])
      await database.query(statement);
    await database.close();
    await apodix.startAgain();
    await expect
      .poll(async () => (await client.readAssignment('words')).handIns[0]?.state, { timeout: 60_000 })
      .toBe('received');
    expect(await findDelivery('words')).toBe(before);
  });

  it('that the course site gave back, though its answer was lost, is not called handed in for long', async () => {
    const path = `${await findDelivery('words')}/take-back`;
    const file = join(apodix.dataFolder, 'course-site', 'access.json');
    const { connections } = JSON.parse(await readFile(file, 'utf8')) as { connections: { key: string }[] };
    const authorization = `Bearer ${connections[0]?.key}`;
    const given = await fetch(apodix.siteUrl + path, { method: 'POST', headers: { authorization } });
    expect(given.status).toBe(200);
    await apodix.crash();
    expect((await client.readAssignment('words')).handIns[0]?.state).toBe('taken-back');
  });

  it('on paper is noted, without a receipt, and can be taken back', async () => {
    expect((await call('POST', '/api/assignments/paper/by-hand', { note: ' ' })).status).toBe(400);
    const noted = await call('POST', '/api/assignments/paper/by-hand', {
      note: 'Given to Ms Teacher in room 4.',
    });
    const view = AssignmentView.parse(noted.json);
    expect([view.state, view.receiptId, view.handIns[0]?.note]).toEqual([
      'handed-in',
      null,
      'Given to Ms Teacher in room 4.',
    ]);
    expect((await call('POST', '/api/assignments/paper/by-hand', { note: 'Again.' })).status).toBe(400);
    const back = AssignmentView.parse((await call('POST', '/api/assignments/paper/take-back')).json);
    expect([back.state, back.handIns[0]?.state]).toEqual(['nothing-yet', 'taken-back']);
  });
});

describe('limits', () => {
  const keepLimits = (id: string, limits: Limits) => call('PUT', `/api/assignments/${id}/limits`, { limits });

  it('of the course judge a hand-in, whatever the student reads; of prose the student’s reading does', async () => {
    const takeId = await client.bringIn('print', picture, 'picture.jpg');
    await keepLimits('print', [jpeg, size(5)]);
    const view = await client.readAssignment('print');
    expect(view.limits.map(({ id, severity }) => [id, severity])).toEqual([
      ['format', 'must'],
      ['size', 'must'],
      ['own-size', 'should'],
    ]);
    expect([view.limitsFrom, view.ownLimitIds]).toEqual(['course', ['own-size']]);
    await client.make(takeId);
    await writeParcel('print', { items: (await client.readAssignment('print')).parcel.items });
    await client.handIn('print');
    const receipt = await client.readReceipt((await client.readAssignment('print')).receiptId ?? '');
    expect(receipt.limitsFrom).toBe('course');
    const judged = receipt.files[0]?.findings.filter((finding) => finding.severity === 'must') ?? [];
    expect(judged.every((finding) => finding.state === 'met')).toBe(true);

    expect((await client.readAssignment('prose')).limitsFrom).toBe('read');
    const own = (await client.readAssignment('prose')).limits.map((limit) =>
      limit.kind === 'file-size' ? { ...limit, maxBytes: 300_000, isChangedByPerson: true } : limit,
    );
    await keepLimits('prose', own);
    expect(await client.readAssignment('prose')).toMatchObject({
      limitsFrom: 'read-and-corrected',
      limits: own,
    });
  });

  it('changed by the teacher reach everyone, told as a change, until it was seen', async () => {
    const path = join(apodix.dataFolder, 'course-site', 'assignments.json');
    const all = Announcement.array().parse(JSON.parse(await readFile(path, 'utf8')));
    const changed = all.map((each) =>
      each.id === 'poster' ? { ...each, limits: [jpeg, size(80_000)] } : each,
    );
    await writeFile(path, JSON.stringify(changed));
    await apodix.crash();
    const view = await client.readAssignment('poster');
    expect([view.isChanged, view.changes[0]?.changes]).toEqual([
      true,
      [{ what: 'File size', before: 'at most 90 kB', after: 'at most 80 kB', as: 'words' }],
    ]);
    const cat = new ApiClient(apodix.url);
    await cat.signIn('cat');
    expect((await cat.readAssignment('poster')).isChanged).toBe(true);
    await call('POST', '/api/assignments/poster/changes');
    expect((await client.readAssignment('poster')).changes).toEqual([]);
    expect((await cat.readAssignment('poster')).isChanged).toBe(true);
  });
});

describe('a take', () => {
  const listTakes = async () => OwnTakesView.parse((await call('GET', '/api/takes')).json).takes;

  it(
    'that came in for nothing serves two assignments, and is made for each by its own limits',
    async () => {
      const { location, takeId } = await begin('loose.jpg');
      await send(location, await readFile(picture));
      await expect
        .poll(async () => (await listTakes()).find((take) => take.id === takeId)?.state, { timeout: 60_000 })
        .toBe('ready');
      expect((await listTakes()).find((take) => take.id === takeId)?.assignments).toEqual([]);
      for (const id of ['poster', 'prose']) {
        expect((await call('PUT', `/api/assignments/${id}/takes/${takeId}`)).status).toBe(200);
        await client.make(takeId, id);
      }
      const [poster, prose] = [await client.readAssignment('poster'), await client.readAssignment('prose')];
      expect(poster.made[0]?.sizeBytes).toBeLessThanOrEqual(80_000);
      expect(prose.made[0]?.sizeBytes).toBeGreaterThan(80_000);
      expect(poster.takes[0]?.assignmentIds.sort()).toEqual(['poster', 'prose']);

      // Left by one, it stays with the other; removed, it is gone from both and can be brought back whole.
      await call('DELETE', `/api/assignments/poster/takes/${takeId}`);
      expect((await client.readAssignment('poster')).takes).toEqual([]);
      expect((await client.readAssignment('prose')).takes).toHaveLength(1);
      await call('DELETE', `/api/takes/${takeId}`);
      expect([(await client.readAssignment('prose')).takes, (await listTakes()).length]).toEqual([[], 1]);
      expect((await call('GET', `/api/takes/${takeId}/files/poster`)).status).toBe(404);
      expect((await call('POST', `/api/takes/${takeId}/restore`)).status).toBe(200);
      const back = await client.readAssignment('prose');
      expect([back.takes.length, back.made[0]?.isCurrent, back.parcel.items.length]).toEqual([1, true, 1]);
    },
    LONG_MS,
  );

  it('whose taking over fails is not told as arrived; asked again, it is taken over', async () => {
    const bytes = Buffer.from('not a picture, but whole');
    const digest = createHash('sha256').update(bytes).digest('hex');
    const blocked = join(apodix.dataFolder, 'blobs', digest.slice(0, 2));
    await rm(blocked, { recursive: true, force: true });
    await writeFile(blocked, 'in the way');
    const { location, takeId } = await begin('blocked.jpg', bytes.length);
    expect((await send(location, bytes)).status).toBeGreaterThanOrEqual(500);
    const head = () =>
      fetch(location, { method: 'HEAD', headers: { cookie: client.cookie, 'tus-resumable': '1.0.0' } });
    expect((await head()).status).toBeGreaterThanOrEqual(500);
    await rm(blocked);
    await mkdir(blocked);
    for (let asked = 0; asked < 2; asked += 1) {
      const answered = await head();
      expect([answered.status, answered.headers.get('upload-offset')]).toEqual([200, String(bytes.length)]);
    }
    expect((await listTakes()).filter((take) => take.id === takeId)).toHaveLength(1);
  });

  it('goes on from the byte at which the line was cut', async () => {
    const bytes = await readFile(picture);
    const { location, takeId } = await begin('cut.jpg', bytes.length);
    const half = Math.floor(bytes.length / 2);
    // Less than was promised arrives, as where a line is cut.
    await send(location, bytes.subarray(0, half));
    const head = await fetch(location, {
      method: 'HEAD',
      headers: { cookie: client.cookie, 'tus-resumable': '1.0.0' },
    });
    expect(Number(head.headers.get('upload-offset'))).toBe(half);
    expect((await send(location, bytes.subarray(half), half)).status).toBe(204);
    const source = await fetch(`${apodix.url}/api/takes/${takeId}/files/source`, {
      headers: { cookie: client.cookie },
    });
    expect(Buffer.from(await source.arrayBuffer()).equals(bytes)).toBe(true);
  });

  it('of a guest has only so much room', async () => {
    const session = await fetch(`${apodix.url}/api/session/guest`, { method: 'POST' });
    const cookie = (session.headers.get('set-cookie') ?? '').split(';')[0] ?? '';
    const ask = (bytes: number) =>
      fetch(`${apodix.url}/api/uploads`, {
        method: 'POST',
        headers: { cookie, 'tus-resumable': '1.0.0', 'upload-length': String(bytes) },
      });
    const refused = await ask(1001);
    expect([refused.status, JSON.parse(await refused.text())]).toMatchObject([413, { code: 'QUOTA_FULL' }]);
    expect((await ask(600)).status).toBe(201);
    // What is under way counts.
    expect((await ask(600)).status).toBe(413);
  });

  async function begin(name: string, length?: number) {
    const encode = (text: string) => Buffer.from(text).toString('base64');
    const created = await fetch(`${apodix.url}/api/uploads`, {
      method: 'POST',
      headers: {
        cookie: client.cookie,
        'tus-resumable': '1.0.0',
        'upload-length': String(length ?? (await readFile(picture)).length),
        'upload-metadata': `name ${encode(name)}`,
      },
    });
    expect(created.status).toBe(201);
    const location = new URL(created.headers.get('location') ?? '', apodix.url);
    return { location, takeId: location.pathname.split('.').at(-1) ?? '' };
  }
  const send = (location: URL, bytes: Uint8Array, offset = 0) =>
    fetch(location, {
      method: 'PATCH',
      headers: {
        cookie: client.cookie,
        'tus-resumable': '1.0.0',
        'upload-offset': String(offset),
        'content-type': 'application/offset+octet-stream',
      },
      body: new Uint8Array(bytes),
    });
});

describe('what anyone may read', () => {
  it('the key of the school, as it stands in its receipts', async () => {
    const key = (await call('GET', '/api/receipt-key')).json;
    const receipt = await client.readReceipt((await client.readAssignment('words')).receiptId ?? '');
    expect(key).toMatchObject({ algorithm: 'Ed25519', publicKey: receipt.signature.publicKey });
  });

  it('the interface as OpenAPI', async () => {
    const api = (await call('GET', '/api/openapi.json')).json as {
      openapi: string;
      paths: Record<string, Record<string, { requestBody?: object; security: object[] }>>;
    };
    expect(api.openapi).toBe('3.1.0');
    const parcel = api.paths['/api/assignments/{assignmentId}/parcel']?.put;
    expect([JSON.stringify(parcel?.requestBody).includes('"answers"'), parcel?.security.length]).toEqual([
      true,
      1,
    ]);
    expect(Object.keys(api.paths['/api/session'] ?? {}).sort()).toEqual(['delete', 'get', 'post']);
  });
});
