import { execa } from 'execa';
import { join } from 'node:path';

export interface ClipOptions {
  readonly seconds?: number;
  readonly rate?: string;
  readonly size?: string;
  readonly video?: readonly string[];
  readonly audio?: readonly string[] | null;
  readonly filters?: string;
  readonly sound?: string;
  readonly extra?: readonly string[];
}

/** As loud as FFmpeg's sine, and like itself at one moment only, so that its place can be told. */
const RISING_TONE = 'aevalsrc=0.125*sin(2*PI*(300+60*t)*t):s=48000';

/**
 * A moving, grainy clip with a rising tone, made by FFmpeg directly. Every frame carries its own number as a
 * block pattern.
 */
export async function makeClip(folder: string, name: string, options: ClipOptions = {}): Promise<string> {
  const {
    seconds = 4,
    rate = '25',
    size = '320x240',
    video = ['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '16'],
    audio = ['-c:a', 'aac', '-b:a', '96k'],
    filters = 'noise=alls=12:allf=t',
    sound = RISING_TONE,
    extra = [],
  } = options;
  const path = join(folder, name);
  const inputs = [
    '-f',
    'lavfi',
    '-i',
    `testsrc2=s=${size}:r=${rate}:d=${seconds}`,
    ...(audio === null ? [] : ['-f', 'lavfi', '-i', `${sound}:d=${seconds}`]),
  ];
  await execa('ffmpeg', [
    '-v',
    'error',
    '-y',
    ...inputs,
    '-vf',
    filters,
    '-pix_fmt',
    'yuv420p',
    ...video,
    ...(audio ?? []),
    ...extra,
    path,
  ]);
  return path;
}

/**
 * Every frame of a file as FFmpeg decodes it, as 32×32 luma: an outside witness of which frames a cut kept.
 */
export async function readFrameThumbs(path: string): Promise<Uint8Array[]> {
  const { stdout } = await execa(
    'ffmpeg',
    ['-v', 'error', '-i', path, '-vf', 'scale=32:32:flags=area,format=gray', '-f', 'rawvideo', '-'],
    { encoding: 'buffer', maxBuffer: 1 << 28 },
  );
  const frames: Uint8Array[] = [];
  for (let at = 0; at + 1024 <= stdout.length; at += 1024) frames.push(stdout.subarray(at, at + 1024));
  return frames;
}

export interface OutsideProbe {
  readonly streams: readonly Record<string, unknown>[];
  readonly format: Record<string, string>;
}

/** What ffprobe itself says of a file. */
export async function probe(path: string): Promise<OutsideProbe> {
  const { stdout } = await execa('ffprobe', [
    '-v',
    'error',
    '-of',
    'json',
    '-show_streams',
    '-show_format',
    '-count_frames',
    path,
  ]);
  return JSON.parse(stdout) as OutsideProbe;
}

/** One frame of a file at a width, as FFmpeg shows it: R, G, B. */
export async function readFramePoints(path: string, frame: number, widthPx: number): Promise<Uint8Array> {
  const filters = `select='eq(n,${frame})',scale=${widthPx}:-1:flags=area:in_color_matrix=bt709,format=rgb24`;
  const { stdout } = await execa(
    'ffmpeg',
    ['-v', 'error', '-i', path, '-vf', filters, '-frames:v', '1', '-f', 'rawvideo', '-'],
    { encoding: 'buffer', maxBuffer: 1 << 28 },
  );
  return Uint8Array.from(stdout);
}

/** Level of some tones in a file's left side, in dB: by Goertzel's recurrence over all of it. */
export async function readToneLevels(path: string, frequencies: readonly number[]): Promise<number[]> {
  const rateHz = 8000;
  const { stdout } = await execa(
    'ffmpeg',
    ['-v', 'error', '-i', path, '-af', `pan=mono|c0=c0,aresample=${rateHz}`, '-f', 'f32le', '-'],
    { encoding: 'buffer', maxBuffer: 1 << 28 },
  );
  const samples = new Float32Array(Uint8Array.from(stdout).buffer);
  return frequencies.map((hz) => {
    const turn = 2 * Math.cos((2 * Math.PI * hz) / rateHz);
    let [one, two] = [0, 0];
    for (const sample of samples) [one, two] = [sample + turn * one - two, one];
    const power = one * one + two * two - turn * one * two;
    return 10 * Math.log10(power / samples.length ** 2 + 1e-14);
  });
}
