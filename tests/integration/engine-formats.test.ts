import { ApodixError, type MediaFacts } from '@apodix/core';
import { bringIn } from '@apodix/engine';
import { execa } from 'execa';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { makeClip } from '../test-support/sample-media.ts';

let folder = '';
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-formats-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

let count = 0;
async function look(path: string): Promise<MediaFacts> {
  count += 1;
  return (await bringIn(path, join(folder, `work-${count}`))).facts;
}

interface Row {
  readonly name: string;
  readonly video?: readonly string[];
  readonly audio?: readonly string[] | null;
  readonly extra?: readonly string[];
  readonly filters?: string;
  readonly size?: string;
  readonly expects: Partial<{ container: string; codec: string; sound: string | null; channels: number }>;
}
const mpeg2 = ['-c:v', 'mpeg2video', '-q:v', '5', '-g', '12'];
const rows: readonly Row[] = [
  {
    name: 'camcorder.mpg',
    video: [...mpeg2, '-bf', '2'],
    audio: ['-c:a', 'mp2'],
    extra: ['-f', 'vob'],
    expects: { container: 'mpegps', codec: 'mpeg2video', sound: 'mp2' },
  },
  {
    name: 'old.mpeg',
    video: ['-c:v', 'mpeg1video', '-q:v', '4'],
    audio: ['-c:a', 'mp2'],
    extra: ['-f', 'mpeg'],
    expects: { container: 'mpegps', codec: 'mpeg1video' },
  },
  {
    name: 'phone.3gp',
    size: '176x144',
    video: ['-c:v', 'h263', '-q:v', '5'],
    audio: ['-c:a', 'aac', '-ac', '1'],
    expects: { container: 'mp4', codec: 'h263', channels: 1 },
  },
  {
    name: 'disc.ts',
    video: mpeg2,
    audio: ['-c:a', 'ac3', '-ac', '6'],
    expects: { container: 'mpegts', codec: 'mpeg2video', sound: 'ac3', channels: 6 },
  },
  {
    name: 'card.avi',
    video: ['-c:v', 'mjpeg', '-q:v', '4'],
    audio: ['-c:a', 'pcm_s16le'],
    expects: { container: 'avi', codec: 'mjpeg', sound: 'pcm' },
  },
  {
    name: 'edit.mov',
    video: ['-c:v', 'prores_ks', '-profile:v', '0'],
    audio: ['-c:a', 'pcm_s16le'],
    expects: { container: 'mov', codec: 'prores' },
  },
  {
    name: 'share.m4v',
    video: ['-c:v', 'mpeg4', '-q:v', '4'],
    extra: ['-f', 'mp4'],
    expects: { container: 'mp4', codec: 'mpeg4' },
  },
  {
    name: 'page.webm',
    video: ['-c:v', 'libvpx', '-deadline', 'realtime', '-cpu-used', '8'],
    audio: ['-c:a', 'libopus'],
    extra: ['-live', '1', '-f', 'webm'],
    expects: { container: 'webm', codec: 'vp8', sound: 'opus' },
  },
  { name: 'silent.mkv', audio: null, expects: { container: 'mkv', codec: 'h264', sound: null } },
];

describe('what phones, cameras and browsers write is read', () => {
  it.each(rows)('$name', async ({ name, expects, ...options }) => {
    const facts = await look(await makeClip(folder, name, { seconds: 2, ...options }));
    const { container, codec, sound, channels } = expects;
    expect(facts.container).toBe(container);
    expect(facts.video?.codec).toBe(codec);
    if (sound !== undefined) expect(facts.sound?.codec ?? null).toBe(sound);
    if (channels !== undefined) expect(facts.sound?.channels).toBe(channels);
    expect(facts.durationUs ?? 0).toBeGreaterThan(1_800_000);
    expect(facts.durationUs ?? 0).toBeLessThan(2_300_000);
    expect(facts.video?.frameCount).toBeGreaterThanOrEqual(49);
    expect(facts.unread).toEqual([]);
    expect(facts.likeness).toMatch(/^[0-9a-f]{16}$/);
  });

  it('a bitmap, point by point', async () => {
    const path = join(folder, 'scan.bmp');
    const png = join(folder, 'scan.png');
    await sharp({ create: { width: 61, height: 40, channels: 3, background: { r: 200, g: 90, b: 30 } } })
      .png()
      .toFile(png);
    await execa('ffmpeg', ['-v', 'error', '-y', '-i', png, path]);
    const facts = await look(path);
    expect(facts).toMatchObject({
      kind: 'photo',
      container: 'bmp',
      photo: { codec: 'bmp', widthPx: 61, heightPx: 40 },
    });
    const { dominant } = await sharp(join(folder, `work-${count}`, 'preview.jpg')).stats();
    expect(dominant.r).toBeGreaterThan(190);
    expect(dominant.b).toBeLessThan(50);
  });
});

describe('what can be read is brought in', () => {
  it('a picture that is whole beside sound of an unknown kind; it is said that the sound is not', async () => {
    const path = await makeClip(folder, 'strange.mkv', { seconds: 2 });
    const bytes = await readFile(path);
    // The entry of the sound names a coding that nobody knows.
    bytes.write('A_ZZZ', bytes.indexOf('A_AAC'), 'latin1');
    await writeFile(path, bytes);
    const facts = await look(path);
    expect(facts).toMatchObject({ kind: 'video', sound: null, unread: ['sound'] });
    expect(facts.video?.frameCount).toBe(50);
  });
  it('sound that is whole beside a picture of an unknown kind', async () => {
    const path = await makeClip(folder, 'dark.mkv', { seconds: 2 });
    const bytes = await readFile(path);
    bytes.write('V_NONSENSE/ZZ/Z', bytes.indexOf('V_MPEG4/ISO/AVC'), 'latin1');
    await writeFile(path, bytes);
    expect(await look(path)).toMatchObject({ kind: 'sound', video: null, unread: ['picture'] });
  });
  it('a picture of which half is gone is refused as damaged', async () => {
    const path = await makeClip(folder, 'half.avi', { seconds: 4, video: ['-c:v', 'mpeg4', '-q:v', '3'] });
    const bytes = await readFile(path);
    bytes.fill(0x5a, Math.floor(bytes.length * 0.2), Math.floor(bytes.length * 0.8));
    await writeFile(path, bytes);
    const fault = await look(path).catch((error: unknown) => error);
    expect(fault).toBeInstanceOf(ApodixError);
    expect(['DAMAGED', 'TRUNCATED']).toContain((fault as ApodixError).code);
  });
});
