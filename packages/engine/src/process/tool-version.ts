import { runTool } from './run-tool.ts';

let version: Promise<string> | null = null;

/** The first line that FFmpeg says of itself; asked once. Throws `TOOL_MISSING` where it is not there. */
export function readToolVersion(): Promise<string> {
  version ??= runTool({ tool: 'ffmpeg', args: ['-version'], fault: 'UNEXPECTED' }).then(
    ({ stdout }) => stdout.split('\n')[0] ?? '',
  );
  version.catch(() => (version = null));
  return version;
}
