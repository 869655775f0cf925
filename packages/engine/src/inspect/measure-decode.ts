import type { ContainerId } from '@apodix/core';
import { buildToolFault } from '../process/fail.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';

export interface DecodeOutput {
  /** Complex filter graph pieces that take `[picture]` and/or `[sound]` and end in named pads. */
  readonly graph: readonly string[];
  readonly args: readonly string[];
  /** Further files to read, from input 1 on, and the folder that names without one are written to. */
  readonly inputs?: readonly string[];
  readonly folder?: string;
  /** The graph takes the picture only. */
  readonly isPictureOnly?: boolean;
}

export interface DecodeMeasurement {
  readonly frameCount: number;
  readonly loudnessLufs: number | null;
  readonly loudnessRangeLu: number | null;
  readonly truePeakDbtp: number | null;
  readonly interlace: 'progressive' | 'top-field-first' | 'bottom-field-first' | 'mixed';
  readonly errorLines: number;
}

export interface DecodeInput {
  readonly path: string;
  readonly container: ContainerId;
  readonly pictureIndex: number | null;
  readonly soundIndex: number | null;
  /** Further outputs of the same pass (proxy, strip, peaks). */
  readonly output?: DecodeOutput;
  readonly seconds: number;
  /** The header says that pictures are whole; nothing is measured against it. */
  readonly isInterlaceKnown?: boolean;
  readonly signal?: AbortSignal;
  readonly onTimeUs?: (timeUs: number) => void;
}

/**
 * Decodes a file from start to end once and measures: frames, loudness and true peak (ITU-R BS.1770-4 through
 * FFmpeg's ebur128), field order (idet). Throws where FFmpeg gives up; error lines of a decode that went on are counted.
 */
export async function measureDecode(input: DecodeInput): Promise<DecodeMeasurement> {
  const graph: string[] = [];
  const maps: string[] = [];
  if (input.pictureIndex !== null) {
    graph.push(
      `[0:${input.pictureIndex}]${input.isInterlaceKnown ? 'null' : 'idet'}${input.output ? ',split=2[counted][picture]' : '[counted]'}`,
    );
    maps.push('-map', '[counted]', '-fps_mode', 'passthrough', '-f', 'null', '-');
  }
  if (input.soundIndex !== null) {
    graph.push(
      `[0:${input.soundIndex}]ebur128=peak=true:framelog=verbose${input.output && !input.output.isPictureOnly ? ',asplit=2[heard][sound]' : '[heard]'}`,
    );
    maps.push('-map', '[heard]', '-f', 'null', '-');
  }
  if (input.output) graph.push(...input.output.graph);
  let frameCount = 0;
  let errorLines = 0;
  const summary: string[] = [];
  const result = await runTool({
    tool: 'ffmpeg',
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
      '-filter_complex',
      graph.join(';'),
      ...maps,
      ...(input.output?.args ?? []),
    ],
    limits: { seconds: input.seconds },
    ...(input.output?.folder === undefined ? {} : { cwd: input.output.folder }),
    ...(input.signal ? { signal: input.signal } : {}),
    onStdoutLine: (line) => {
      const frame = /^frame=\s*(\d+)/.exec(line);
      if (frame) frameCount = Number(frame[1]);
      const time = /^out_time_us=(\d+)/.exec(line);
      if (time) input.onTimeUs?.(Number(time[1]));
    },
    onStderrLine: (line) => {
      if (/Error while decoding|corrupt|Invalid data|concealing|error while decoding/i.test(line))
        errorLines += 1;
      summary.push(line);
      if (summary.length > 400) summary.splice(0, 200);
    },
  });
  if (result.exitCode !== 0) throw buildToolFault(result, 'DAMAGED');
  const text = summary.join('\n');
  return { frameCount, ...readLoudness(text), interlace: readInterlace(text), errorLines };
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
