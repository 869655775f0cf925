import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Request, Response } from 'express';
import type { Sequelize } from 'sequelize';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { importPeople } from '../accounts/import-people.ts';
import { SessionRow } from '../data/models.ts';
import { openDatabase } from '../data/open-database.ts';
import { describeSessionStore } from '../test-support/describe-session-store.ts';
import { DatabaseSessionStore } from './database-session-store.ts';
import { findCaller } from './find-caller.ts';
import { clearSessionCookie, readSessionToken, writeSessionCookie } from './session-cookie.ts';

let folder = '';
let sequelize: Sequelize;
const buildPerson = (id: string) => ({
  id,
  displayName: id,
  firstName: id,
  surname: 'A',
  candidateNumber: null,
  role: 'student',
});
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-session-'));
  sequelize = await openDatabase(folder);
  await writeFile(
    join(folder, 'people.json'),
    JSON.stringify({ people: [buildPerson('ann'), buildPerson('bob')], courses: [], enrolments: [] }),
  );
  await importPeople(sequelize, join(folder, 'people.json'));
});
afterEach(async () => {
  await sequelize.close();
  await rm(folder, { recursive: true, force: true });
});

describe('sessions in the database', () => {
  describeSessionStore(() => new DatabaseSessionStore());

  it('keep no token in it', async () => {
    const token = await new DatabaseSessionStore().start('ann', 1);
    const rows = await SessionRow.findAll();
    expect(rows).toHaveLength(1);
    expect(JSON.stringify(rows)).not.toContain(token);
  });

  it('are found by the cookie among others', async () => {
    const store = new DatabaseSessionStore();
    const cookie = `theme=dark; apodix_session=${await store.start('ann', 1)}`;
    expect((await findCaller(store, { headers: { cookie } }))?.id).toBe('ann');
    expect(await findCaller(store, { headers: {} })).toBeNull();
  });
});

describe('the session cookie', () => {
  const write = (secure: boolean) => {
    const given: Record<string, unknown>[] = [];
    const response = {
      cookie: (_name: string, _value: string, options: Record<string, unknown>) => given.push(options),
      clearCookie: (_name: string, options: Record<string, unknown>) => given.push(options),
    } as unknown as Response;
    writeSessionCookie({ secure } as Request, response, 'token', 1);
    clearSessionCookie({ secure } as Request, response);
    return given;
  };
  it.each([true, false])(
    'is given to no script and no other site; only over TLS where there is TLS: %s',
    (secure) => {
      for (const options of write(secure))
        expect(options).toMatchObject({ httpOnly: true, sameSite: 'strict', path: '/', secure });
    },
  );

  it('is not mixed up with other cookies', () => {
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
