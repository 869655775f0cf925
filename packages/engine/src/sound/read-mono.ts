import { ALIGN_RATE_HZ } from '@apodix/core';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';
import { sniffFile } from '../inspect/sniff-file.ts';

const BYTES = 4;

/**
 * The sound of a file as one side at 8 kHz, −1 to 1, from the start of the file on: what begins late begins
 * with silence. Throws where the file is refused or has no sound (`NOT_MEDIA`).
 */
export async function readMono(path: string, signal?: AbortSignal): Promise<Float32Array> {
  const { container } = await sniffFile(path);
  const parts: Buffer[] = [];
  await runTool({
    tool: 'ffmpeg',
    fault: 'NOT_MEDIA',
    args: [
      ...['-v', 'error', '-nostdin', ...buildInputArgs(path, container), '-map', '0:a:0'],
      ...['-af', `aresample=${ALIGN_RATE_HZ}:async=1:first_pts=0,aformat=channel_layouts=mono`],
      ...['-f', 'f32le', 'pipe:3'],
    ],
    pipes: [(data) => void parts.push(data)],
    ...(signal ? { signal } : {}),
  });
  const bytes = Buffer.concat(parts);
  const whole = new Uint8Array(bytes.subarray(0, bytes.length - (bytes.length % BYTES)));
  return new Float32Array(whole.buffer, 0, whole.length / BYTES);
}
