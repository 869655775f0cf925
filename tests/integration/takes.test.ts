import { Limit, SHA256_HEADER, type AssignmentView, type NewCards, type NewPhoneLink } from '@apodix/core';
import { ApiClient } from '@apodix/demo';
import { createHash } from 'node:crypto';
import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';
import { makeClip } from '../test-support/sample-media.ts';
import { sendUpload } from '../test-support/send-upload.ts';

let apodix: RunningApodix;
let client: ApiClient;
let folder = '';
let picture = Buffer.alloc(0);

beforeAll(async () => {
  apodix = await startApodix([
    buildAnnouncement('solo', 'video', [
      Limit.parse({ id: 'view', kind: 'in-view', parts: ['face', 'hands'], severity: 'must' }),
    ]),
    buildAnnouncement('print', 'photo', []),
  ]);
  folder = await mkdtemp(join(tmpdir(), 'apodix-takes-'));
  const noise = { type: 'gaussian' as const, mean: 128, sigma: 30 };
  picture = await sharp({ create: { width: 320, height: 240, channels: 3, background: '#888', noise } })
    .jpeg()
    .toBuffer();
  client = new ApiClient(apodix.url);
  await client.signIn('ann');
});
afterAll(async () => {
  await apodix.stop();
  await rm(folder, { recursive: true, force: true });
});

async function call(method: string, path: string, body?: unknown, cookie = client.cookie) {
  const answer = await fetch(apodix.url + path, {
    method,
    headers: { cookie, ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const text = await answer.text();
  const json = (text.startsWith('{') ? JSON.parse(text) : null) as Record<string, unknown> | null;
  const [given = ''] = (answer.headers.get('set-cookie') ?? '').split(';');
  return { status: answer.status, json, cookie: given, headers: answer.headers };
}

const upload = (
  bytes: Buffer,
  metadata: Readonly<Record<string, string>>,
  headers: Readonly<Record<string, string>> = {},
  cookie = client.cookie,
) => sendUpload({ url: apodix.url, cookie }, bytes, metadata, headers);
const sha256 = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');
const readWork = async (id: string) =>
  (await call('GET', `/api/assignments/${id}`)).json as unknown as AssignmentView;

describe('what arrives', () => {
  it('is held against what its sender read, and thrown away where a byte differs', async () => {
    const wrong = sha256(Buffer.concat([picture, Buffer.from('x')]));
    const refused = await upload(
      picture,
      { name: 'a.jpg', assignmentId: 'print' },
      { [SHA256_HEADER]: wrong },
    );
    expect(refused.status).toBe(460);
    expect(JSON.parse(refused.text)).toMatchObject({ code: 'ARRIVED_CHANGED' });
    expect((await readWork('print')).takes).toEqual([]);
    // Nothing of it stays, and asking how far it is finds nothing.
    expect(await readdir(join(apodix.dataFolder, 'uploads'))).toEqual([]);
    const asked = await fetch(refused.location, {
      method: 'HEAD',
      headers: { cookie: client.cookie, 'tus-resumable': '1.0.0' },
    });
    expect(asked.status).toBe(404);
  });
  it('is a take where it is the same', async () => {
    const told = { [SHA256_HEADER]: sha256(picture) };
    const sent = await upload(picture, { name: 'a.jpg', assignmentId: 'print', origin: 'camera' }, told);
    expect(sent.status).toBe(204);
    const [take] = (await readWork('print')).takes;
    expect(take).toMatchObject({ name: 'a.jpg', sha256: sha256(picture), origin: 'camera' });
  });
});

describe('a take', () => {
  let takeId = '';
  const read = async () => (await readWork('solo')).takes.find((each) => each.id === takeId);
  beforeAll(async () => {
    const clip = await makeClip(folder, 'solo.mp4', { seconds: 4 });
    takeId = await client.bringIn('solo', clip, 'solo.mp4');
  });

  it('gets another name and a note', async () => {
    const body = { name: 'Best one.mp4', note: 'Bar 12 is right here.' };
    expect((await call('PATCH', `/api/takes/${takeId}`, body)).status).toBe(200);
    expect(await read()).toMatchObject(body);
    expect((await call('PATCH', `/api/takes/${takeId}`, { name: ' ' })).status).toBe(400);
  });

  it('keeps what was seen of the person, and what is made of it is judged by that', async () => {
    const judge = async () =>
      (await readWork('solo')).made[0]?.findings.find(
        (each) => each.of === 'limit' && each.kind === 'in-view',
      );
    await client.make(takeId);
    expect(await judge()).toMatchObject({ state: 'person' });
    const seen = {
      version: 1,
      startUs: 250_000,
      stepUs: 500_000,
      face: 'yyyyyyyy',
      hands: 'yyyyyyyy',
      body: 'nnnnnnnn',
    };
    expect((await call('PUT', `/api/takes/${takeId}/seen`, seen)).status).toBe(200);
    expect(await judge()).toMatchObject({ state: 'met', figure: '100 %' });
    const lost = { ...seen, hands: 'yyynnnnn' };
    await call('PUT', `/api/takes/${takeId}/seen`, lost);
    expect(await judge()).toMatchObject({ state: 'short', figure: '38 %' });
    expect((await readWork('solo')).missing.join()).toContain('put right what falls short');
    // Today says the same, although the made file is the same as before.
    const today = (await call('GET', '/api/today')).json as { assignments: { id: string; state: string }[] };
    expect(today.assignments.find((card) => card.id === 'solo')?.state).not.toBe('ready');
    expect((await call('PUT', `/api/takes/${takeId}/seen`, { ...seen, face: 'y' })).status).toBe(400);
  });

  it('keeps a spoken note, refuses what is none, and lets it go', async () => {
    const path = await makeClip(folder, 'voice.webm', {
      seconds: 1,
      video: ['-vn'],
      audio: ['-c:a', 'libopus'],
    });
    const dataBase64 = (await readFile(path)).toString('base64');
    expect((await call('PUT', `/api/takes/${takeId}/voice`, { dataBase64 })).status).toBe(200);
    const url = (await read())?.voiceUrl ?? '';
    const heard = await fetch(apodix.url + url, { headers: { cookie: client.cookie } });
    expect(Buffer.from(await heard.arrayBuffer()).toString('base64')).toBe(dataBase64);
    const none = await call('PUT', `/api/takes/${takeId}/voice`, { dataBase64: picture.toString('base64') });
    expect([none.status, none.json?.code]).toEqual([422, 'NOTE_NOT_HEARD']);
    await call('PUT', `/api/takes/${takeId}/voice`, { dataBase64: null });
    expect((await read())?.voiceUrl).toBeNull();
  });
});

describe('a take of the camera here', () => {
  it('is known to be unbroken; a file that was brought in is not', async () => {
    const clip = await readFile(await makeClip(folder, 'own.mp4', { seconds: 2 }));
    for (const origin of ['camera', 'file'])
      await upload(clip, { name: `${origin}.mp4`, assignmentId: 'solo', origin });
    const find = async (name: string) => (await readWork('solo')).takes.find((each) => each.name === name);
    await expect
      .poll(async () => (await find('file.mp4'))?.state, { timeout: 60_000, interval: 300 })
      .toBe('ready');
    await expect
      .poll(async () => (await find('camera.mp4'))?.facts?.continuity?.isSure, {
        timeout: 60_000,
        interval: 300,
      })
      .toBe(true);
    expect((await find('file.mp4'))?.facts?.continuity?.isSure).toBe(false);
  });
});

describe('a phone', () => {
  const make = async () => {
    const link = (await call('POST', '/api/phone-links', { assignmentId: 'print' }))
      .json as unknown as NewPhoneLink;
    return link.path.split('/').at(-1) ?? '';
  };
  it('sends for whom the code was made, once it has been opened, and for nothing else', async () => {
    const token = await make();
    const opened = await call('POST', '/api/phone-links/open', { token }, '');
    expect(opened.json).toMatchObject({ firstName: 'Ann', assignmentId: 'print' });
    expect(opened.cookie).toContain('apodix_phone=');
    const again = await call('POST', '/api/phone-links/open', { token }, '');
    expect([again.status, again.json?.code]).toEqual([410, 'PHONE_LINK_ENDED']);
    const before = (await readWork('print')).takes.length;
    // Whatever it says, it is for the assignment of the code.
    const sent = await upload(picture, { name: 'phone.jpg', assignmentId: 'solo' }, {}, opened.cookie);
    expect(sent.status).toBe(204);
    const { takes } = await readWork('print');
    expect(takes).toHaveLength(before + 1);
    expect(takes.find((each) => each.name === 'phone.jpg')?.origin).toBe('phone');
    // It reads nothing of what is Ann's.
    expect((await call('GET', '/api/assignments/print', undefined, opened.cookie)).status).toBe(401);
    expect((await call('GET', '/api/takes', undefined, opened.cookie)).status).toBe(401);
    await call('DELETE', '/api/phone-links/mine', undefined, opened.cookie);
    expect((await upload(picture, { name: 'late.jpg' }, {}, opened.cookie)).created).toBe(401);
  });
  it('of two that scan one code at once, one is let in', async () => {
    const token = await make();
    const both = await Promise.all([0, 1].map(() => call('POST', '/api/phone-links/open', { token }, '')));
    expect(both.map(({ status }) => status).sort()).toEqual([200, 410]);
  });
  it('is not told that it can reach a computer that it cannot', async () => {
    const link = (await call('POST', '/api/phone-links', { assignmentId: null })).json;
    expect(link).toMatchObject({ isReachable: false, addresses: [] });
  });
  it('cannot be made for an assignment of others', async () => {
    expect((await call('POST', '/api/phone-links', { assignmentId: 'nothing' })).status).toBe(404);
  });
});

describe('a card', () => {
  it('signs its owner in, ends who was there before, and opens nothing once withdrawn', async () => {
    const teacher = new ApiClient(apodix.url);
    await teacher.signIn('tess');
    const made = (await call('POST', '/api/cards', { personIds: ['ann', 'cat'] }, teacher.cookie))
      .json as unknown as NewCards;
    const [annCard, catCard] = made.cards;
    const cat = await call('POST', '/api/session/card', { code: catCard?.code }, '');
    expect(cat.json).toMatchObject({ person: { id: 'cat' } });
    const ann = await call('POST', '/api/session/card', { code: annCard?.code }, cat.cookie);
    expect(ann.json).toMatchObject({ person: { id: 'ann' } });
    const who = await call('GET', '/api/session', undefined, cat.cookie);
    expect(who.json?.person).toBeNull();
    const withdrawn = await call('DELETE', `/api/cards/${catCard?.card.id}`, undefined, teacher.cookie);
    expect(withdrawn.status).toBe(200);
    const late = await call('POST', '/api/session/card', { code: catCard?.code }, '');
    expect([late.status, late.json?.code]).toEqual([404, 'CARD_UNKNOWN']);
  });
  it('is made for nobody whom one does not teach', async () => {
    expect((await call('POST', '/api/cards', { personIds: ['bob'] })).status).toBe(403);
    const teacher = new ApiClient(apodix.url);
    await teacher.signIn('tess');
    expect((await call('POST', '/api/cards', { personIds: ['bob'] }, teacher.cookie)).status).toBe(403);
    expect((await call('POST', '/api/cards', { personIds: ['ann'] })).status).toBe(200);
  });
});
