import {
  createPlainRecipe,
  keepRange,
  readTakeSeries,
  SHA256_HEADER,
  type AssignmentView,
} from '@apodix/core';
import { ApiClient } from '@apodix/demo';
import { createHash } from 'node:crypto';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';
import { makeClip, probe } from '../test-support/sample-media.ts';
import { createUpload, sendUpload } from '../test-support/send-upload.ts';

let apodix: RunningApodix;
let client: ApiClient;
let folder = '';
let picture = Buffer.alloc(0);

beforeAll(async () => {
  apodix = await startApodix([
    buildAnnouncement('solo', 'video', []),
    buildAnnouncement('print', 'photo', []),
  ]);
  folder = await mkdtemp(join(tmpdir(), 'apodix-arrivals-'));
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
const to = () => ({ url: apodix.url, cookie: client.cookie });
const sha256 = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');
async function readWork(id: string): Promise<AssignmentView> {
  const answer = await fetch(`${apodix.url}/api/assignments/${id}`, { headers: { cookie: client.cookie } });
  return (await answer.json()) as AssignmentView;
}

describe('a line that is cut', () => {
  /** Sends from `offset` on, cuts the line after `count` bytes, and asks how far the server is. */
  async function sendAndCut(location: URL, offset: number, count: number): Promise<number> {
    await new Promise<void>((done) => {
      const sending = request(location, {
        method: 'PATCH',
        headers: {
          cookie: client.cookie,
          'tus-resumable': '1.0.0',
          'upload-offset': String(offset),
          'content-type': 'application/offset+octet-stream',
          'content-length': String(picture.length - offset),
        },
      });
      sending.once('error', () => done());
      sending.once('close', () => done());
      sending.flushHeaders();
      sending.write(picture.subarray(offset, offset + count), () => {
        void setTimeout(60).then(() => sending.destroy());
      });
    });
    await setTimeout(120);
    const asked = await fetch(location, {
      method: 'HEAD',
      headers: { cookie: client.cookie, 'tus-resumable': '1.0.0' },
    });
    return Number(asked.headers.get('upload-offset'));
  }

  it('at any byte loses nothing that arrived, and what is whole in the end is the same', async () => {
    const { location } = await createUpload(to(), picture.length, { name: 'cut.jpg', assignmentId: 'print' });
    let offset = 0;
    // The first byte, one in the middle of nothing, and all but the last.
    for (const until of [1, 2, 1023, Math.floor(picture.length / 2), picture.length - 1]) {
      const next = await sendAndCut(location, offset, until - offset);
      expect(next).toBeGreaterThanOrEqual(offset);
      expect(next).toBeLessThanOrEqual(until);
      offset = next;
    }
    expect(offset).toBeGreaterThan(0);
    const rest = await fetch(location, {
      method: 'PATCH',
      headers: {
        cookie: client.cookie,
        'tus-resumable': '1.0.0',
        'upload-offset': String(offset),
        'content-type': 'application/offset+octet-stream',
        [SHA256_HEADER]: sha256(picture),
      },
      body: new Uint8Array(picture.subarray(offset)),
    });
    expect(rest.status).toBe(204);
    const taken = (await readWork('print')).takes.find((each) => each.name === 'cut.jpg');
    expect(taken?.sha256).toBe(sha256(picture));
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
    const saved = await fetch(`${apodix.url}/api/takes/${early?.id}/recipe`, {
      method: 'PUT',
      headers: { cookie: client.cookie, 'content-type': 'application/json' },
      body: JSON.stringify({ recipe, baseVersion: 0 }),
    });
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
        return sendUpload(to(), Buffer.concat([clip, free]), { assignmentId: 'solo', name });
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
