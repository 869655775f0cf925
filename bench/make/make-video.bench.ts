import { buildPlan, createPlainRecipe, Limit, type VideoPlan } from '@apodix/core';
import { bringIn, inspectMedia, makeFile, planIntermediate } from '@apodix/engine';
import { execa } from 'execa';
import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Benchmark } from '../benchmark.ts';

interface Case {
  readonly name: string;
  readonly filter: string;
  readonly codec: readonly string[];
  readonly maxBytes: number;
  readonly seconds: number;
  readonly isShort: boolean;
}

const H264 = ['-c:v', 'libx264', '-preset', 'veryfast', '-b:v', '16M', '-pix_fmt', 'yuv420p'];
const HLG = ['-c:v', 'libx265', '-preset', 'ultrafast', '-crf', '20', '-pix_fmt', 'yuv420p10le', '-x265-params', 'log-level=none:colorprim=bt2020:transfer=arib-std-b67:colormatrix=bt2020nc', '-color_primaries', 'bt2020', '-color_trc', 'arib-std-b67', '-colorspace', 'bt2020nc'];
const cases: readonly Case[] = [
  { name: '1080 lines, moving, grain', filter: 'mandelbrot=s=1920x1080:r=30,noise=alls=4:allf=t', codec: H264, maxBytes: 2_500_000, seconds: 6, isShort: true },
  { name: '1080 lines, tight', filter: 'mandelbrot=s=1920x1080:r=30,noise=alls=4:allf=t', codec: H264, maxBytes: 700_000, seconds: 6, isShort: false },
  { name: '720 lines, drawn, 60 a second', filter: 'testsrc2=s=1280x720:r=60', codec: H264, maxBytes: 1_500_000, seconds: 8, isShort: true },
  { name: 'dark stage, grain', filter: 'testsrc2=s=1920x1080:r=25,eq=brightness=-0.35:contrast=0.5,noise=alls=10:allf=t', codec: H264, maxBytes: 2_000_000, seconds: 6, isShort: false },
  { name: '4K HEVC HLG', filter: 'mandelbrot=s=3840x2160:r=25,noise=alls=3:allf=t', codec: HLG, maxBytes: 2_000_000, seconds: 4, isShort: true },
];

async function time<T>(work: () => Promise<T>): Promise<{ seconds: number; result: T }> {
  const startedAt = performance.now();
  const result = await work();
  return { seconds: (performance.now() - startedAt) / 1000, result };
}

async function measureSsim(path: string, reference: string): Promise<number> {
  const { stderr } = await execa('ffmpeg', ['-hide_banner', '-i', path, '-i', reference, '-lavfi', '[0:v][1:v]ssim', '-f', 'null', '-']);
  return Number(/All:([\d.]+)/.exec(stderr)?.[1]);
}

async function runCase(each: Case, folder: string): Promise<Record<string, string | number>> {
  const source = join(folder, 'source.mp4');
  await execa('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', each.filter, '-t', String(each.seconds), ...each.codec, source]);
  const limits = [Limit.parse({ id: 'size', kind: 'file-size', maxBytes: each.maxBytes }), Limit.parse({ id: 'format', kind: 'format', wanted: ['mp4'] }), Limit.parse({ id: 'lines', kind: 'picture-edge', edge: 'lines', max: 720 })];
  const judge = { limits, nameContext: null };
  const plan = (facts: Awaited<ReturnType<typeof inspectMedia>>['facts'], analysis: Awaited<ReturnType<typeof inspectMedia>>['analysis']) => {
    const frames = { timesUs: analysis.frameTimesUs, endUs: analysis.frameEndUs };
    return { frames, plan: buildPlan({ facts, recipe: createPlainRecipe(), limits, frames, takeName: 'source.mp4', nameContext: null }).plan as VideoPlan };
  };
  const cold = await time(async () => {
    const { facts, analysis } = await inspectMedia(source, { scratchFolder: folder });
    return makeFile({ sourcePath: source, facts, ...plan(facts, analysis), judge, outputPath: join(folder, 'cold.mp4') });
  });
  const brought = await bringIn(source, join(folder, 'working'));
  const size = brought.facts.video ? planIntermediate(brought.facts.video, brought.facts.durationUs ?? 0) : null;
  const working = { ...(brought.files.intermediate && size ? { intermediate: { path: brought.files.intermediate, ...size } } : {}) };
  const planned = plan(brought.facts, brought.analysis);
  const warm = await time(() => makeFile({ sourcePath: source, facts: brought.facts, ...planned, judge, working, outputPath: join(folder, 'warm.mp4') }));
  const made = warm.result;
  const { widthPx, heightPx } = planned.plan;
  const isHdr = brought.facts.video?.hdr !== null;
  const convert = isHdr ? `zscale=w=${widthPx}:h=${heightPx}:f=bicubic,zscale=t=linear:npl=203,format=gbrpf32le,zscale=p=bt709,tonemap=hable:desat=0,zscale=t=bt709:m=bt709:r=tv,format=yuv420p` : `scale=${widthPx}:${heightPx}:flags=bicubic`;
  const bps = String(Math.floor((made.facts.sizeBytes * 8) / each.seconds));
  const naive = await time(async () => {
    for (const pass of ['1', '2']) await execa('nice', ['-n', '10', 'ffmpeg', '-v', 'error', '-y', '-i', source, '-vf', convert, '-c:v', 'libx264', '-preset', 'medium', '-b:v', bps, '-pass', pass, '-passlogfile', join(folder, 'naive'), '-an', ...(pass === '1' ? ['-f', 'null', '-'] : [join(folder, 'naive.mp4')])]);
  });
  const reference = join(folder, 'reference.mkv');
  await execa('ffmpeg', ['-v', 'error', '-y', '-i', source, '-vf', convert, '-c:v', 'ffv1', reference]);
  const [own, other] = [await measureSsim(made.path, reference), await measureSsim(join(folder, 'naive.mp4'), reference)];
  return {
    case: each.name, 'size of limit, %': Number(((100 * made.facts.sizeBytes) / each.maxBytes).toFixed(1)), 'naive, s': Number(naive.seconds.toFixed(1)), 'cold / naive': Number((cold.seconds / naive.seconds).toFixed(2)), 'warm / naive': Number((warm.seconds / naive.seconds).toFixed(2)),
    SSIM: Number(own.toFixed(4)), 'SSIM − naive': Number((own - other).toFixed(4)), 'naive bytes, %': Number(((100 * (await stat(join(folder, 'naive.mp4'))).size) / made.facts.sizeBytes).toFixed(1)),
  };
}

/** Making a video against the naive way: FFmpeg, two passes of x264 `medium` at the same size and bytes, no proof. */
export const makeVideoBenchmark: Benchmark = {
  name: 'make-video',
  isShort: true,
  run: async (isLong) => {
    const rows: Record<string, string | number>[] = [];
    for (const each of cases.filter((one) => isLong || one.isShort)) {
      const folder = await mkdtemp(join(tmpdir(), 'apodix-bench-'));
      try {
        rows.push(await runCase(each, folder));
      } finally {
        await rm(folder, { recursive: true, force: true });
      }
    }
    return { tables: [{ title: 'Making against naive two-pass (baseline: FFmpeg, x264 medium, same size and bytes, no proof)', rows }] };
  },
};
