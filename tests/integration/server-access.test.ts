import { Limit, routes, type Access, type Route, type RouteName } from '@apodix/core';
import { ApiClient } from '@apodix/demo';
import { mkdtemp, rm } from 'node:fs/promises';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';
import { makeClip } from '../test-support/sample-media.ts';

let apodix: RunningApodix;
let folder = '';
const cookies: Record<string, string> = {};
const ids: Record<string, string> = {};

async function call(
  method: string,
  path: string,
  who: string | null,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<Response> {
  return fetch(apodix.url + path, {
    method,
    headers: {
      ...(who ? { cookie: cookies[who] ?? '' } : {}),
      ...(body === undefined ? {} : { 'content-type': 'application/json' }),
      ...headers,
    },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
}

beforeAll(async () => {
  apodix = await startApodix([
    buildAnnouncement('solo', 'video', [Limit.parse({ id: 'l', kind: 'file-size', maxBytes: 300_000 })]),
    buildAnnouncement('foreign', 'video', [], { courseId: 'other' }),
  ]);
  folder = await mkdtemp(join(tmpdir(), 'apodix-access-'));
  for (const who of ['ann', 'bob', 'tess', 'tom']) {
    const answer = await fetch(`${apodix.url}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ personId: who }),
    });
    cookies[who] = (answer.headers.get('set-cookie') ?? '').split(';')[0] ?? '';
  }
  const client = new ApiClient(apodix.url);
  await client.signIn('ann');
  ids.takeId = await client.bringIn('solo', await makeClip(folder, 'clip.mp4', { seconds: 2 }), 'clip.mp4');
  await client.make(ids.takeId);
  const before = await client.readAssignment('solo');
  await client.writeParcel('solo', { ...before.parcel, text: { ...before.parcel.text, isOwnWork: true } });
  await client.handIn('solo');
  const view = await client.readAssignment('solo');
  ids.assignmentId = 'solo';
  ids.madeId = view.made[0]?.id ?? '';
  ids.receiptId = view.receiptId ?? '';
  const job = (await (await call('POST', `/api/takes/${ids.takeId}/make`, 'ann')).json()) as {
    job: { id: string } | null;
  };
  expect(job.job).toBeNull();
});
afterAll(async () => {
  await apodix.stop();
  await rm(folder, { recursive: true, force: true });
});

/**
 * Who is let in, for each kind of access, to what belongs to Ann (a student of the music course that Tess
 * teaches).
 */
const letIn: Readonly<Record<Access, readonly string[]>> = {
  anyone: ['nobody', 'ann', 'bob', 'tess', 'tom'],
  person: ['ann', 'bob', 'tess', 'tom'],
  assignment: ['ann'],
  'own-assignment': [],
  take: ['ann'],
  made: ['ann', 'tess'],
  job: ['ann'],
  receipt: ['ann', 'tess'],
};

describe('who may call', () => {
  const rows = Object.entries(routes).flatMap(([name]) =>
    ['nobody', 'ann', 'bob', 'tess', 'tom'].map((who): [RouteName, string] => [name as RouteName, who]),
  );
  it.each(rows.filter(([name]) => name !== 'followEvents'))('%s by %s', async (name, who) => {
    const route: Route = routes[name];
    const path = route.path.replace(/:(\w+)/g, (_match, key: string) =>
      key === 'role' ? 'unknown-role' : key === 'jobId' ? 'no-such-job' : (ids[key] ?? 'none'),
    );
    // A body that no route takes: guards run before bodies are read, so nothing is changed by asking.
    const answer = await call(
      route.method,
      path,
      who === 'nobody' ? null : who,
      route.method === 'GET' || route.body === null ? undefined : { nonsense: true },
      route.body === null && route.method !== 'GET' ? { origin: 'http://elsewhere.invalid' } : {},
    );
    const isWriteWithoutBody = route.body === null && route.method !== 'GET';
    if (isWriteWithoutBody) return expect(answer.status).toBe(403);
    const isIn = letIn[route.access].includes(who);
    if (route.path.includes(':jobId')) return expect(answer.status).toBe(who === 'nobody' ? 401 : 404);
    if (isIn) expect([200, 400, 404]).toContain(answer.status);
    else expect(answer.status).toBe(who === 'nobody' ? 401 : 403);
  });

  it('writes without a body are guarded by the same table', async () => {
    for (const [method, path] of [
      ['POST', `/api/takes/${ids.takeId}/make`],
      ['DELETE', `/api/takes/${ids.takeId}`],
      ['DELETE', `/api/made/${ids.madeId}`],
      ['POST', '/api/assignments/solo/hand-in'],
    ] as const) {
      expect((await call(method, path, null)).status).toBe(401);
      expect((await call(method, path, 'bob')).status).toBe(403);
      expect((await call(method, path, 'tom')).status).toBe(403);
    }
    expect((await call('DELETE', `/api/made/${ids.madeId}`, 'tess')).status).toBe(403);
  });

  it('blobs: the take only for its owner, what was handed in also for the teacher of that course', async () => {
    const status = async (path: string, who: string | null) => (await call('GET', path, who)).status;
    expect(
      await Promise.all(
        ['ann', 'bob', 'tess', null].map((who) => status(`/api/takes/${ids.takeId}/files/source`, who)),
      ),
    ).toEqual([200, 403, 403, 401]);
    expect(
      await Promise.all(
        ['ann', 'bob', 'tess', 'tom', null].map((who) => status(`/api/made/${ids.madeId}/files/file`, who)),
      ),
    ).toEqual([200, 403, 200, 403, 401]);
  });

  it('an upload can be read and gone on with by its owner alone', async () => {
    const meta = `name ${Buffer.from('x.mp4').toString('base64')},assignmentId ${Buffer.from('solo').toString('base64')}`;
    const created = await call('POST', '/api/uploads', 'ann', undefined, {
      'tus-resumable': '1.0.0',
      'upload-length': '10',
      'upload-metadata': meta,
    });
    expect(created.status).toBe(201);
    const path = new URL(created.headers.get('location') ?? '', apodix.url).pathname;
    const head = async (who: string | null) =>
      (await call('HEAD', path, who, undefined, { 'tus-resumable': '1.0.0' })).status;
    expect(await Promise.all(['ann', 'bob', null].map(head))).toEqual([200, 403, 401]);
    expect(
      (
        await call('POST', '/api/uploads', 'bob', undefined, {
          'tus-resumable': '1.0.0',
          'upload-length': '10',
          'upload-metadata': meta,
        })
      ).status,
    ).toBe(403);
    expect((await call('DELETE', path, 'ann', undefined, { 'tus-resumable': '1.0.0' })).status).toBe(204);
  });
});

describe('the surface', () => {
  it('sends strict headers with pages and media', async () => {
    const page = await fetch(`${apodix.url}/today`);
    expect(page.headers.get('content-security-policy')).toContain("script-src 'self'");
    expect(page.headers.get('content-security-policy')).toContain("frame-ancestors 'none'");
    expect([
      page.headers.get('x-content-type-options'),
      page.headers.get('referrer-policy'),
      page.headers.get('x-powered-by'),
    ]).toEqual(['nosniff', 'no-referrer', null]);
    const media = await call('GET', `/api/made/${ids.madeId}/files/file`, 'ann', undefined, {
      range: 'bytes=0-99',
    });
    expect([
      media.status,
      media.headers.get('content-range')?.startsWith('bytes 0-99/'),
      media.headers.get('x-content-type-options'),
    ]).toEqual([206, true, 'nosniff']);
    expect(media.headers.get('content-security-policy')).toContain('sandbox');
  });

  it('the session cookie is out of reach of scripts and other sites', async () => {
    const answer = await fetch(`${apodix.url}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ personId: 'ann' }),
    });
    expect(answer.headers.get('set-cookie')).toMatch(/HttpOnly; SameSite=Strict/);
  });

  it('writes from another origin are not carried out', async () => {
    for (const headers of [{ origin: 'http://evil.invalid' }, { 'sec-fetch-site': 'cross-site' }] as Record<
      string,
      string
    >[])
      expect((await call('POST', '/api/session', null, { personId: 'ann' }, headers)).status).toBe(403);
    expect(
      (await call('POST', '/api/session', null, { personId: 'ann' }, { origin: apodix.url })).status,
    ).toBe(200);
  });

  it.each([
    ['{"personId":', 400],
    ['[]', 400],
    ['{"personId":"../../x"}', 400],
    ['{"personId":"nobody"}', 404],
  ])('answers %s with %d and plain words', async (body, status) => {
    const answer = await fetch(`${apodix.url}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body,
    });
    expect(answer.status).toBe(status);
    expect(await answer.json()).toMatchObject({
      code: expect.any(String) as string,
      message: expect.any(String) as string,
      next: expect.any(String) as string,
    });
  });

  it('a path that climbs finds nothing', async () => {
    const status = await new Promise<number>((done) => {
      const url = new URL(apodix.url);
      request({ host: url.hostname, port: url.port, path: '/assets/../../../../package.json' }, (answer) => {
        answer.resume();
        done(answer.headers['content-type']?.includes('html') ? 404 : (answer.statusCode ?? 0));
      }).end();
    });
    expect([403, 404]).toContain(status);
  });
});
