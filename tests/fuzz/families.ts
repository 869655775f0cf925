import { execa } from 'execa';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { makeClip } from '../test-support/sample-media.ts';

const tiny = { seconds: 0.4, rate: '10', size: '64x48' };
const sound = (codec: readonly string[]) => ({ ...tiny, video: ['-vn'], audio: codec });

/** A small whole file of every family that is read. */
export async function makeFamilies(folder: string): Promise<Readonly<Record<string, Buffer>>> {
  const clips: Readonly<Record<string, Parameters<typeof makeClip>[2]>> = {
    'a.mp4': tiny,
    'a.mov': { ...tiny, video: ['-c:v', 'mjpeg'], audio: ['-c:a', 'pcm_s16le'] },
    'a.mkv': tiny,
    'a.webm': { ...tiny, video: ['-c:v', 'libvpx', '-deadline', 'realtime'], audio: ['-c:a', 'libopus'] },
    'a.avi': { ...tiny, video: ['-c:v', 'mpeg4'], audio: ['-c:a', 'libmp3lame'] },
    'a.ts': tiny,
    'a.mpg': {
      ...tiny,
      rate: '25',
      video: ['-c:v', 'mpeg2video'],
      audio: ['-c:a', 'mp2'],
      extra: ['-f', 'vob'],
    },
    'a.wav': sound(['-c:a', 'pcm_s16le']),
    'a.aiff': sound(['-c:a', 'pcm_s16be']),
    'a.flac': sound(['-c:a', 'flac']),
    'a.mp3': sound(['-c:a', 'libmp3lame']),
    'a.m4a': sound(['-c:a', 'aac']),
    'a.ogg': sound(['-c:a', 'libopus']),
  };
  const files: Record<string, Buffer> = {};
  for (const [name, options] of Object.entries(clips))
    files[name] = await readFile(await makeClip(folder, name, options));
  const picture = () =>
    sharp({
      create: {
        width: 48,
        height: 32,
        channels: 3,
        background: '#a63',
        noise: { type: 'gaussian', mean: 128, sigma: 30 },
      },
    });
  files['a.jpg'] = await picture().jpeg().toBuffer();
  files['a.png'] = await picture().png().toBuffer();
  files['a.webp'] = await picture().webp().toBuffer();
  files['a.tiff'] = await picture().tiff().toBuffer();
  files['a.gif'] = await picture().gif().toBuffer();
  files['a.avif'] = await picture().avif().toBuffer();
  const png = join(folder, 'b.png');
  await picture().png().toFile(png);
  await execa('ffmpeg', ['-v', 'error', '-y', '-i', png, join(folder, 'b.bmp')]);
  files['a.bmp'] = await readFile(join(folder, 'b.bmp'));
  return files;
}
