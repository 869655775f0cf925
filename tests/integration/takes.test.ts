import {
  createPlainRecipe,
  keepRange,
  Limit,
  readTakeSeries,
  SHA256_HEADER,
  type AssignmentView,
  type NewCards,
  type NewPhoneLink,
} from '@apodix/core';
import { ApiClient } from '@apodix/demo';
import { createHash } from 'node:crypto';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';
import { makeClip, probe } from '../test-support/sample-media.ts';

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

/** An upload by hand: creates it and sends all bytes at once. */
async function upload(
  bytes: Buffer,
  metadata: Readonly<Record<string, string>>,
  headers: Readonly<Record<string, string>> = {},
  cookie = client.cookie,
) {
  const words = Object.entries(metadata).map(
    ([key, value]) => `${key} ${Buffer.from(value).toString('base64')}`,
  );
  const created = await fetch(`${apodix.url}/api/uploads`, {
    method: 'POST',
    headers: {
      cookie,
      'tus-resumable': '1.0.0',
      'upload-length': String(bytes.length),
      'upload-metadata': words.join(','),
    },
  });
  const location = new URL(created.headers.get('location') ?? '', apodix.url);
  const send = await fetch(location, {
    method: 'PATCH',
    headers: {
      cookie,
      'tus-resumable': '1.0.0',
      'upload-offset': '0',
      'content-type': 'application/offset+octet-stream',
      ...headers,
    },
    body: new Uint8Array(bytes),
  });
  return { created: created.status, status: send.status, text: await send.text(), location };
}
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

describe('a long take', () => {
  it('is seen, played and cut while the rest is still being measured; the cut stays', async () => {
    // Keyframes ten seconds apart: it does not seek well by itself.
    const clip = await makeClip(folder, 'long.mp4', {
      seconds: 40,
      size: '640x360',
      rate: '30',
      filters: 'null',
      video: ['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '26', '-g', '300'],
    });
    const sending = client.bringIn('solo', clip, 'long.mp4');
    const find = async () => (await readWork('solo')).takes.find((each) => each.name === 'long.mp4');
    let early: AssignmentView['takes'][number] | undefined;
    for (let isDone = false; !isDone && !early;) {
      const found = await find();
      if (found?.state === 'inspecting' && found.posterUrl && found.draft && found.proxyUrl) early = found;
      isDone = found?.state === 'ready';
      await setTimeout(30);
    }
    expect(early).toMatchObject({ facts: null, recipe: null });
    expect(early?.filmstrip).toMatchObject({ tileCount: 8, tileHeightPx: 72, tileWidthPx: 128 });
    const read = async (path: string | null | undefined) => {
      const answer = await fetch(apodix.url + (path ?? ''), { headers: { cookie: client.cookie } });
      return Buffer.from(await answer.arrayBuffer());
    };
    const { width, height } = await sharp(await read(early?.stripUrl)).metadata();
    expect([width, height]).toEqual([1024, 72]);
    expect(early?.draft).toMatchObject({
      video: { widthPx: 640, frameCount: 1200 },
      durationUs: 40_000_000,
    });
    const film = join(folder, 'film.mp4');
    await writeFile(film, await read(early?.proxyUrl));
    const shown = await probe(film);
    expect(Number(shown.format.duration)).toBeCloseTo(40, 1);
    expect(shown.streams.map((stream) => stream.codec_name).sort()).toEqual(['aac', 'h264']);
    // To the frame: every frame's time is there already.
    const { frames } = readTakeSeries(new Uint8Array(await read(early?.seriesUrl)));
    expect(frames?.timesUs).toHaveLength(1200);
    const recipe = keepRange(createPlainRecipe(), {
      startUs: frames?.timesUs[30] ?? 0,
      finishUs: frames?.timesUs[90] ?? 0,
    });
    const saved = await call('PUT', `/api/takes/${early?.id}/recipe`, { recipe, baseVersion: 0 });
    expect(saved.status).toBe(200);
    expect((await find())?.state).toBe('inspecting');
    await sending;
    const whole = await find();
    expect(whole).toMatchObject({ state: 'ready', draft: null, recipe: { version: 1, recipe } });
    expect(whole?.filmstrip?.tileCount).toBe(40);
    expect(whole?.proxyUrl).not.toBe(early?.proxyUrl);
  });

  it('is its own proxy where it is plain H.264 with keyframes close together', async () => {
    const plain = ['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '30', '-g', '12'];
    const clip = await makeClip(folder, 'near.mp4', {
      video: [...plain, '-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709'],
    });
    await client.bringIn('solo', clip, 'near.mp4');
    const take = (await readWork('solo')).takes.find((each) => each.name === 'near.mp4');
    expect(take?.proxyUrl).toContain(take?.sha256.slice(0, 12));
    const answer = await fetch(apodix.url + (take?.proxyUrl ?? ''), { headers: { cookie: client.cookie } });
    expect(answer.headers.get('content-type')).toBe('video/mp4');
    expect(Buffer.from(await answer.arrayBuffer()).equals(await readFile(clip))).toBe(true);
  });
});

describe('many at once', () => {
  it('ten recordings that arrive together are all taken over, measured and different', async () => {
    const clip = await readFile(
      await makeClip(folder, 'ten.mp4', { seconds: 1, size: '160x120', audio: null }),
    );
    const names = Array.from({ length: 10 }, (_, index) => `of ten ${index}.mp4`);
    const answers = await Promise.all(
      names.map((name, index) => {
        // A box that players pass over makes each another file.
        const free = Buffer.from([0, 0, 0, 9, ...Buffer.from('free'), index]);
        return upload(Buffer.concat([clip, free]), { assignmentId: 'solo', name });
      }),
    );
    expect(answers.map((answer) => answer.status)).toEqual(names.map(() => 204));
    const deadline = Date.now() + 60_000;
    let own: AssignmentView['takes'];
    do {
      await setTimeout(200);
      own = (await readWork('solo')).takes.filter((take) => names.includes(take.name));
    } while (own.some((take) => take.state === 'inspecting') && Date.now() < deadline);
    expect(own.map((take) => take.state)).toEqual(names.map(() => 'ready'));
    expect(new Set(own.map((take) => take.sha256)).size).toBe(10);
    expect(new Set(own.map((take) => take.facts?.video?.frameCount))).toEqual(new Set([25]));
  });
});
