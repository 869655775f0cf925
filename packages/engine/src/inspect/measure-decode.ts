import type { ContainerId } from '@apodix/core';
import { splitPicture, splitSound, writeGraph, type Chain } from '../graph/filter-graph.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';
import { settleAll } from '../process/settle-all.ts';
import type { Probe } from './probes/probe.ts';

/** Further outputs of a decode pass: chains that take `picture` and/or `sound` and end in named pads. */
export interface DecodeOutput {
  readonly chains: readonly Chain[];
  readonly args: readonly string[];
  /** Which of the two it takes. */
  readonly takes: readonly ('picture' | 'sound')[];
  /** Further files to read, from input 1 on, and the folder that names without one are written to. */
  readonly inputs?: readonly string[];
  readonly folder?: string;
  /** Whole frames are brought to another size or look. */
  readonly isShaping?: boolean;
}

export interface DecodeMeasurement {
  readonly frameCount: number;
  readonly loudnessLufs: number | null;
  readonly loudnessRangeLu: number | null;
  readonly truePeakDbtp: number | null;
  readonly interlace: 'progressive' | 'top-field-first' | 'bottom-field-first' | 'mixed';
  /** Lines in which the decoder told of an error. */
  readonly errorCount: number;
}

export interface DecodeInput {
  readonly path: string;
  readonly container: ContainerId;
  readonly pictureIndex: number | null;
  readonly soundIndex: number | null;
  /** What else is measured along the way; the first output of one that takes the picture has every frame. */
  readonly probes?: readonly Probe[];
  readonly output?: DecodeOutput;
  readonly seconds: number;
  /** The header says that pictures are whole; nothing is measured against it. */
  readonly isInterlaceKnown?: boolean;
  readonly signal?: AbortSignal;
  readonly onTimeUs?: (timeUs: number) => void;
}

const ERROR_LINE =
  /Error while decoding|corrupt|Invalid data|concealing|error while decoding|missing picture/i;

/**
 * Decodes a file from start to end once and measures: frames, loudness and true peak (ITU-R BS.1770-4 through
 * FFmpeg's ebur128), field order (idet), and whatever the probes are for; picture and sound each in a process
 * of its own where no output needs both. Throws where FFmpeg gives up; error lines of a decode that went on
 * are counted.
 */
export async function measureDecode(input: DecodeInput): Promise<DecodeMeasurement> {
  if (input.pictureIndex === null || input.soundIndex === null || input.output?.takes.includes('sound'))
    return decode(input);
  // Side by side: filters of one process share a thread, and the sound would hold up the picture.
  const { path, container, seconds, signal } = input;
  const of = (isSound: boolean) => input.probes?.filter(({ takes }) => (takes === 'sound') === isSound) ?? [];
  const [picture, sound] = await settleAll([
    decode({ ...input, soundIndex: null, probes: of(false) }),
    decode({
      ...{ path, container, seconds, pictureIndex: null, soundIndex: input.soundIndex, probes: of(true) },
      ...(signal ? { signal } : {}),
    }),
  ]);
  const { loudnessLufs, loudnessRangeLu, truePeakDbtp } = sound;
  const errorCount = picture.errorCount + sound.errorCount;
  return { ...picture, loudnessLufs, loudnessRangeLu, truePeakDbtp, errorCount };
}

async function decode(input: DecodeInput): Promise<DecodeMeasurement> {
  const { chains, maps, pipes } = buildDecodeGraph(input);
  let frameCount = 0;
  let errorCount = 0;
  const summary: string[] = [];
  await runTool({
    tool: 'ffmpeg',
    fault: 'DAMAGED',
    args: [
      '-hide_banner',
      '-nostdin',
      '-loglevel',
      'info',
      '-progress',
      'pipe:1',
      '-nostats',
      ...buildInputArgs(input.path, input.container),
      ...(input.output?.inputs ?? []),
      // What only measures is done sooner without waiting for one another.
      ...(input.output?.isShaping ? [] : ['-filter_complex_threads', '1']),
      '-filter_complex',
      writeGraph(chains),
      ...maps,
      ...(input.output?.args ?? []),
    ],
    limits: { seconds: input.seconds },
    pipes,
    ...(input.output?.folder === undefined ? {} : { cwd: input.output.folder }),
    ...(input.signal ? { signal: input.signal } : {}),
    onStdoutLine: (line) => {
      const frame = /^frame=\s*(\d+)/.exec(line);
      if (frame) frameCount = Number(frame[1]);
      const time = /^out_time_us=(\d+)/.exec(line);
      if (time) input.onTimeUs?.(Number(time[1]));
    },
    onStderrLine: (line) => {
      if (ERROR_LINE.test(line)) errorCount += 1;
      summary.push(line);
      if (summary.length > 400) summary.splice(0, 200);
    },
  });
  const text = summary.join('\n');
  return { frameCount, ...readLoudness(text), interlace: readInterlace(text), errorCount };
}

interface DecodeGraph {
  readonly chains: readonly Chain[];
  readonly maps: readonly string[];
  readonly pipes: readonly ((data: Buffer) => void)[];
}

const FIRST_PIPE = 3;

function buildDecodeGraph(input: DecodeInput): DecodeGraph {
  const chains: Chain[] = [];
  const maps: string[] = [];
  const pipes: ((data: Buffer) => void)[] = [];
  const probes = input.probes ?? [];
  const takenBy = (takes: 'picture' | 'sound') => {
    const own = probes.flatMap((probe, index) => (probe.takes === takes ? [`${takes}${index}`] : []));
    return [...own, ...(input.output?.takes.includes(takes) ? [takes] : [])];
  };
  if (input.pictureIndex !== null) {
    const before = input.isInterlaceKnown ? [] : ['idet'];
    // A probe sees every frame, so they can be counted there.
    const isCounted = probes.some((probe) => probe.takes === 'picture');
    const pads = [...(isCounted ? [] : ['counted']), ...takenBy('picture')];
    chains.push(splitPicture(`0:${input.pictureIndex}`, pads, before));
    if (!isCounted) maps.push('-map', '[counted]', '-fps_mode', 'passthrough', '-f', 'null', '-');
  }
  if (input.soundIndex !== null) {
    const before = ['ebur128=peak=true:framelog=verbose'];
    chains.push(splitSound(`0:${input.soundIndex}`, ['heard', ...takenBy('sound')], before));
    maps.push('-map', '[heard]', '-f', 'null', '-');
  }
  probes.forEach((probe, index) => {
    chains.push(...probe.buildChains(`${probe.takes}${index}`));
    for (const output of probe.outputs) {
      const from = output.pad === null ? `0:${input.pictureIndex}` : `[${output.pad}]`;
      maps.push('-map', from, ...output.args, `pipe:${FIRST_PIPE + pipes.length}`);
      pipes.push(output.onData);
    }
  });
  if (input.output) chains.push(...input.output.chains);
  return { chains, maps, pipes };
}
export function readLoudness(
  text: string,
): Pick<DecodeMeasurement, 'loudnessLufs' | 'loudnessRangeLu' | 'truePeakDbtp'> {
  const from = text.lastIndexOf('Integrated loudness:');
  const tail = from < 0 ? '' : text.slice(from);
  const loudness = Number(/\bI:\s+(-?[\d.]+|-?inf) LUFS/.exec(tail)?.[1]);
  const range = Number(/\bLRA:\s+(-?[\d.]+) LU/.exec(tail)?.[1]);
  const peak = Number(/Peak:\s+(-?[\d.]+|-?inf) dBFS/.exec(tail)?.[1]);
  const isSilent = !Number.isFinite(loudness) || loudness <= -70;
  return {
    loudnessLufs: isSilent ? null : loudness,
    loudnessRangeLu: isSilent || !Number.isFinite(range) ? null : range,
    truePeakDbtp: Number.isFinite(peak) ? peak : null,
  };
}

function readInterlace(text: string): DecodeMeasurement['interlace'] {
  const match = [
    ...text.matchAll(
      /Multi frame detection: TFF:\s*(\d+) BFF:\s*(\d+) Progressive:\s*(\d+) Undetermined:\s*(\d+)/g,
    ),
  ].at(-1);
  const [top = 0, bottom = 0, progressive = 0] = (match ?? []).slice(1).map(Number);
  const fields = top + bottom;
  if (fields <= progressive || fields < 8) return 'progressive';
  if (top > bottom * 4) return 'top-field-first';
  return bottom > top * 4 ? 'bottom-field-first' : 'mixed';
}
