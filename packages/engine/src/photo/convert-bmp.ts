import { readFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { runTool } from '../process/run-tool.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';

const LIMITS = { seconds: 120, memoryBytes: 3_000_000_000, outputBytes: 2_000_000_000 };

/** A BMP as PNG with the same points; libvips does not read it. Throws `DAMAGED`. */
export function convertBmpToPng(path: string): Promise<Buffer> {
  return withTemporaryFolder(tmpdir(), async (folder) => {
    const out = join(folder, 'picture.png');
    await runTool({
      tool: 'ffmpeg',
      fault: 'DAMAGED',
      args: [
        ...[
          '-v',
          'error',
          '-xerror',
          '-err_detect',
          'explode',
          '-nostdin',
          '-protocol_whitelist',
          'file,pipe',
        ],
        ...['-f', 'bmp_pipe', '-i', `file:${resolve(path)}`, '-frames:v', '1'],
        ...['-pred', 'none', '-compression_level', '1', '-y', out],
      ],
      limits: LIMITS,
    });
    return readFile(out);
  });
}
