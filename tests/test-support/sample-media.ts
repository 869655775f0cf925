import { execa } from 'execa';
import { join } from 'node:path';
import sharp from 'sharp';
import { BT709_ARGS } from './bt709-args.ts';

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
  // FFmpeg's quick way from planes to R, G, B is off by up to nine levels in the dark.
  const exact = 'scale=flags=bicubic+accurate_rnd+full_chroma_int+full_chroma_inp:in_color_matrix=bt709';
  const filters = `select='eq(n,${frame})',${exact},format=gbrp,scale=${widthPx}:-1:flags=area,format=rgb24`;
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

/** Notes of ever other pitch at ever other distances, so that each moment is like itself alone. */
export const SCORE =
  "aevalsrc='0.3*sin(2*PI*(300+140*sin(0.37*floor(t*2.3+sin(t*1.9))^2))*t)" +
  "*exp(-5*mod(t*2.3+sin(t*1.9),1))':s=48000";

/** A hall with somebody in it: soft light, skin, cloth, wood, a white sheet. */
const HALL = `<svg xmlns="http://www.w3.org/2000/svg" width="760" height="400">
<defs><radialGradient id="l" cx=".5" cy=".35" r=".8"><stop offset="0" stop-color="#e9e6dd"/><stop offset=".6" stop-color="#b9b5ad"/><stop offset="1" stop-color="#77746e"/></radialGradient>
<linearGradient id="f" x1="0" x2="0" y1="0" y2="1"><stop offset="0" stop-color="#8a6848"/><stop offset="1" stop-color="#4d3826"/></linearGradient>
<radialGradient id="s" cx=".4" cy=".35" r=".8"><stop offset="0" stop-color="#d8a98d"/><stop offset="1" stop-color="#9a6a52"/></radialGradient></defs>
<rect width="760" height="400" fill="url(#l)"/><rect y="290" width="760" height="110" fill="url(#f)"/>
<rect x="90" y="70" width="110" height="150" rx="6" fill="#3f5d4d"/><rect x="102" y="82" width="86" height="126" fill="#7f9a8a"/>
<path d="M330 300 Q340 180 400 175 Q460 180 470 300z" fill="#33456b"/><circle cx="400" cy="130" r="38" fill="url(#s)"/>
<path d="M362 125 Q365 85 400 88 Q437 86 439 125 Q420 100 362 125z" fill="#2b211d"/>
<rect x="330" y="250" width="150" height="26" rx="4" fill="#7d4a2a"/><rect x="520" y="150" width="120" height="90" fill="#efeee9"/>
<circle cx="580" cy="330" r="34" fill="#9c3b35"/></svg>`;

/** A film of a hall with the camera drifting, lit and exposed by FFmpeg filters, tagged as phones do. */
export async function makeHall(
  folder: string,
  name: string,
  seconds: number,
  filters: string,
  score = RISING_TONE,
): Promise<string> {
  const [still, path] = [join(folder, `${name}.png`), join(folder, name)];
  await sharp(Buffer.from(HALL)).png().toFile(still);
  const drift = "crop=640:360:'60+50*sin(n/21)':'20+18*cos(n/17)'";
  const toVideo =
    'scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int,format=yuv420p';
  const picture = ['-loop', '1', '-r', '25', '-t', String(seconds), '-i', still];
  const sound = ['-f', 'lavfi', '-i', `${score}:d=${seconds}`];
  const coder = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '18', '-g', '50', ...BT709_ARGS];
  await execa('ffmpeg', [
    ...['-v', 'error', '-y', ...picture, ...sound, '-vf', `${drift},${filters},${toVideo}`],
    ...[...coder, '-c:a', 'aac', '-b:a', '96k', '-shortest', path],
  ]);
  return path;
}

const NUMBER_BITS = 10;

/** A filter that draws each frame's number, counted from `first`, as ten black or white fields on top. */
export const drawNumbers = (first = 0) =>
  `geq=lum='if(lt(Y,H/8),if(mod(floor((N+${first})/pow(2,floor(X*${NUMBER_BITS}/W))),2),235,16),lum(X,Y))'` +
  `:cb='if(lt(Y,H/16),128,cb(X,Y))':cr='if(lt(Y,H/16),128,cr(X,Y))'`;

/** The numbers that `drawNumbers` drew, of every frame of a file whose top edge is still there. */
export async function readNumbers(path: string): Promise<number[]> {
  const filters = `crop=iw:ih/16:0:ih/32,scale=${NUMBER_BITS}:1:flags=area,format=gray`;
  const { stdout } = await execa(
    'ffmpeg',
    ['-v', 'error', '-i', path, '-vf', filters, '-f', 'rawvideo', '-'],
    {
      encoding: 'buffer',
      maxBuffer: 1 << 26,
    },
  );
  return Array.from({ length: stdout.length / NUMBER_BITS }, (_, frame) =>
    Array.from({ length: NUMBER_BITS }, (__, bit) =>
      (stdout[frame * NUMBER_BITS + bit] ?? 0) > 127 ? 2 ** bit : 0,
    ).reduce((sum, each) => sum + each, 0),
  );
}

/** How often a file's left side crosses zero in each hundredth of a second. */
export async function countCrossings(path: string): Promise<number[]> {
  const { stdout } = await execa(
    'ffmpeg',
    ['-v', 'error', '-i', path, '-af', 'pan=mono|c0=c0,aresample=48000', '-f', 'f32le', '-'],
    { encoding: 'buffer', maxBuffer: 1 << 28 },
  );
  const samples = new Float32Array(Uint8Array.from(stdout).buffer);
  return Array.from({ length: Math.floor(samples.length / 480) }, (_, window) => {
    let count = 0;
    for (let at = window * 480 + 1; at < (window + 1) * 480; at += 1)
      if ((samples[at] ?? 0) >= 0 !== (samples[at - 1] ?? 0) >= 0) count += 1;
    return count;
  });
}

/** Mean volume of a stretch of a file in dB, as FFmpeg measures it. */
export async function readVolume(path: string, startS: number, lengthS: number): Promise<number> {
  const part = ['-ss', String(startS), '-t', String(lengthS), '-i', path];
  const { stderr } = await execa('ffmpeg', [
    '-hide_banner',
    ...part,
    '-af',
    'volumedetect',
    '-f',
    'null',
    '-',
  ]);
  return Number(/mean_volume: (-?[\d.]+) dB/.exec(stderr)?.[1] ?? NaN);
}
