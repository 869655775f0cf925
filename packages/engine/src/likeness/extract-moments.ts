import type { Comparison, VideoPlan } from '@apodix/core';
import { join } from 'node:path';
import { isWitness, type Witnesses } from './witnesses.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';

/** One frame of a hard second, as recorded and as made, both at the size of the made file. */
export interface Moment {
  readonly atUs: number;
  readonly ssim: number;
  readonly sourcePath: string;
  readonly madePath: string;
}

const JPEG = ['-q:v', '2', '-huffman', 'optimal', '-f', 'image2', '-update', '1', '-y'] as const;

/** Takes the frame pairs of the worst seconds out, so that a person can see what the figures mean. */
export async function extractMoments(input: {
  readonly madePath: string;
  readonly plan: VideoPlan;
  readonly witnesses: Witnesses;
  readonly comparison: Comparison;
  readonly folder: string;
  readonly signal?: AbortSignal;
}): Promise<Moment[]> {
  const { plan, witnesses, folder } = input;
  const rate = plan.cut.frameRate.numerator / plan.cut.frameRate.denominator;
  const findFile = (frame: number) => witnesses.files.find((file) => isWitness(file, frame));
  const moments: Moment[] = [];
  for (const [index, second] of (input.comparison.picture?.worstSeconds ?? []).entries()) {
    const from = Math.ceil((second.atUs / 1e6) * rate);
    const frame = Array.from({ length: Math.ceil(rate) }, (_, step) => from + step)
      .filter((each) => each < plan.cut.frameCount)
      .find(findFile);
    const file = frame === undefined ? undefined : findFile(frame);
    if (frame === undefined || !file) continue;
    const place = Array.from({ length: frame - file.first }, (_, step) => file.first + step).filter((each) =>
      isWitness(file, each),
    ).length;
    const [sourcePath, madePath] = [
      join(folder, `moment-${index}-source.jpg`),
      join(folder, `moment-${index}-made.jpg`),
    ];
    const seekS = Math.max(0, (frame - 0.5) / rate);
    const runs = [
      { args: [...buildInputArgs(file.path, 'mkv'), '-vf', `select='eq(n,${place})'`], path: sourcePath },
      { args: ['-ss', seekS.toFixed(6), ...buildInputArgs(input.madePath, plan.container)], path: madePath },
    ];
    await Promise.all(
      runs.map((run) =>
        runTool({
          fault: 'PROOF_FAILED',
          tool: 'ffmpeg',
          args: ['-hide_banner', '-nostdin', '-v', 'error', ...run.args, '-frames:v', '1', ...JPEG, run.path],
          ...(input.signal ? { signal: input.signal } : {}),
        }),
      ),
    );
    moments.push({ atUs: Math.round((frame * 1e6) / rate), ssim: second.ssim, sourcePath, madePath });
  }
  return moments;
}
