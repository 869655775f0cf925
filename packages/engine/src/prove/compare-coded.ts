import { containerTable, type ClarityEvidence, type MediaFacts, type Timeline } from '@apodix/core';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';
import { hashArgs, CodedPictureList } from '../inspect/probes/coded-pictures.ts';

/**
 * How many coded pictures of a file that takes the recording's stream over are byte for byte those of the
 * recording, at the places that the timeline gives them. `recodedCount` pictures were coded anew.
 */
export function compareCoded(
  source: readonly string[],
  made: readonly string[],
  timeline: Timeline,
  recodedCount: number,
): ClarityEvidence {
  let sameCount = 0;
  for (let output = 0; output < timeline.frameCount; output += 1) {
    const wanted = source[timeline.sourceFrames[output] ?? -1];
    if (wanted !== undefined && wanted === made[output]) sameCount += 1;
  }
  return {
    kind: 'taken-over',
    sameCount,
    wantedCount: timeline.frameCount - recodedCount,
    total: timeline.frameCount,
  };
}

/** A hash of every coded picture of a file, in the order of showing. Nothing is decoded. */
export async function hashPictures(path: string, facts: MediaFacts, signal?: AbortSignal): Promise<string[]> {
  if (containerTable[facts.container].demuxer === null || !facts.video) return [];
  const list = new CodedPictureList();
  const input = buildInputArgs(path, facts.container);
  await runTool({
    tool: 'ffmpeg',
    fault: 'PROOF_FAILED',
    args: [
      ...['-hide_banner', '-nostdin', '-v', 'error', ...input, '-map', `0:${facts.video.streamIndex}`],
      ...hashArgs,
      '-',
    ],
    onStdoutLine: (line) => list.addLine(line),
    ...(signal ? { signal } : {}),
  });
  return list.finish();
}
