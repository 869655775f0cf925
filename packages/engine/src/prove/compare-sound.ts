import { findSoundOffset, type MediaFacts, type Plan } from '@apodix/core';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { readLoudness } from '../inspect/measure-decode.ts';
import { buildSoundChain } from '../make/video-args.ts';
import { buildToolFault } from '../process/fail.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';

const RATE_HZ = 8000;
const LONGEST_S = 120;
const MOST_OFFSET_US = 150_000;

export interface SoundComparison {
  readonly offsetUs: number | null;
  readonly expectedLufs: number | null;
  readonly expectedPeakDbtp: number | null;
}

/** Compares the sound of a made file with that of the cut source at the gain that was asked for. */
export async function compareSound(input: {
  readonly madePath: string;
  readonly plan: Exclude<Plan, { kind: 'photo' }>;
  readonly take: { readonly path: string; readonly facts: MediaFacts };
  readonly durationUs: number;
  readonly folder: string;
  readonly signal?: AbortSignal;
}): Promise<SoundComparison | null> {
  const { plan, take } = input;
  if (!plan.sound) return null;
  const { sound } = plan;
  const seekUs = Math.max(0, plan.keep.startUs - 3_000_000);
  const samples = Math.floor((input.durationUs * sound.rateHz) / 1e6);
  const chain = buildSoundChain(sound, (plan.keep.startUs - seekUs) / 1e6, samples);
  const [sourcePcm, madePcm] = [join(input.folder, 'source.pcm'), join(input.folder, 'made.pcm')];
  const small = `atrim=end=${LONGEST_S},aresample=${RATE_HZ},aformat=sample_fmts=s16:channel_layouts=mono`;
  const lines: string[] = [];
  const result = await runTool({
    tool: 'ffmpeg',
    args: [
      '-hide_banner',
      '-nostdin',
      '-loglevel',
      'info',
      '-nostats',
      ...(seekUs > 0 ? ['-ss', (seekUs / 1e6).toFixed(6)] : []),
      '-t',
      ((input.durationUs + 4_000_000) / 1e6).toFixed(3),
      ...buildInputArgs(take.path, take.facts.container),
      ...buildInputArgs(input.madePath, plan.container),
      '-filter_complex',
      `[0:a:0]${chain.join(',')},asplit=2[heard][long];[heard]ebur128=peak=true:framelog=verbose[loud];[long]${small}[source];[1:a:0]${small}[made]`,
      '-map',
      '[loud]',
      '-f',
      'null',
      '-',
      '-map',
      '[source]',
      '-f',
      's16le',
      '-y',
      sourcePcm,
      '-map',
      '[made]',
      '-f',
      's16le',
      '-y',
      madePcm,
    ],
    cwd: input.folder,
    ...(input.signal ? { signal: input.signal } : {}),
    onStderrLine: (line) => {
      lines.push(line);
      if (lines.length > 400) lines.splice(0, 200);
    },
  });
  if (result.exitCode !== 0) throw buildToolFault(result, 'PROOF_FAILED');
  const [source, made] = await Promise.all([readSamples(sourcePcm), readSamples(madePcm)]);
  const { loudnessLufs, truePeakDbtp } = readLoudness(lines.join('\n'));
  return {
    offsetUs: findSoundOffset(source, made, RATE_HZ, MOST_OFFSET_US)?.offsetUs ?? null,
    expectedLufs: loudnessLufs,
    expectedPeakDbtp: truePeakDbtp,
  };
}

async function readSamples(path: string): Promise<Int16Array> {
  const bytes = await readFile(path);
  return new Int16Array(
    bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length - (bytes.length % 2)),
  );
}
