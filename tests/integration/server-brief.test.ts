import { Limit, type AssignmentView, type PaperText, type TodayView } from '@apodix/core';
import { readdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { LITTLE_PDF } from '../test-support/printed-sheet.ts';
import {
  buildAnnouncement,
  startApodix,
  testPeople,
  type RunningApodix,
} from '../test-support/running-apodix.ts';

let apodix: RunningApodix;
const cookies: Record<string, string> = {};
const DAY = 86_400_000;

async function call<T>(
  method: string,
  path: string,
  who: string,
  body?: unknown,
): Promise<{ status: number; body: T; text: string }> {
  const answer = await fetch(apodix.url + path, {
    method,
    headers: {
      cookie: cookies[who] ?? '',
      ...(body === undefined ? {} : { 'content-type': 'application/json' }),
    },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const text = await answer.text();
  return { status: answer.status, text, body: (text.startsWith('{') ? JSON.parse(text) : null) as T };
}

beforeAll(async () => {
  const at = (days: number) => new Date(Date.now() + days * DAY).toISOString();
  const many = Array.from({ length: 300 }, (_, index) =>
    buildAnnouncement(`many-${index}`, 'video', [], {
      dueAt: at(3 + (index % 40)),
      instructions: 'MP4, at most 20 MB.',
    }),
  );
  testPeople.enrolments[0] = {
    ...testPeople.enrolments[0],
    personId: 'ann',
    courseId: 'music',
    role: 'student',
    group: 'B',
  };
  apodix = await startApodix([
    buildAnnouncement('prose', 'video', [], {
      instructions: 'Film it sideways. At most 20 MB, MP4, no longer than two minutes.',
    }),
    buildAnnouncement('typed', 'video', [Limit.parse({ id: 'l', kind: 'file-size', maxBytes: 5_000_000 })], {
      dueAt: at(2),
      dueByGroup: [
        { group: 'A', dueAt: at(4) },
        { group: 'B', dueAt: at(6) },
      ],
    }),
    ...many,
  ]);
  for (const who of ['ann', 'bob', 'tess']) {
    const answer = await fetch(`${apodix.url}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ personId: who }),
    });
    cookies[who] = (answer.headers.get('set-cookie') ?? '').split(';')[0] ?? '';
  }
});
afterAll(() => apodix.stop());

describe('the brief', () => {
  it('reads limits from prose where a course site announces no others', async () => {
    const { body } = await call<AssignmentView>('GET', '/api/assignments/prose', 'ann');
    expect(body.limits).toMatchObject([
      { kind: 'orientation', wanted: 'landscape' },
      { kind: 'file-size', maxBytes: 20_000_000 },
      { kind: 'format', wanted: ['mp4'] },
      { kind: 'length', maxUs: 120_000_000 },
    ]);
  });

  it('keeps limits as one person has corrected them, for that person alone, and takes them back', async () => {
    const changed = [
      Limit.parse({ id: 'l', kind: 'file-size', maxBytes: 9_000_000, isChangedByPerson: true }),
    ];
    const { body } = await call<AssignmentView>('PUT', '/api/assignments/typed/limits', 'ann', {
      limits: changed,
      instructions: 'My words.',
    });
    // What the course announced stays; what the student reads stands beside it, as a wish.
    const isJoined = ({ limits }: AssignmentView) =>
      limits.map(({ id, severity, kind }) => [id, severity, kind]);
    const joined = [
      ['l', 'must', 'file-size'],
      ['own-l', 'should', 'file-size'],
    ];
    expect([isJoined(body), body.instructions, body.isBriefChanged]).toEqual([joined, 'My words.', true]);
    await apodix.crash();
    expect(isJoined((await call<AssignmentView>('GET', '/api/assignments/typed', 'ann')).body)).toEqual(
      joined,
    );
    const reset = await call<AssignmentView>('DELETE', '/api/assignments/typed/limits', 'ann');
    expect([reset.body.limits[0], reset.body.isBriefChanged]).toMatchObject([{ maxBytes: 5_000_000 }, false]);
  });

  it('refuses limits whose least is more than their most, with plain words', async () => {
    const answer = await call<{ code: string }>('PUT', '/api/assignments/typed/limits', 'ann', {
      limits: [{ id: 'x', kind: 'length', minUs: 10, maxUs: 5 }],
    });
    expect([answer.status, answer.body.code]).toEqual([400, 'BAD_REQUEST']);
    expect(answer.text).toContain('The least wanted is more than the most allowed');
  });

  it('gives each group its own due time', async () => {
    const { body } = await call<AssignmentView>('GET', '/api/assignments/typed', 'ann');
    expect([body.group, body.dueAt]).toEqual([
      'B',
      body.dueByGroup.find((each) => each.group === 'B')?.dueAt,
    ]);
  });
});

describe('what a person chose where words can be read in two ways', () => {
  it('is remembered, makes no reading of one’s own where it changes no limit, and goes with a reset', async () => {
    const before = await call<AssignmentView>('GET', '/api/assignments/prose', 'ann');
    const answers = { 'due:due:on 12 february': 1 };
    const body = { limits: before.body.limits, answers };
    const kept = await call<AssignmentView>('PUT', '/api/assignments/prose/limits', 'ann', body);
    expect([kept.body.answers, kept.body.isBriefChanged, kept.body.limitsFrom]).toEqual([
      answers,
      false,
      'read',
    ]);
    await apodix.crash();
    const again = await call<AssignmentView>('GET', '/api/assignments/prose', 'ann');
    const other = await call<AssignmentView>('GET', '/api/assignments/typed', 'ann');
    expect([again.body.answers, other.body.answers]).toEqual([answers, {}]);
    const reset = await call<AssignmentView>('DELETE', '/api/assignments/prose/limits', 'ann');
    expect(reset.body.answers).toEqual({});
  });

  it('comes along with an assignment of one’s own', async () => {
    const answers = { 'day:due:3/4': 0 };
    const { body } = await call<AssignmentView>('POST', '/api/assignments', 'ann', {
      ...{ kind: 'own', title: 'Solo', instructions: 'Due 3/4', limits: [], answers },
    });
    expect(body.answers).toEqual(answers);
    await call('DELETE', `/api/assignments/${body.id}`, 'ann');
  });
});

describe('instructions on paper', () => {
  const read = (bytes: Buffer, who: string) =>
    call<PaperText & { code: string }>('POST', '/api/papers', who, { dataBase64: bytes.toString('base64') });

  it('are read for whoever is signed in, and nothing of them is kept', async () => {
    const { status, body } = await read(LITTLE_PDF, 'ann');
    expect([status, body.text, body.how]).toEqual([200, 'Film one dance of at most two minutes.', 'text']);
    const page = Buffer.from(body.pages[0] ?? '', 'base64');
    expect(page.subarray(0, 3).toString('hex')).toBe('ffd8ff');
    expect(await readdir(join(apodix.dataFolder, 'papers'))).toEqual([]);
  });

  it('are gone where the process ended while they were read', async () => {
    await writeFile(join(apodix.dataFolder, 'papers', 'left'), LITTLE_PDF);
    await apodix.crash();
    await expect(readdir(join(apodix.dataFolder, 'papers'))).rejects.toThrow(/ENOENT/);
  });

  it('are refused in plain words where they are none, and to nobody', async () => {
    const { status, body } = await read(Buffer.from('no paper at all, only words'), 'ann');
    expect([status, body.code]).toEqual([422, 'NOT_PAPER']);
    expect((await read(LITTLE_PDF, 'nobody')).status).toBe(401);
    expect(await readdir(join(apodix.dataFolder, 'papers'))).toEqual([]);
  });
});

describe('an assignment of one’s own', () => {
  it('is made from pasted words, corrected, and removed with everything in it', async () => {
    const { body } = await call<AssignmentView>('POST', '/api/assignments', 'ann', {
      kind: 'own',
      title: 'Clarinet',
      instructions: 'Either one video or two photographs.',
      limits: [
        { id: 'a', kind: 'count', item: 'video', min: 1, max: 1, alternative: 'a' },
        { id: 'b', kind: 'count', item: 'photo', min: 2, max: 2, alternative: 'b' },
      ],
    });
    expect(body.slots.map((slot) => [slot.item, slot.alternative])).toEqual([
      ['video', 'a'],
      ['photo', 'b'],
    ]);
    expect(body.missing[0]).toBe('put in: Video, or put in 2 more: Photograph');
    expect((await call('DELETE', `/api/assignments/${body.id}`, 'bob')).status).toBe(403);
    expect((await call('DELETE', `/api/assignments/${body.id}`, 'ann')).status).toBe(200);
    expect((await call('GET', `/api/assignments/${body.id}`, 'ann')).status).toBe(404);
  });
});

describe('Today and the calendar', () => {
  it('gives 300 assignments in one answer', async () => {
    const { body } = await call<TodayView>('GET', '/api/today', 'ann');
    expect(body.assignments).toHaveLength(302);
  });

  it('offers due times as iCalendar at a secret address, and only there', async () => {
    const { body } = await call<{ path: string }>('POST', '/api/calendar', 'ann');
    const answer = await fetch(apodix.url + body.path);
    const text = await answer.text();
    expect(answer.headers.get('content-type')).toContain('text/calendar');
    expect(text.startsWith('BEGIN:VCALENDAR')).toBe(true);
    expect(text.match(/BEGIN:VEVENT/g)).toHaveLength(302);
    const { body: typed } = await call<AssignmentView>('GET', '/api/assignments/typed', 'ann');
    const stamp = (typed.dueAt ?? '').slice(0, 16).replace(/[-:]/g, '');
    expect(text).toContain(`DTSTART:${stamp}00Z`);
    expect((await fetch(`${apodix.url}/api/calendar/${'x'.repeat(32)}`)).status).toBe(404);
    // It is told once: from then on only that there is one. A new one ends the old one.
    const told = await call<{ madeAt: string }>('GET', '/api/calendar', 'ann');
    expect([Object.keys(told.body), told.text.includes(body.path)]).toEqual([['madeAt'], false]);
    const next = await call<{ path: string }>('POST', '/api/calendar', 'ann');
    const status = async (path: string) => (await fetch(apodix.url + path)).status;
    expect([await status(body.path), await status(next.body.path)]).toEqual([404, 200]);
    await call('DELETE', '/api/calendar', 'ann');
    expect(await status(next.body.path)).toBe(404);
  });
});
