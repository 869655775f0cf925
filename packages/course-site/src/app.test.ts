import { Announcement, type DeliveryView } from '@apodix/core';
import { createHash } from 'node:crypto';
import { mkdir, mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { openAccessFile } from './access.ts';
import { ACCESS_FILE, startCourseSite, type RunningSite } from './start-site.ts';
import { SiteSettings } from './settings.ts';

const DAY = 86_400_000;
const bytes = Buffer.from('a proven file, as far as this site knows');
const sha256 = createHash('sha256').update(bytes).digest('hex');
const announce = (id: string, changes: object) =>
  Announcement.parse({
    id,
    courseId: 'music',
    title: id,
    instructions: '',
    limits: [],
    slots: [],
    materials: [],
    rubric: [],
    points: null,
    attemptsAllowed: null,
    isLateAllowed: false,
    setAt: new Date(0).toISOString(),
    dueAt: new Date(Date.now() + DAY).toISOString(),
    ...changes,
  });

let folder = '';
let site: RunningSite;
const keys = { own: 'k'.repeat(32), other: 'o'.repeat(32) };
const teacher = { name: 'tess', password: 'a long enough password' };
let teacherToken = '';
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-site-'));
  await mkdir(join(folder, 'course-site'));
  const past = { dueAt: new Date(Date.now() - DAY).toISOString() };
  await writeFile(
    join(folder, 'course-site', 'assignments.json'),
    JSON.stringify([
      announce('open', {}),
      announce('over', past),
      announce('late', { ...past, isLateAllowed: true }),
      announce('groups', {
        ...past,
        dueByGroup: [{ group: 'Friday', dueAt: new Date(Date.now() + DAY).toISOString() }],
      }),
    ]),
  );
  await writeFile(
    join(folder, 'course-site', ACCESS_FILE),
    JSON.stringify({
      connections: [
        { name: 'own', key: keys.own },
        { name: 'other', key: keys.other },
      ],
      teachers: [teacher],
    }),
  );
  site = await startCourseSite(
    SiteSettings.parse({
      APODIX_DATA: folder,
      APODIX_COURSE_SITE_PORT: 0,
      APODIX_COURSE_SITE_DELAY_MS: 0,
      APODIX_COURSE_SITE_MAX_FILE_BYTES: 1000,
    }),
  );
  teacherToken = String((await call('POST', '/api/session', teacher)).json.token);
});
afterEach(async () => {
  await site.close();
  await rm(folder, { recursive: true, force: true });
});

/** Whether a call is a teacher's to make. */
const isTeachers = (method: string, path: string) =>
  /\/(feedback|fault)$/.test(path) || (method === 'GET' && /\/files\/|deliveries$/.test(path));

async function call(
  method: string,
  path: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<{ status: number; json: Record<string, unknown> }> {
  const raw = Buffer.isBuffer(body) ? new Uint8Array(body) : body === undefined ? null : JSON.stringify(body);
  const answer = await fetch(site.url + path, {
    method,
    body: raw,
    headers: {
      ...(body === undefined
        ? {}
        : { 'content-type': Buffer.isBuffer(body) ? 'application/octet-stream' : 'application/json' }),
      authorization: `Bearer ${isTeachers(method, path) ? teacherToken : keys.own}`,
      ...headers,
    },
  });
  return { status: answer.status, json: (await answer.json().catch(() => ({}))) as Record<string, unknown> };
}
const input = (changes: object = {}, file: object = {}) => ({
  key: 'key-of-attempt-1',
  assignmentId: 'open',
  person: 'Ann',
  attempt: 1,
  note: '',
  participants: '',
  files: [
    { slotId: 's', fileName: 'take.mp4', sizeBytes: bytes.length, sha256, mimeType: 'video/mp4', ...file },
  ],
  ...changes,
});
const openDelivery = async (changes: object = {}, file: object = {}) =>
  (await call('POST', '/api/deliveries', input(changes, file))).json as unknown as DeliveryView;
const send = (id: string, part: Buffer, offset: number) =>
  call('PATCH', `/api/deliveries/${id}/files/0`, part, { 'upload-offset': String(offset) });

describe('a delivery', () => {
  it('is received in pieces, hashed by the site itself, and the same however often it is completed', async () => {
    const { deliveryId } = await openDelivery();
    expect((await send(deliveryId, bytes.subarray(0, 10), 0)).json).toEqual({ offset: 10 });
    expect((await send(deliveryId, bytes.subarray(10), 10)).json).toEqual({ offset: bytes.length });
    const first = await call('POST', `/api/deliveries/${deliveryId}/complete`);
    expect([
      first.status,
      first.json.state,
      first.json.isLate,
      (first.json.files as { sha256: string }[])[0]?.sha256,
    ]).toEqual([200, 'received', false, sha256]);
    expect((await call('POST', `/api/deliveries/${deliveryId}/complete`)).json).toEqual(first.json);
    const kept = await fetch(`${site.url}/api/deliveries/${deliveryId}/files/0`, {
      headers: { authorization: `Bearer ${teacherToken}` },
    });
    expect(Buffer.from(await kept.arrayBuffer()).equals(bytes)).toBe(true);
  });

  it('is opened once for a key, and goes on where it was interrupted', async () => {
    const { deliveryId } = await openDelivery();
    await send(deliveryId, bytes.subarray(0, 7), 0);
    const again = await openDelivery();
    expect([again.deliveryId, again.files[0]?.offset]).toEqual([deliveryId, 7]);
    const wrong = await send(deliveryId, bytes, 0);
    expect([wrong.status, wrong.json.offset]).toEqual([409, 7]);
  });

  it('is not received while a file is missing or arrives as another one', async () => {
    const { deliveryId } = await openDelivery();
    await send(deliveryId, bytes.subarray(0, 7), 0);
    expect((await call('POST', `/api/deliveries/${deliveryId}/complete`)).status).toBe(409);
    await send(deliveryId, Buffer.alloc(bytes.length - 7), 7);
    const damaged = await call('POST', `/api/deliveries/${deliveryId}/complete`);
    expect([damaged.status, damaged.json.reason]).toEqual([409, 'take.mp4 arrived damaged. Send it again.']);
    // What was damaged is gone, so that it can be sent from the start.
    expect(
      ((await call('GET', `/api/deliveries/${deliveryId}`)).json as unknown as DeliveryView).files[0]?.offset,
    ).toBe(0);
  });

  it('after the due time is refused, or marked late where late work is taken', async () => {
    const finish = async (assignmentId: string) => {
      const { deliveryId } = await openDelivery({ assignmentId, key: `key-of-${assignmentId}` });
      await send(deliveryId, bytes, 0);
      return call('POST', `/api/deliveries/${deliveryId}/complete`);
    };
    expect((await finish('over')).status).toBe(422);
    const late = await finish('late');
    expect([late.status, late.json.isLate]).toEqual([200, true]);
  });
});

describe('what happens at once', () => {
  it('a part sent twice is kept once, and the delivery can be completed', async () => {
    const { deliveryId } = await openDelivery();
    const answers = await Promise.all([1, 2, 3].map(() => send(deliveryId, bytes, 0)));
    expect(answers.map((each) => each.status).sort()).toEqual([200, 409, 409]);
    expect((await call('POST', `/api/deliveries/${deliveryId}/complete`)).json.state).toBe('received');
  });

  it('a key opened many times is one delivery', async () => {
    const opened = await Promise.all([1, 2, 3, 4].map(() => call('POST', '/api/deliveries', input())));
    expect(opened.map((each) => each.status).sort()).toEqual([200, 200, 200, 201]);
    expect(new Set(opened.map((each) => each.json.deliveryId)).size).toBe(1);
  });

  it('completed and taken back, it is one of both, and both are told the same', async () => {
    for (let round = 0; round < 8; round += 1) {
      const key = `key-of-round-${round}`;
      const { deliveryId } = await openDelivery({ key });
      await send(deliveryId, bytes, 0);
      const [, cancelled] = await Promise.all([
        call('POST', `/api/deliveries/${deliveryId}/complete`),
        call('POST', '/api/deliveries/cancel', { key }),
      ]);
      const view = (await call('GET', `/api/deliveries/${deliveryId}`)).json;
      expect(['received', 'cancelled']).toContain(view.state);
      expect(cancelled.json.state).toBe(view.state);
    }
  });
});

describe('a delivery that was taken back', () => {
  const cancel = (key: string) => call('POST', '/api/deliveries/cancel', { key });
  it('takes no more bytes, is never received, and its key opens nothing else', async () => {
    const { deliveryId } = await openDelivery();
    await send(deliveryId, bytes, 0);
    expect((await cancel('key-of-attempt-1')).json.state).toBe('cancelled');
    expect((await send(deliveryId, bytes, 0)).status).toBe(409);
    expect((await call('POST', `/api/deliveries/${deliveryId}/complete`)).json.state).toBe('cancelled');
    expect((await openDelivery()).state).toBe('cancelled');
  });
  it('before it came is not taken when it comes', async () => {
    expect((await cancel('key-of-attempt-1')).json.state).toBe('cancelled');
    expect((await openDelivery()).state).toBe('cancelled');
  });
  it('after it was received stays received', async () => {
    const { deliveryId } = await openDelivery();
    await send(deliveryId, bytes, 0);
    await call('POST', `/api/deliveries/${deliveryId}/complete`);
    expect((await cancel('key-of-attempt-1')).json).toMatchObject({ deliveryId, state: 'received' });
  });
});

it('holds a person to the due time of their own group', async () => {
  const finish = async (group: string | null) => {
    const { deliveryId } = await openDelivery({ assignmentId: 'groups', key: `key-of-${group}`, group });
    await send(deliveryId, bytes, 0);
    return (await call('POST', `/api/deliveries/${deliveryId}/complete`)).status;
  };
  expect([await finish('Friday'), await finish('Monday'), await finish(null)]).toEqual([200, 422, 422]);
});

describe('what the site does not take', () => {
  it('files that are too large or of a type that it does not know, and what is no delivery', async () => {
    const status = async (body: unknown) => (await call('POST', '/api/deliveries', body)).status;
    expect(await status(input({}, { sizeBytes: 1001 }))).toBe(413);
    expect(await status(input({}, { mimeType: 'application/x-msdownload' }))).toBe(415);
    expect(await status({ key: 'k' })).toBe(400);
    expect(await status(input({ files: [] }))).toBe(400);
  });
  it('paths and numbers that are none of its own', async () => {
    const { deliveryId } = await openDelivery();
    for (const path of [
      '/api/deliveries/..%2F..%2Fpeople',
      `/api/deliveries/${deliveryId}/files/7`,
      `/api/deliveries/${deliveryId}/files/0`,
      '/api/elsewhere',
    ])
      expect((await call('GET', path)).status).toBe(404);
  });
});

describe('faults on demand', () => {
  it('show as often as they were asked for, then never again', async () => {
    await call('PUT', '/api/fault', { mode: 'unavailable', times: 2 });
    const statuses = [];
    for (let round = 0; round < 3; round += 1)
      statuses.push((await call('POST', '/api/deliveries', input())).status);
    expect(statuses).toEqual([503, 503, 201]);
    expect((await call('PUT', '/api/fault', { mode: 'earthquake' })).status).toBe(400);
  });
  it('cut a transfer off half-way; what arrived stays', async () => {
    const { deliveryId } = await openDelivery();
    await call('PUT', '/api/fault', { mode: 'cut-off' });
    await expect(send(deliveryId, bytes, 0)).rejects.toThrow();
    const offset =
      ((await call('GET', `/api/deliveries/${deliveryId}`)).json as unknown as DeliveryView).files[0]
        ?.offset ?? 0;
    expect(offset).toBe(Math.floor(bytes.length / 2));
    expect((await send(deliveryId, bytes.subarray(offset), offset)).status).toBe(200);
  });
});

describe('who may call', () => {
  const as = (token: string | null, method: string, path: string, body?: unknown) =>
    call(method, path, body, { authorization: token === null ? '' : `Bearer ${token}` });

  it('nobody without a key or a password, but to ask whether it is there', async () => {
    expect((await as(null, 'GET', '/api/health')).status).toBe(200);
    for (const token of [null, 'wrong', `${keys.own}x`])
      for (const [method, path] of [
        ['GET', '/api/assignments'],
        ['GET', '/api/deliveries'],
        ['POST', '/api/deliveries'],
        ['POST', '/api/deliveries/cancel'],
        ['PUT', '/api/fault'],
        ['GET', `/api/deliveries/${'0'.repeat(32)}`],
        ['PUT', `/api/deliveries/${'0'.repeat(32)}/feedback`],
      ] as const)
        expect([path, (await as(token, method, path)).status]).toEqual([path, 401]);
    expect((await call('POST', '/api/session', { ...teacher, password: 'guessed' })).status).toBe(401);
  });

  it('an Apodix sends and asks, a teacher reads and answers, and neither does the other', async () => {
    const { deliveryId } = await openDelivery();
    for (const [token, method, path] of [
      [keys.own, 'GET', '/api/deliveries'],
      [keys.own, 'GET', `/api/deliveries/${deliveryId}/files/0`],
      [keys.own, 'PUT', `/api/deliveries/${deliveryId}/feedback`],
      [keys.own, 'PUT', '/api/fault'],
      [teacherToken, 'POST', '/api/deliveries'],
      [teacherToken, 'POST', '/api/deliveries/cancel'],
      [teacherToken, 'PATCH', `/api/deliveries/${deliveryId}/files/0`],
      [teacherToken, 'POST', `/api/deliveries/${deliveryId}/complete`],
    ] as const)
      expect([path, (await as(token, method, path)).status]).toEqual([path, 403]);
  });

  it('one Apodix neither sees nor touches what another has sent, not even by its key', async () => {
    const { deliveryId } = await openDelivery();
    expect((await as(keys.other, 'GET', `/api/deliveries/${deliveryId}`)).status).toBe(404);
    const cancelled = await as(keys.other, 'POST', '/api/deliveries/cancel', { key: 'key-of-attempt-1' });
    expect(cancelled.json.deliveryId).not.toBe(deliveryId);
    await send(deliveryId, bytes, 0);
    expect((await call('POST', `/api/deliveries/${deliveryId}/complete`)).json.state).toBe('received');
  });
});

describe('the file of keys', () => {
  it('is written at the first start, for its owner alone, and stays', async () => {
    const path = join(folder, 'fresh', 'access.json');
    const first = await openAccessFile(path);
    expect((await stat(path)).mode & 0o777).toBe(0o600);
    expect(await openAccessFile(path)).toEqual(first);
  });
  it('that cannot be read is not replaced', async () => {
    const path = join(folder, 'access.json');
    await writeFile(path, '{"connections":');
    await expect(openAccessFile(path)).rejects.toThrow();
    expect(await readFile(path, 'utf8')).toBe('{"connections":');
  });
});
