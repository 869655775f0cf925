import type { Chain } from '../graph/filter-graph.ts';
import type { TakeComplexity } from '@apodix/core';
import { buildToolFault } from '../process/run-tool.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';

const COLUMN_US = 1_000_000;
/** Width of the small picture that is coded where there is no editing proxy to learn from. */
const SMALL_WIDTH = 320;

/** Chain and arguments that code a picture small and quickly, only to see what it costs. */
export function buildComplexityOutput(from: string, path: string): { chain: Chain; args: string[] } {
  return {
    chain: {
      from: [from],
      filters: [`scale=${SMALL_WIDTH}:-2:flags=fast_bilinear,format=yuv420p`],
      to: ['small'],
    },
    args: [
      '-map',
      '[small]',
      '-fps_mode',
      'passthrough',
      '-c:v',
      'libx264',
      '-preset',
      'ultrafast',
      '-crf',
      '23',
      '-g',
      '15',
      '-sc_threshold',
      '0',
      '-threads',
      '1',
      '-an',
      '-f',
      'mp4',
      '-y',
      path,
    ],
  };
}

/**
 * Reads from a quickly coded MP4 how many bits each second of it took. Its times are counted from the start
 * of the take.
 */
export async function readComplexity(path: string, signal?: AbortSignal): Promise<TakeComplexity | null> {
  const bits: number[] = [];
  const result = await runTool({
    fault: null,
    tool: 'ffprobe',
    args: [
      '-v',
      'error',
      '-of',
      'csv=p=0',
      '-select_streams',
      'v:0',
      '-show_entries',
      'packet=pts_time,size',
      ...buildInputArgs(path, 'mp4'),
    ],
    ...(signal ? { signal } : {}),
    onStdoutLine: (line) => {
      const [timeS, sizeBytes] = line.split(',').map(Number);
      if (timeS === undefined || sizeBytes === undefined || !(timeS >= 0) || !(sizeBytes >= 0)) return;
      const column = Math.floor((timeS * 1e6) / COLUMN_US);
      while (bits.length <= column) bits.push(0);
      bits[column] = (bits[column] ?? 0) + sizeBytes * 8;
    },
  });
  if (result.isCancelled) throw buildToolFault(result, 'MAKE_FAILED');
  if (bits.length > 1) fillLastColumn(bits);
  return bits.length === 0 ? null : { columnUs: COLUMN_US, bits };
}

/** The last column is rarely a whole second; it is taken to be as its neighbour. */
function fillLastColumn(bits: number[]): void {
  const last = bits.length - 1;
  bits[last] = Math.max(bits[last] ?? 0, bits[last - 1] ?? 0);
}
