import { pino } from 'pino';
import request from 'supertest';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Services } from '../services/services.ts';
import { ServerSettings } from '../services/settings.ts';
import { DatabaseSessionStore } from '../sessions/database-session-store.ts';
import { openTestDatabase, type TestDatabase } from '../test-support/open-test-database.ts';
import { createApp } from './app.ts';

let test: TestDatabase;
beforeEach(async () => {
  test = await openTestDatabase();
});
afterEach(() => test.close());

const sessions = new DatabaseSessionStore();
function open(settings: Record<string, string>) {
  const services = {
    settings: ServerSettings.parse(settings),
    sequelize: test.sequelize,
    sessions,
    log: pino({ level: 'silent' }),
  } as unknown as Services;
  return createApp(services, {
    handle: (_request, response) => void response.status(201).end(),
    recover: () => Promise.resolve(),
    removeExpired: () => Promise.resolve(0),
  });
}
const cookieOf = async (personId: string) => `apodix_session=${await sessions.start(personId, 1)}`;

describe('so many requests a minute', () => {
  it('are a person’s own: those of others at the same address go on, uploads count too', async () => {
    const app = open({ APODIX_REQUESTS_PER_MINUTE: '4' });
    const [ann, bob] = [await cookieOf('ann'), await cookieOf('bob')];
    const readAs = (cookie: string) => request(app).get('/api/session').set('cookie', cookie);
    const uploadAs = (cookie: string) => request(app).post('/api/uploads').set('cookie', cookie);
    for (let count = 0; count < 2; count += 1) {
      expect((await readAs(ann)).status).toBe(200);
      expect((await uploadAs(ann)).status).toBe(201);
    }
    for (const answer of [await readAs(ann), await uploadAs(ann)])
      expect([answer.status, (answer.body as { code: string }).code]).toEqual([429, 'TOO_MANY_REQUESTS']);
    expect([(await readAs(bob)).status, (await uploadAs(bob)).status]).toEqual([200, 201]);
  });

  it('for parts of a film are counted by themselves, ten times as many', async () => {
    const app = open({ APODIX_REQUESTS_PER_MINUTE: '2' });
    const ann = await cookieOf('ann');
    const readPart = (range: string) =>
      request(app).get('/api/takes/none/files/proxy').set('cookie', ann).set('range', range);
    for (let part = 0; part < 20; part += 1)
      expect((await readPart(`bytes=${part}-${part}`)).status).not.toBe(429);
    expect((await readPart('bytes=0-0')).status).toBe(429);
    // Everything else goes on, and a whole file counts as before.
    expect((await request(app).get('/api/session').set('cookie', ann)).status).toBe(200);
    const readWhole = () => request(app).get('/api/takes/none/files/proxy').set('cookie', ann);
    expect([(await readWhole()).status === 429, (await readWhole()).status]).toEqual([false, 429]);
  });

  it('of those who are not signed in are counted by address, whatever cookie they make up', async () => {
    const app = open({ APODIX_REQUESTS_PER_MINUTE: '3' });
    const statuses: number[] = [];
    for (let count = 0; count < 4; count += 1) {
      const cookie = `apodix_session=${String(count).repeat(43)}`;
      statuses.push((await request(app).get('/api/session').set('cookie', cookie)).status);
    }
    expect(statuses).toEqual([200, 200, 200, 429]);
  });
});

describe('behind a proxy', () => {
  const signIn = (settings: Record<string, string>) =>
    request(open(settings))
      .post('/api/session')
      .set({ 'x-forwarded-proto': 'https', 'x-forwarded-for': '192.0.2.7' })
      .send({ personId: 'ann' });

  it('that is trusted and ends TLS, cookies are Secure', async () =>
    expect((await signIn({ APODIX_TRUSTED_PROXIES: '1' })).headers['set-cookie']?.[0]).toMatch(/; Secure/));

  it('that is not trusted, nobody’s word on it is taken', async () =>
    expect((await signIn({})).headers['set-cookie']?.[0]).not.toMatch(/; Secure/));
});

describe('what comes with a request', () => {
  const large = JSON.stringify({ dataBase64: 'A'.repeat(3_000_000) });
  const send = (path: string, body: string, cookie?: string) => {
    const call = request(open({})).post(path).set('content-type', 'application/json');
    return (cookie === undefined ? call : call.set('cookie', cookie)).send(body);
  };
  const codeOf = ({ status, body }: { status: number; body: unknown }) => [
    status,
    (body as { code: string }).code,
  ];

  it('is not even read where the caller may not ask', async () => {
    for (const body of [large, '{ no JSON'])
      expect(codeOf(await send('/api/papers', body))).toEqual([401, 'NOT_SIGNED_IN']);
  });

  it('may be more for paper than for anything else, and is refused in words where it is no JSON', async () => {
    const ann = await cookieOf('ann');
    expect((await send('/api/assignments', large, ann)).status).toBe(413);
    expect(codeOf(await send('/api/assignments', '{ no JSON', ann))).toEqual([400, 'BAD_REQUEST']);
    // Read, and refused for what it holds.
    expect((await send('/api/papers', large.replace('"A', '"*'), ann)).status).toBe(400);
  });
});
