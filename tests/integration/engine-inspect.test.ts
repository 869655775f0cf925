import { ApodixError } from '@apodix/core';
import { bringIn, inspectMedia } from '@apodix/engine';
import { mkdtemp, rm, stat, truncate, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { makeHlg, makeTurned, makeUneven } from '../test-support/odd-clips.ts';
import { makeClip, probe } from '../test-support/sample-media.ts';

let folder = '';
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-inspect-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const inspect = (path: string) => inspectMedia(path, { scratchFolder: folder });

describe('inspecting', () => {
  it('measures rate, size, sound and loudness of a plain clip', async () => {
    const { facts } = await inspect(
      await makeClip(folder, 'plain.mp4', { rate: '30000/1001', sound: 'sine=997:r=44100' }),
    );
    expect(facts.video).toMatchObject({
      codec: 'h264',
      widthPx: 320,
      heightPx: 240,
      frameRate: { numerator: 30_000, denominator: 1001 },
      rateKind: 'constant',
      bitDepth: 8,
      hdr: null,
      interlace: 'progressive',
    });
    expect(facts.sound).toMatchObject({ codec: 'aac', channels: 1, rateHz: 44_100 });
    // BS.1770-4: a 997 Hz tone at full scale in one channel measures −3.01 LKFS; FFmpeg's sine has an
    // amplitude of 1/8, 18.06 dB less.
    expect(facts.sound?.loudnessLufs).toBeCloseTo(-3.01 - 18.06, 0);
    expect(facts.sound?.truePeakDbtp).toBeGreaterThan(-19);
  });

  it('tells a variable rate by its frame times, whatever the header says', async () => {
    const { facts, series } = await inspect(await makeUneven(folder));
    expect(facts.video?.rateKind).toBe('variable');
    // Of seven frames the fourth is missing: 0, 40, 80, 160 ms …
    expect(series.frames?.timesUs.slice(0, 5)).toEqual([0, 40_000, 80_000, 160_000, 200_000]);
    expect(facts.video?.frameRate).toEqual({ numerator: 25, denominator: 1 });
  });

  it('stands a turned recording upright, counts anamorphic pixels, and sees tags', async () => {
    const { facts } = await inspect(await makeTurned(folder));
    expect(facts.video).toMatchObject({
      widthPx: 240,
      heightPx: 427,
      codedWidthPx: 320,
      color: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709' },
    });
    expect([facts.captureTime, facts.locationPresent]).toEqual(['2026-11-20T16:20:00Z', true]);
  });

  it('tells HDR by its transfer function and interlace by its fields', async () => {
    expect((await inspect(await makeHlg(folder))).facts.video).toMatchObject({
      hdr: 'hlg',
      bitDepth: 10,
      codec: 'hevc',
    });
    const fields = await makeClip(folder, 'fields.mp4', {
      seconds: 2,
      rate: '50',
      filters: 'tinterlace=mode=interleave_top,setfield=tff',
      video: ['-c:v', 'libx264', '-flags', '+ildct+ilme', '-x264opts', 'tff=1'],
    });
    expect((await inspect(fields)).facts.video?.interlace).toBe('top-field-first');
    // Scaled together, half pictures could not be taken apart any more.
    const copied = async (path: string) =>
      (
        await inspectMedia(path, {
          scratchFolder: folder,
          intermediate: {
            path: join(folder, `${Math.random()}.mp4`),
            chooseSize: () => ({ widthPx: 160, heightPx: 120 }),
          },
        })
      ).intermediatePath !== null;
    expect([await copied(fields), await copied(await makeClip(folder, 'whole.mp4', { seconds: 1 }))]).toEqual(
      [false, true],
    );
  });

  it('makes a proxy, a strip and peaks in one pass', async () => {
    const path = await makeClip(folder, 'bring.mov', { size: '1280x720', seconds: 3 });
    const { series, files } = await bringIn(path, join(folder, 'bring'));
    expect([60, 61]).toContain(series.peaks?.peaks.length);
    expect(Math.max(...(series.peaks?.peaks ?? []))).toBeCloseTo(0.125, 1);
    const strip = await probe(files.strip ?? '');
    expect([strip.streams[0]?.width, strip.streams[0]?.height]).toEqual([128 * 40, 72]);
    const proxy = await probe(files.proxy ?? '');
    expect(proxy.streams[0]).toMatchObject({ codec_name: 'h264', width: 854, nb_read_frames: '75' });
  });
});

describe('refusing', () => {
  const code = async (path: string) =>
    ((await inspect(path).catch((error: unknown) => error)) as ApodixError).code;

  it('empty, text, list, script, cut off and foreign files by their bytes', async () => {
    const write = async (name: string, content: string | Buffer) => {
      await writeFile(join(folder, name), content);
      return join(folder, name);
    };
    const clip = await makeClip(folder, 'tail.mp4');
    await truncate(clip, Math.floor((await stat(clip)).size * 0.6));
    expect(await code(await write('empty.mp4', ''))).toBe('EMPTY_FILE');
    expect(await code(await write('words.mp4', 'just some words'))).toBe('TEXT_NOT_MEDIA');
    expect(await code(await write('list.mp4', '#EXTM3U\nhttp://127.0.0.1:1/x.ts\n'))).toBe(
      'PLAYLIST_NOT_MEDIA',
    );
    expect(await code(await write('script.mp4', "ffconcat version 1.0\nfile '/etc/hostname'\n"))).toBe(
      'PLAYLIST_NOT_MEDIA',
    );
    expect(
      await code(
        await write(
          'noise.mp4',
          Buffer.from(Array.from({ length: 900 }, (_, index) => (index * 7919) % 251)),
        ),
      ),
    ).toBe('NOT_MEDIA');
    expect(await code(clip)).toBe('TRUNCATED');
  });

  it('a fast-start recording whose end is missing', async () => {
    const path = await makeClip(folder, 'faststart.mp4', { seconds: 6, extra: ['-movflags', '+faststart'] });
    await truncate(path, Math.floor((await stat(path)).size * 0.5));
    expect(['TRUNCATED', 'DAMAGED']).toContain(await code(path));
  });

  it('opens nothing that a media file points to', async () => {
    const secret = await makeClip(folder, 'secret.mp4');
    const script = join(folder, 'pointer.mov');
    await writeFile(
      script,
      Buffer.concat([
        Buffer.from([0, 0, 0, 20]),
        Buffer.from('ftypqt  \0\0\0\0qt  '),
        Buffer.from(`ffconcat version 1.0\nfile '${secret}'\n`),
      ]),
    );
    expect(['TRUNCATED', 'DAMAGED', 'NOT_MEDIA']).toContain(await code(script));
  });
});
