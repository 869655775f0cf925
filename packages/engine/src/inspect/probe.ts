import { ApodixError, type ContainerId } from '@apodix/core';
import { z } from 'zod';
import { buildToolFault } from '../process/run-tool.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';

const SideData = z.looseObject({
  side_data_type: z.string().optional(),
  rotation: z.coerce.number().optional(),
});

const RawStream = z.looseObject({
  index: z.number(),
  codec_type: z.string().optional(),
  codec_name: z.string().optional(),
  profile: z.string().optional(),
  level: z.number().optional(),
  width: z.number().optional(),
  height: z.number().optional(),
  pix_fmt: z.string().optional(),
  sample_aspect_ratio: z.string().optional(),
  field_order: z.string().optional(),
  color_primaries: z.string().optional(),
  color_transfer: z.string().optional(),
  color_space: z.string().optional(),
  color_range: z.string().optional(),
  avg_frame_rate: z.string().optional(),
  r_frame_rate: z.string().optional(),
  start_time: z.coerce.number().optional(),
  duration: z.coerce.number().optional(),
  bit_rate: z.coerce.number().optional(),
  sample_rate: z.coerce.number().optional(),
  channels: z.number().optional(),
  channel_layout: z.string().optional(),
  disposition: z.looseObject({ attached_pic: z.number().optional() }).optional(),
  tags: z.record(z.string(), z.string()).optional(),
  side_data_list: z.array(SideData).optional(),
});
export type RawStream = z.infer<typeof RawStream>;

const RawProbe = z.object({
  streams: z.array(RawStream).default([]),
  format: z.looseObject({
    start_time: z.coerce.number().optional(),
    duration: z.coerce.number().optional(),
    bit_rate: z.coerce.number().optional(),
    tags: z.record(z.string(), z.string()).optional(),
  }),
});
export type RawProbe = z.infer<typeof RawProbe>;

export interface PacketSpan {
  /** Presentation times of the shown packets in microseconds as stored, ascending. */
  readonly timesUs: readonly number[];
  /** Those of them that can be decoded on their own. */
  readonly keyTimesUs: readonly number[];
  readonly endUs: number;
  readonly sizeBytes: number;
}

const PROBE_SECONDS = 120;

/** Reads headers with ffprobe. Throws `TRUNCATED`, `DAMAGED` or `NOT_MEDIA`. */
export async function probeStreams(
  path: string,
  container: ContainerId,
  signal?: AbortSignal,
): Promise<RawProbe> {
  const result = await runTool({
    fault: null,
    tool: 'ffprobe',
    args: ['-v', 'error', '-of', 'json', '-show_streams', '-show_format', ...buildInputArgs(path, container)],
    limits: { seconds: PROBE_SECONDS, memoryBytes: 3_000_000_000 },
    ...(signal ? { signal } : {}),
  });
  if (result.exitCode !== 0) {
    if (/moov atom not found/i.test(result.stderrTail))
      throw new ApodixError('TRUNCATED', { detail: 'The index is missing.' });
    throw buildToolFault(
      result,
      /End of file|EBML|truncat/i.test(result.stderrTail) ? 'TRUNCATED' : 'DAMAGED',
    );
  }
  const parsed = RawProbe.safeParse(JSON.parse(result.stdout || '{}'));
  if (!parsed.success) throw new ApodixError('NOT_MEDIA', { cause: parsed.error });
  return parsed.data;
}

/**
 * Reads the time stamps of all packets of all streams without decoding; packets that an edit list hides are
 * left out.
 */
export async function probePackets(
  path: string,
  container: ContainerId,
  signal?: AbortSignal,
): Promise<Map<number, PacketSpan>> {
  const spans = new Map<
    number,
    { timesUs: number[]; keyTimesUs: number[]; endUs: number; sizeBytes: number; lastUs: number }
  >();
  const result = await runTool({
    fault: null,
    tool: 'ffprobe',
    args: [
      '-v',
      'error',
      '-of',
      'compact=p=0:nk=0',
      '-show_entries',
      'packet=stream_index,pts_time,dts_time,duration_time,size,flags',
      ...buildInputArgs(path, container),
    ],
    limits: { seconds: PROBE_SECONDS * 5, memoryBytes: 3_000_000_000 },
    ...(signal ? { signal } : {}),
    onStdoutLine: (line) => {
      const fields = Object.fromEntries(line.split('|').map((field) => field.split('=') as [string, string]));
      if (fields.flags?.includes('D')) return;
      const timeS = Number(fields.pts_time ?? fields.dts_time);
      const index = Number(fields.stream_index);
      const span = spans.get(index) ?? { timesUs: [], keyTimesUs: [], endUs: 0, sizeBytes: 0, lastUs: 0 };
      spans.set(index, span);
      span.sizeBytes += Number(fields.size) || 0;
      const timeUs = Number.isFinite(timeS) ? Math.round(timeS * 1e6) : span.endUs;
      span.timesUs.push(timeUs);
      if (fields.flags?.includes('K')) span.keyTimesUs.push(timeUs);
      span.endUs = Math.max(span.endUs, timeUs + Math.round((Number(fields.duration_time) || 0) * 1e6));
    },
  });
  if (result.isCancelled || result.isTimedOut || result.isMissing) throw buildToolFault(result, 'DAMAGED');
  return new Map(
    [...spans].map(([index, span]) => [
      index,
      {
        timesUs: span.timesUs.sort((left, right) => left - right),
        keyTimesUs: span.keyTimesUs.sort((left, right) => left - right),
        endUs: span.endUs,
        sizeBytes: span.sizeBytes,
      },
    ]),
  );
}
