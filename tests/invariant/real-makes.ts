import { ApodixError } from '@apodix/core';
import { inspectMedia, makeFile, type Inspected } from '@apodix/engine';
import { execa } from 'execa';
import fc from 'fast-check';
import { mkdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { makeClip, probe } from '../test-support/sample-media.ts';
import { judgeCase, planCase, type Case } from './check-plan.ts';
import { holds, type Figures } from './oracle.ts';
import { arbitraryCaseOf } from './situations.ts';

export interface RealTake {
  readonly path: string;
  readonly inspected: Inspected;
}

async function makeSound(folder: string, name: string, args: readonly string[]): Promise<string> {
  const path = join(folder, name);
  const tone = 'aevalsrc=0.3*sin(2*PI*(300+90*t)*t)|0.2*sin(2*PI*(500-40*t)*t):s=44100:d=1.7';
  await execa('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', tone, ...args, path]);
  return path;
}

async function makePicture(folder: string, name: string): Promise<string> {
  const noise = { type: 'gaussian' as const, mean: 128, sigma: 25 };
  const path = join(folder, name);
  await sharp({ create: { width: 480, height: 360, channels: 3, noise, background: '#888' } })
    .blur(1.2)
    .toFile(path);
  return path;
}

/**
 * Short takes of every kind: steady, of a wandering rate, twice as fast, held upright, silent; coded and
 * plain sound; pictures.
 */
export async function makeRealTakes(folder: string): Promise<RealTake[]> {
  const paths = [
    await makeClip(folder, 'steady.mov', { seconds: 1.2, rate: '30' }),
    await makeClip(folder, 'upright.mp4', { seconds: 0.9, rate: '25', size: '240x320', audio: null }),
    await makeClip(folder, 'wandering.mp4', {
      seconds: 1.3,
      rate: '30',
      filters: "select='not(eq(mod(n,7),3))',noise=alls=5:allf=t",
      extra: ['-fps_mode', 'vfr'],
    }),
    await makeClip(folder, 'fast.mp4', { seconds: 0.8, rate: '60', sound: 'sine=700:r=44100' }),
    await makeSound(folder, 'sides.wav', []),
    await makeSound(folder, 'one.mp3', ['-ac', '1', '-b:a', '96k']),
    await makePicture(folder, 'picture.jpg'),
    await makePicture(folder, 'drawing.png'),
  ];
  const takes: RealTake[] = [];
  for (const path of paths)
    takes.push({ path, inspected: await inspectMedia(path, { scratchFolder: folder }) });
  return takes;
}

/** Cases about one take that something is planned for; the same on every run. */
export function sampleCases({ inspected }: RealTake, count: number, seed: number): Case[] {
  const { facts, series } = inspected;
  return fc
    .sample(arbitraryCaseOf(facts, series), { numRuns: count * 12, seed })
    .filter((each) => {
      const { plan, refusals } = planCase(each);
      return plan !== null && refusals.length === 0;
    })
    .slice(0, count);
}

const CONTAINERS: Readonly<Record<string, string>> = {
  'mov,mp4,m4a,3gp,3g2,mj2': 'mp4',
  'matroska,webm': 'webm',
};
const CODECS: Readonly<Record<string, string>> = { pcm_s16le: 'pcm', pcm_s24le: 'pcm' };
/** The brand tells MOV from MP4, and the ending M4A: they share a demuxer. */
function nameContainer(format: string, path: string): string {
  const ending = path.slice(path.lastIndexOf('.') + 1);
  return ['mov', 'm4a'].includes(ending) ? ending : (CONTAINERS[format] ?? format);
}

/** Figures of a made file as FFmpeg and libvips themselves tell them. */
async function measure(path: string, kind: string): Promise<Figures> {
  const none = {
    videoCodec: null,
    soundCodec: null,
    durationUs: null,
    widthPx: null,
    heightPx: null,
    frameRate: null,
    hasSound: false,
    channels: null,
    sampleRateHz: null,
    loudnessLufs: null,
    truePeakDbtp: null,
  };
  const sizeBytes = (await stat(path)).size;
  if (path.endsWith('.pdf')) return { ...none, sizeBytes, container: 'pdf' };
  if (kind === 'photo') {
    const { format, width, height } = await sharp(path).metadata();
    return { ...none, sizeBytes, container: format, widthPx: width, heightPx: height };
  }
  const { streams, format } = await probe(path);
  const video = streams.find((stream) => stream.codec_type === 'video');
  const sound = streams.find((stream) => stream.codec_type === 'audio');
  const [numerator = 0, denominator = 1] = String(video?.avg_frame_rate ?? '')
    .split('/')
    .map(Number);
  const codec = String(sound?.codec_name ?? '');
  return {
    ...none,
    sizeBytes,
    container: nameContainer(format.format_name ?? '', path),
    durationUs: Number(format.duration) * 1e6,
    videoCodec: video ? String(video.codec_name) : null,
    widthPx: video ? Number(video.width) : null,
    heightPx: video ? Number(video.height) : null,
    frameRate: video ? numerator / denominator : null,
    hasSound: sound !== undefined,
    soundCodec: sound ? (CODECS[codec] ?? codec) : null,
    channels: sound ? Number(sound.channels) : null,
    sampleRateHz: sound ? Number(sound.sample_rate) : null,
  };
}

/**
 * Makes what a case plans and holds it against every *must* that the plan called met. Empty where all is
 * kept.
 */
export async function listBrokenPromises(take: RealTake, each: Case, folder: string): Promise<string[]> {
  const { plan } = planCase(each);
  if (!plan) throw new TypeError('Something was to be planned.');
  const musts = judgeCase(plan, each).filter((finding) => finding.severity === 'must');
  const isOpen = musts.some((finding) => finding.state === 'unknown');
  const told = (what: string) => `${take.path}: ${what}: ${JSON.stringify({ limits: each.limits, plan })}`;
  await mkdir(folder, { recursive: true });
  const outputPath = join(folder, plan.fileName);
  try {
    const made = await makeFile({
      sourcePath: take.path,
      ...take.inspected,
      plan,
      judge: { limits: each.limits, nameContext: null, slotId: each.slotId },
      outputPath,
    });
    const figures = await measure(outputPath, plan.kind);
    return musts
      .filter((finding) => finding.state === 'met')
      .flatMap((finding) => {
        const limit = each.limits.find(({ id }) => id === finding.limitId);
        const proven = made.findings.find((own) => own.of === 'limit' && own.limitId === finding.limitId);
        if (limit && holds(limit, figures) === false)
          return [told(`${limit.kind} is broken by ${JSON.stringify(figures)}`)];
        return proven?.state === 'met'
          ? []
          : [told(`${finding.kind} came out ${proven?.state ?? 'unjudged'}`)];
      });
  } catch (error) {
    const code = error instanceof ApodixError ? error.code : 'none';
    // What the plan left open may turn out not to be possible; that is told, and no file stays.
    if (code === 'LIMITS_CANNOT_BE_MET' && isOpen) return [];
    return [told(`${code}: ${String(error)} ${error instanceof ApodixError ? (error.detail ?? '') : ''}`)];
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
