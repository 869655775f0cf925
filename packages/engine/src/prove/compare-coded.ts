import { containerTable, type ClarityEvidence, type MediaFacts, type Timeline } from '@apodix/core';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';

/**
 * Only slices of a picture (ITU-R H.264 table 7-1, types 1 to 5): parameter sets and notes may stand
 * elsewhere.
 */
const SLICES_ONLY = 'filter_units=pass_types=1-5';

/**
 * How many coded pictures of a file that takes the recording's stream over are byte for byte those of the
 * recording, at the places that the timeline gives them. Nothing is decoded.
 */
export async function compareCoded(input: {
  readonly takePath: string;
  readonly take: MediaFacts;
  readonly madePath: string;
  readonly made: MediaFacts;
  readonly timeline: Timeline;
  /** Pictures that were coded anew. */
  readonly recodedCount: number;
  readonly signal?: AbortSignal;
}): Promise<ClarityEvidence> {
  const { timeline } = input;
  const [source, made] = await Promise.all([
    hashPictures(input.takePath, input.take, input.signal),
    hashPictures(input.madePath, input.made, input.signal),
  ]);
  let sameCount = 0;
  for (let output = 0; output < timeline.frameCount; output += 1) {
    const wanted = source[timeline.sourceFrames[output] ?? -1];
    if (wanted !== undefined && wanted === made[output]) sameCount += 1;
  }
  return {
    kind: 'taken-over',
    sameCount,
    wantedCount: timeline.frameCount - input.recodedCount,
    total: timeline.frameCount,
  };
}

/** A hash of every coded picture, in the order of showing. */
async function hashPictures(path: string, facts: MediaFacts, signal?: AbortSignal): Promise<string[]> {
  const rows: { time: number; hash: string }[] = [];
  if (containerTable[facts.container].demuxer === null) return [];
  await runTool({
    tool: 'ffmpeg',
    fault: 'PROOF_FAILED',
    args: [
      '-hide_banner',
      '-nostdin',
      '-v',
      'error',
      ...buildInputArgs(path, facts.container),
      '-map',
      `0:${facts.video?.streamIndex ?? 0}`,
      '-c',
      'copy',
      '-bsf:v',
      `h264_mp4toannexb,${SLICES_ONLY}`,
      '-f',
      'framehash',
      '-hash',
      'md5',
      '-',
    ],
    onStdoutLine: (line) => {
      if (line.startsWith('#')) return;
      const fields = line.split(',').map((field) => field.trim());
      rows.push({ time: Number(fields[2]), hash: fields.at(-1) ?? '' });
    },
    ...(signal ? { signal } : {}),
  });
  return rows.sort((left, right) => left.time - right.time).map((row) => row.hash);
}
