import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Request, Response } from 'express';
import type { Sequelize } from 'sequelize';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { importPeople } from '../data/import-people.ts';
import { SessionRow } from '../data/models.ts';
import { openDatabase } from '../data/open-database.ts';
import { endSession, findCaller, readSessionToken, startSession } from './session.ts';

let folder = '';
let sequelize: Sequelize;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-session-'));
  sequelize = await openDatabase(folder);
  await writeFile(
    join(folder, 'people.json'),
    JSON.stringify({
      people: [
        {
          id: 'ann',
          displayName: 'Ann',
          firstName: 'Ann',
          surname: 'A',
          candidateNumber: null,
          role: 'student',
        },
      ],
      courses: [],
      enrolments: [],
    }),
  );
  await importPeople(sequelize, join(folder, 'people.json'));
});
afterEach(async () => {
  await sequelize.close();
  await rm(folder, { recursive: true, force: true });
});

/** A response that only remembers its cookie. */
function buildJar(): { response: Response; cookie: () => string; options: () => Record<string, unknown> } {
  let [kept, given]: [string, Record<string, unknown>] = ['', {}];
  const response = {
    cookie: (name: string, value: string, options: Record<string, unknown>) =>
      ([kept, given] = [`${name}=${value}`, options]),
    clearCookie: () => (kept = ''),
  } as unknown as Response;
  return { response, cookie: () => kept, options: () => given };
}
const requestWith = (cookie: string) => ({ headers: { cookie } }) as unknown as Request;

describe('sessions', () => {
  it('know their person until they are ended', async () => {
    const jar = buildJar();
    await startSession(jar.response, 'ann', 1);
    const cookie = jar.cookie();
    expect((await findCaller(requestWith(`theme=dark; ${cookie}`)))?.id).toBe('ann');
    await endSession(requestWith(cookie), jar.response);
    expect(await findCaller(requestWith(cookie))).toBeNull();
  });

  it('run out', async () => {
    const jar = buildJar();
    await startSession(jar.response, 'ann', 1);
    await SessionRow.update({ expiresAt: new Date(Date.now() - 1000) }, { where: {} });
    expect(await findCaller(requestWith(jar.cookie()))).toBeNull();
  });

  it('keep no token in the database, and give it to no script and no other site', async () => {
    const jar = buildJar();
    await startSession(jar.response, 'ann', 1);
    const rows = await SessionRow.findAll();
    const token = jar.cookie().split('=')[1] ?? '';
    expect(rows).toHaveLength(1);
    expect(JSON.stringify(rows)).not.toContain(token);
    expect(jar.options()).toMatchObject({ httpOnly: true, sameSite: 'strict' });
  });

  it('are not mixed up by other cookies', () => {
    const token = 'A'.repeat(43);
    expect(
      [
        `apodix_session=${token}`,
        `x=1;apodix_session=${token}`,
        `my_apodix_session=${token}`,
        'apodix_session=short',
        '',
        undefined,
      ].map((cookie) => readSessionToken({ headers: { cookie } })),
    ).toEqual([token, token, null, null, null, null]);
  });
});
