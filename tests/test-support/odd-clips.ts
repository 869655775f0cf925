import { execa } from 'execa';
import { join } from 'node:path';
import { makeClip } from './sample-media.ts';

/** Of seven frames the fourth is missing, whatever the header says of the rate. */
export const makeUneven = (folder: string): Promise<string> =>
  makeClip(folder, 'variable.mp4', {
    filters: "select='not(eq(mod(n,7),3))',noise=alls=5:allf=t",
    extra: ['-fps_mode', 'vfr'],
  });

/** Points that are wider than high, turned by a quarter, with the time and the place of recording. */
export async function makeTurned(folder: string): Promise<string> {
  const tags = ['creation_time=2026-11-20T16:20:00Z', 'location=+52.5-001.2/'];
  const color = ['-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709'];
  const standing = await makeClip(folder, 'sar.mp4', {
    filters: 'setsar=4/3',
    extra: [...tags.flatMap((tag) => ['-metadata', tag]), ...color],
  });
  const path = join(folder, 'turned.mp4');
  const turn = ['-c', 'copy', '-map_metadata', '0', '-metadata:s:v', 'rotate=90'];
  await execa('ffmpeg', ['-v', 'error', '-y', '-i', standing, ...turn, path]);
  return path;
}

/** A second of hybrid log-gamma in ten bits, as phones record it. */
export const makeHlg = (folder: string): Promise<string> =>
  makeClip(folder, 'hlg.mov', {
    seconds: 1,
    video: [
      ...['-c:v', 'libx265', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p10le', '-tag:v', 'hvc1'],
      ...['-x265-params', 'log-level=none:colorprim=bt2020:transfer=arib-std-b67:colormatrix=bt2020nc'],
      ...['-color_primaries', 'bt2020', '-color_trc', 'arib-std-b67', '-colorspace', 'bt2020nc'],
    ],
  });

/** Grain that takes bytes, with a keyframe every second, so that short pieces of it can be taken anywhere. */
export const makeKeyed = (folder: string, name: string, seconds: number): Promise<string> =>
  makeClip(folder, name, {
    ...{ seconds, size: '640x360', filters: 'noise=alls=6:allf=t' },
    video: ['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '16', '-g', '25'],
  });
