import {
  Limit,
  routes,
  type Access,
  type AssignmentView,
  type NewCards,
  type Route,
  type RouteName,
} from '@apodix/core';
import { ApiClient } from '@apodix/demo';
import { mkdtemp, rm } from 'node:fs/promises';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';
import { LITTLE_PDF } from '../test-support/printed-sheet.ts';

let apodix: RunningApodix;
let folder = '';
let work: AssignmentView;
const cookies: Record<string, string> = {};
const ids: Record<string, string> = {};

/**
 * Ann works on the music course; Cat is in it too, Fay is family in it, Tess teaches it. Bob and Tom are of
 * another course; a guest has no account.
 */
const signedIn = ['ann', 'cat', 'bob', 'fay', 'tess', 'tom', 'guest'];
const everyone = ['nobody', ...signedIn];

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
const readCookie = (answer: Response) => (answer.headers.get('set-cookie') ?? '').split(';')[0] ?? '';
const readJson = async <T>(answer: Promise<Response>) => (await (await answer).json()) as T;

async function bringIn(client: ApiClient, assignmentId: string, name: string): Promise<string> {
  const path = join(folder, name);
  const noise = { type: 'gaussian' as const, mean: 128, sigma: 20 + name.length };
  await sharp({ create: { width: 320, height: 240, channels: 3, background: '#888', noise } })
    .jpeg()
    .toFile(path);
  return client.bringIn(assignmentId, path, name);
}

beforeAll(async () => {
  apodix = await startApodix([
    buildAnnouncement('solo', 'photo', [Limit.parse({ id: 'l', kind: 'file-size', maxBytes: 300_000 })], {
      attemptsAllowed: 9,
    }),
    buildAnnouncement('foreign', 'photo', [], { courseId: 'other' }),
  ]);
  folder = await mkdtemp(join(tmpdir(), 'apodix-access-'));
  for (const personId of signedIn.filter((who) => who !== 'guest'))
    cookies[personId] = readCookie(await call('POST', '/api/session', null, { personId }));
  cookies.guest = readCookie(await call('POST', '/api/session/guest', null));
  const client = new ApiClient(apodix.url);
  await client.signIn('ann');
  const names = ['handed-in.jpg', 'spare.jpg', 'gone.jpg'];
  const [handedIn = '', spare = '', gone = ''] = await Promise.all(
    names.map((name) => bringIn(client, 'solo', name)),
  );
  await client.make(handedIn);
  const before = await client.readAssignment('solo');
  await client.writeParcel('solo', { ...before.parcel, text: { ...before.parcel.text, isOwnWork: true } });
  await client.handIn('solo');
  ids.job = (await readJson<{ id: string }>(call('POST', '/api/assignments/solo/hand-in', 'ann'))).id;
  await Promise.all([client.make(spare), client.make(gone)]);
  work = await client.readAssignment('solo');
  const madeOf = (takeId: string) => work.made.find((each) => each.takeId === takeId)?.id ?? '';
  Object.assign(ids, { handedIn, spare, handedInMade: madeOf(handedIn), spareMade: madeOf(spare) });
  ids.goneMade = madeOf(gone);
  ids.receipt = work.receiptId ?? '';
  expect((await call('DELETE', `/api/made/${ids.goneMade}`, 'ann')).status).toBe(200);
  expect((await call('DELETE', `/api/takes/${gone}`, 'ann')).status).toBe(200);
  ids.gone = gone;
  const create = async (title: string) => {
    const body = { kind: 'own', title, instructions: '', limits: [], dueAt: null };
    return (await readJson<AssignmentView>(call('POST', '/api/assignments', 'ann', body))).id;
  };
  ids.own = await create('Own');
  ids.goneOwn = await create('Gone');
  expect((await call('DELETE', `/api/assignments/${ids.goneOwn}`, 'ann')).status).toBe(200);
  const makeCard = async () =>
    (await readJson<NewCards>(call('POST', '/api/cards', 'ann', { personIds: ['ann'] }))).cards[0];
  const [card, other] = [await makeCard(), await makeCard()];
  Object.assign(ids, { card: card?.card.id, cardCode: other?.code });
  ids.calendar =
    (await readJson<{ path: string }>(call('POST', '/api/calendar', 'ann'))).path.split('/').at(-1) ?? '';
});
afterAll(async () => {
  await apodix.stop();
  await rm(folder, { recursive: true, force: true });
});

/** Who is let in, for each kind of access, to what belongs to Ann. */
const letIn: Readonly<Record<Access, readonly string[]>> = {
  anyone: everyone,
  person: signedIn,
  // Cat works on the same assignment, and sees her own work on it alone.
  assignment: ['ann', 'cat'],
  'own-assignment': ['ann'],
  'removed-assignment': ['ann'],
  'assignment-take': ['ann'],
  take: ['ann'],
  'removed-take': ['ann'],
  made: ['ann', 'tess'],
  'own-made': ['ann'],
  'removed-made': ['ann'],
  job: ['ann'],
  receipt: ['ann', 'tess'],
  card: ['ann', 'tess'],
};

/** What each kind of access is asked for: real things, of Ann's. */
function findParams(name: RouteName): Record<string, string | undefined> {
  const { access } = routes[name];
  const own = access === 'own-assignment' ? ids.own : access === 'removed-assignment' ? ids.goneOwn : 'solo';
  const isOfMade = access === 'own-made' ? ids.spareMade : ids.handedInMade;
  return {
    assignmentId: own,
    takeId: access === 'removed-take' ? ids.gone : ids.spare,
    madeId: access === 'removed-made' ? ids.goneMade : isOfMade,
    jobId: ids.job,
    receiptId: ids.receipt,
    cardId: ids.card,
    token: ids.calendar,
    role: name === 'readMadeFile' ? 'file' : 'source',
  };
}

/** A body that the route takes, for every route that wants one. */
const bodies: Partial<Record<RouteName, () => unknown>> = {
  signIn: () => ({ personId: 'ann' }),
  createAssignment: () => ({ kind: 'own', title: 'New', instructions: '', limits: [], dueAt: null }),
  writeLimits: () => ({ limits: work.limits }),
  writeSheet: () => ({ baseVersion: 0, sheet: { layout: 'single', paper: 'a4', title: '', pieces: [] } }),
  writeParcel: () => ({ text: work.parcel.text, items: [], answers: [] }),
  readPaper: () => ({ dataBase64: LITTLE_PDF.toString('base64') }),
  noteByHand: () => ({ note: 'On paper.' }),
  writeRecipe: () => {
    const { recipe } = work.takes.find((take) => take.id === ids.spare) ?? {};
    return { recipe: recipe?.recipe, baseVersion: recipe?.version };
  },
  chooseTake: () => ({ isChosen: true }),
  changeTake: () => ({ note: 'The second one is better.' }),
  writeSeen: () => ({ version: 1, startUs: 0, stepUs: 500_000, face: 'y', hands: 'n', body: 'u' }),
  writeVoice: () => ({ dataBase64: null }),
  takeStill: () => ({ frame: 0, assignmentId: null }),
  mergeShots: () => ({ takeIds: [ids.spare], assignmentId: null }),
  drawCard: () => ({ card: { title: 'A', lines: [], lengthUs: 2_000_000 }, widthPx: 64, heightPx: 36 }),
  alignTake: () => ({ soundTakeId: ids.spare }),
  makePhoneLink: () => ({ assignmentId: null }),
  openPhoneLink: () => ({ token: 'a'.repeat(32) }),
  makeCards: () => ({ personIds: ['nobody-of-theirs'] }),
  signInByCard: () => ({ code: ids.cardCode }),
  renameMade: () => ({ stem: 'Another name' }),
};

async function ask(name: RouteName, who: string): Promise<Response> {
  const route: Route = routes[name];
  const params = findParams(name);
  const path = route.path.replace(/:(\w+)/g, (_match, key: string) => params[key] ?? 'none');
  const leaving = new AbortController();
  const answer = await fetch(apodix.url + path, {
    method: route.method,
    headers: {
      origin: apodix.url,
      'sec-fetch-site': 'same-origin',
      ...(who === 'nobody' ? {} : { cookie: cookies[who] ?? '' }),
      ...(route.body ? { 'content-type': 'application/json' } : {}),
    },
    ...(route.body ? { body: JSON.stringify(bodies[name]?.()) } : {}),
    signal: leaving.signal,
  });
  if (name === 'followEvents') leaving.abort();
  else await answer.arrayBuffer();
  return answer;
}

/**
 * What is answered where everything is in order but what was asked for: links that nobody made, others'
 * cards.
 */
const ELSE: Partial<Record<RouteName, number>> = {
  openPhoneLink: 410,
  readPhoneSender: 410,
  makeCards: 403,
};

/** Signing out ends a session, and removing comes when all else has been asked. */
const LAST: RouteName[] = [
  'takeBack',
  'noteByHand',
  'makeCalendarLink',
  'removeCalendarLink',
  'restoreMade',
  'restoreTake',
  'removeMade',
  'leaveTake',
  'removeTake',
  'removeAssignment',
  'restoreAssignment',
  'signOut',
  'signInByCard',
];
const names = Object.keys(routes) as RouteName[];
const inOrder = [...names.filter((name) => !LAST.includes(name)), ...LAST];

describe('who may call', () => {
  it('every route that wants a body is asked with one that it takes', () => {
    for (const name of names) {
      const { body }: Route = routes[name];
      if (body) expect([name, body.safeParse(bodies[name]?.()).success]).toEqual([name, true]);
    }
  });

  // Those who are kept out are asked first: what is there is there for all of them.
  it.each(names)('%s keeps out whom it has to', async (name) => {
    const { access } = routes[name];
    for (const who of everyone.filter((each) => !letIn[access].includes(each)))
      expect([who, (await ask(name, who)).status]).toEqual([who, who === 'nobody' ? 401 : 403]);
  });

  it('blobs: the take only for its owner, what was handed in also for the teacher of that course', async () => {
    const status = async (path: string, who: string | null) => (await call('GET', path, who)).status;
    expect(
      await Promise.all(
        ['ann', 'bob', 'tess', null].map((who) => status(`/api/takes/${ids.handedIn}/files/source`, who)),
      ),
    ).toEqual([200, 403, 403, 401]);
    expect(
      await Promise.all(
        ['ann', 'bob', 'tess', 'tom', null].map((who) =>
          status(`/api/made/${ids.handedInMade}/files/file`, who),
        ),
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
    const media = await call('GET', `/api/made/${ids.handedInMade}/files/file`, 'ann', undefined, {
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

// Last of all: it signs out, and removes what the others ask for.
describe('who is let in', () => {
  it.each(inOrder)('%s lets in whom it is for', async (name) => {
    const { access } = routes[name];
    for (const who of letIn[access]) {
      const { status } = await ask(name, who);
      // What cannot be done just now is told as that, not as something that is forbidden or not there.
      const isAnswered =
        status === 200 || (who !== 'nobody' && [400, 409].includes(status)) || ELSE[name] === status;
      expect([who, isAnswered || status]).toEqual([who, true]);
    }
  });
});
