import { bringIn } from '@apodix/engine';
import { execa } from 'execa';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Benchmark, Row } from '../benchmark.ts';
import { measureCpuSeconds } from '../cpu-time.ts';

interface Case {
  readonly name: string;
  readonly ending: string;
  readonly filter: string;
  readonly seconds: number;
  readonly codec: readonly string[];
  readonly sound: readonly string[];
  /** Processor time beside merely decoding that is allowed. */
  readonly goal: number;
}

const HLG_TAGS = ['-color_primaries', 'bt2020', '-color_trc', 'arib-std-b67', '-colorspace', 'bt2020nc'];
const cases: readonly Case[] = [
  {
    name: '4K HEVC HLG',
    ending: 'mov',
    filter: 'mandelbrot=s=3840x2160:r=30,noise=alls=4:allf=t',
    seconds: 5,
    codec: [
      ...[
        '-c:v',
        'libx265',
        '-preset',
        'ultrafast',
        '-crf',
        '22',
        '-pix_fmt',
        'yuv420p10le',
        '-tag:v',
        'hvc1',
      ],
      ...[
        '-x265-params',
        'log-level=none:keyint=30:transfer=arib-std-b67:colorprim=bt2020:colormatrix=bt2020nc',
      ],
      ...HLG_TAGS,
    ],
    sound: ['-c:a', 'aac'],
    goal: 1.5,
  },
  {
    name: '1080p60 H.264',
    ending: 'mp4',
    filter: 'mandelbrot=s=1920x1080:r=60,noise=alls=4:allf=t',
    seconds: 10,
    codec: ['-c:v', 'libx264', '-preset', 'veryfast', '-b:v', '20M', '-g', '60', '-pix_fmt', 'yuv420p'],
    sound: ['-c:a', 'aac'],
    goal: 1.8,
  },
  {
    name: '720p WebM',
    ending: 'webm',
    filter: 'mandelbrot=s=1280x720:r=30,noise=alls=4:allf=t',
    seconds: 30,
    codec: ['-c:v', 'libvpx-vp9', '-deadline', 'realtime', '-cpu-used', '8', '-b:v', '2500k', '-g', '120'],
    sound: ['-c:a', 'libopus'],
    goal: 2.2,
  },
];
const ROUNDS = 3;
const median = (values: readonly number[]) =>
  [...values].sort((left, right) => left - right)[Math.floor(values.length / 2)] ?? Number.NaN;

/** Seconds until there is something to see, and until it can be played; the rest is not waited for. */
async function timeEarly(path: string, folder: string): Promise<{ look: number; film: number }> {
  const stop = new AbortController();
  const startedAt = Date.now();
  const at = { look: Number.NaN, film: Number.NaN };
  await bringIn(path, folder, {
    signal: stop.signal,
    onEarly: ({ of }) => {
      if (of !== 'times') at[of] = Number(((Date.now() - startedAt) / 1000).toFixed(1));
      if (!Number.isNaN(at.look) && !Number.isNaN(at.film)) stop.abort();
    },
  }).catch(() => undefined);
  return at;
}

/** What bringing in costs beside merely decoding, in processor time; the intermediate is counted apart. */
export const inspectBenchmark: Benchmark = {
  name: 'inspect',
  isShort: true,
  run: async (_isLong, tell) => {
    const folder = await mkdtemp(join(tmpdir(), 'apodix-bench-'));
    const rows: Row[] = [];
    try {
      for (const each of cases) {
        const path = join(folder, `take.${each.ending}`);
        await execa('ffmpeg', [
          ...['-v', 'error', '-y', '-f', 'lavfi', '-i', each.filter],
          ...['-f', 'lavfi', '-i', 'aevalsrc=0.1*sin(2*PI*(300+9*t)*t)|0.1*sin(2*PI*(200+9*t)*t):s=48000'],
          ...['-t', String(each.seconds), ...each.codec, ...each.sound, path],
        ]);
        const [decoding, all, apart]: [number[], number[], number[]] = [[], [], []];
        for (let round = 0; round < ROUNDS; round += 1) {
          const out = join(folder, `work-${each.ending}-${round}`);
          const decode = ['-v', 'error', '-i', path, '-f', 'null', '-'];
          decoding.push(await measureCpuSeconds(() => execa('ffmpeg', decode)));
          all.push(await measureCpuSeconds(() => bringIn(path, out)));
          apart.push(
            await measureCpuSeconds(() => bringIn(path, `${out}-apart`, { hasIntermediate: false })),
          );
        }
        const early = await timeEarly(path, join(folder, `early-${each.ending}`));
        const row = {
          take: each.name,
          'decoding, CPU s': Number(median(decoding).toFixed(2)),
          'bringing in / decoding': Number((median(apart) / median(decoding)).toFixed(2)),
          'with intermediate': Number((median(all) / median(decoding)).toFixed(2)),
          goal: each.goal,
          'first pictures, s': early.look,
          'playable, s': early.film,
        };
        rows.push(row);
        tell(row);
      }
      const title = 'Bringing in (baseline: FFmpeg decoding the same file to null, processor time)';
      return { tables: [{ title, rows }] };
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  },
};
