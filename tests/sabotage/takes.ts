import { execa } from 'execa';
import { join } from 'node:path';
import { BT709_ARGS } from '../test-support/bt709-args.ts';

const ffmpeg = (args: readonly string[]) => execa('ffmpeg', ['-v', 'error', '-y', ...args]);

/** Movement, edges and colors that are the same at no two places in time or space. */
const SCENE =
  "testsrc2=s=1280x720:r=25,crop=960:540:'160+140*sin(t*2)':'90+80*cos(t*1.3)',noise=alls=3:allf=t";
/** Two tones that swell apart on both sides, over a fixed noise. */
const LEFT = '0.25*sin(2*PI*(220+30*t)*t)*(0.6+0.4*sin(2*PI*1.3*t))+0.02*(random(0)-0.5)';
const RIGHT = '0.2*sin(2*PI*(310+21*t)*t)*(0.5+0.5*cos(2*PI*0.9*t))+0.02*(random(1)-0.5)';
export const TAKE_SECONDS = 6;
export const TAKE_RATE = 25;

const H264 = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '17', '-g', '25', '-pix_fmt', 'yuv420p'];

/** A take of six seconds with movement and two different sides of sound. */
export async function makeMovingTake(folder: string): Promise<string> {
  const path = join(folder, 'take.mp4');
  await ffmpeg([
    '-f',
    'lavfi',
    '-i',
    SCENE,
    '-f',
    'lavfi',
    '-i',
    `aevalsrc='${LEFT}|${RIGHT}':s=48000:d=${TAKE_SECONDS}`,
    '-t',
    String(TAKE_SECONDS),
    ...H264,
    ...BT709_ARGS,
    '-c:a',
    'aac',
    '-b:a',
    '160k',
    path,
  ]);
  return path;
}

/** Another scene with another sound, as long as the first. */
export async function makeOtherTake(folder: string): Promise<string> {
  const path = join(folder, 'other.mp4');
  await ffmpeg([
    '-f',
    'lavfi',
    '-i',
    'mandelbrot=s=960x540:r=25:end_scale=0.3:maxiter=120',
    '-f',
    'lavfi',
    '-i',
    `aevalsrc='0.3*sin(2*PI*(500-40*t)*t)|0.3*sin(2*PI*(150+9*t)*t)':s=48000:d=${TAKE_SECONDS}`,
    '-t',
    String(TAKE_SECONDS),
    ...H264,
    ...BT709_ARGS,
    '-c:a',
    'aac',
    path,
  ]);
  return path;
}

/** The same scene as a bright-range recording (hybrid log-gamma, BT.2020, ten bits). */
export async function makeBrightTake(folder: string): Promise<string> {
  const path = join(folder, 'bright.mov');
  const toHlg =
    'zscale=pin=bt709:tin=bt709:min=bt709:rin=limited:t=linear:npl=203,format=gbrpf32le,' +
    'zscale=p=bt2020:t=arib-std-b67:m=bt2020nc:r=limited:npl=203,format=yuv420p10le';
  await ffmpeg([
    '-i',
    join(folder, 'take.mp4'),
    '-t',
    '3',
    '-vf',
    toHlg,
    '-c:v',
    'libx265',
    '-preset',
    'ultrafast',
    '-x265-params',
    'log-level=none:colorprim=bt2020:transfer=arib-std-b67:colormatrix=bt2020nc:crf=14',
    '-color_primaries',
    'bt2020',
    '-color_trc',
    'arib-std-b67',
    '-colorspace',
    'bt2020nc',
    '-tag:v',
    'hvc1',
    '-c:a',
    'copy',
    path,
  ]);
  return path;
}

/** The same scene as a phone records it: every fifth frame a little late, and some left out. */
export async function makeWanderingTake(folder: string): Promise<string> {
  const path = join(folder, 'wandering.mp4');
  await ffmpeg([
    ...['-i', join(folder, 'take.mp4')],
    ...['-vf', "select='mod(n+11,23)',setpts='PTS+if(mod(N,5),0,0.006/TB)'", '-fps_mode', 'passthrough'],
    ...['-enc_time_base', '1/90000', ...H264, ...BT709_ARGS, '-c:a', 'copy', path],
  ]);
  return path;
}
