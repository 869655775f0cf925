import { Announcement, Limit } from '@apodix/core';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { pino } from 'pino';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { AssignmentRow } from '../data/models.ts';
import { MemoryLiveEvents } from '../events/live-events.ts';
import { openTestDatabase, type TestDatabase } from '../test-support/open-test-database.ts';
import { syncAnnouncements, type SyncContext } from './sync-announcements.ts';

let test: TestDatabase;
let site: Server;
let announced: Announcement[] = [];
beforeEach(async () => {
  test = await openTestDatabase();
  site = createServer((_request, response) =>
    response.end(JSON.stringify({ siteName: 'Course', assignments: announced })),
  );
  await new Promise<void>((done) => site.listen(0, '127.0.0.1', done));
});
afterEach(async () => {
  await new Promise((done) => site.close(done));
  await test.close();
});

const announce = (id: string, maxBytes: number) =>
  Announcement.parse({
    ...{ id, courseId: 'music', title: id, instructions: 'Film it.' },
    limits: [Limit.parse({ id: 'size', kind: 'file-size', maxBytes })],
    slots: [{ id: 'slot', label: 'The piece', item: 'video', min: 1, max: 1 }],
    ...{ materials: [], rubric: [], points: 10, attemptsAllowed: 2, isLateAllowed: false },
    ...{ setAt: '2026-03-02T08:00:00.000Z', dueAt: '2026-03-09T08:00:00.000Z' },
  });
const sync = (follow: NonNullable<SyncContext['follow']>) =>
  syncAnnouncements({
    site: { url: `http://127.0.0.1:${(site.address() as AddressInfo).port}`, key: null },
    ...{ sequelize: test.sequelize, live: new MemoryLiveEvents(), locale: 'en-GB', follow },
    log: pino({ level: 'silent' }),
  });
const readMost = async (id: string) => (await AssignmentRow.findByPk(id))?.limits[0];

it('what is made ahead follows what a course changes, and nothing else; its faults hold nothing up', async () => {
  const followed: string[] = [];
  const follow = (id: string) => {
    followed.push(id);
    return Promise.reject(new Error('gone in the meantime'));
  };
  announced = [announce('aria', 9_000_000), announce('scene', 9_000_000)];
  expect(await sync(follow)).toBe(2);
  expect(await sync(follow)).toBe(2);
  expect(followed).toEqual([]);

  announced = [announce('aria', 5_000_000), announce('scene', 4_000_000)];
  expect(await sync(follow)).toBe(2);
  expect(followed).toEqual(['aria', 'scene']);
  expect(await readMost('scene')).toMatchObject({ maxBytes: 4_000_000 });
});
