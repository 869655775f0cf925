import { execa } from 'execa';
import { stat } from 'node:fs/promises';
import { join } from 'node:path';

/** What somebody would write down for FFmpeg: two passes of x264 `medium`. */
export interface NaiveInput {
  readonly path: string;
  /** FFmpeg's filters for the picture. */
  readonly filters: string;
  /** Bits a second of the sound; 0 for none. */
  readonly soundBps: number;
  readonly seconds: number;
  /** Bytes that the file is to have. */
  readonly bytes: number;
  readonly folder: string;
  readonly outputPath: string;
}

/** Both passes, as they are timed; the file misses the bytes by up to 3 %. Throws what FFmpeg ends with. */
export async function codeNaive(input: NaiveInput): Promise<void> {
  const bps = findNaiveBps(input);
  await runPass(input, '1', bps);
  await runPass(input, '2', bps);
}

/** Off by no more than this share both files have the same bytes. */
const EVEN_SHARE = 0.002;
const MOST_TRIES = 3;

/**
 * The second pass again, not timed, until the file has the bytes that it is compared at: the first try had up
 * to 2.7 % more. Gives them back. Throws what FFmpeg ends with.
 */
export async function evenNaive(input: NaiveInput): Promise<number> {
  let bps = findNaiveBps(input);
  let bytes = (await stat(input.outputPath)).size;
  for (let tries = 0; tries < MOST_TRIES; tries += 1) {
    if (Math.abs(bytes / input.bytes - 1) <= EVEN_SHARE) break;
    bps += Math.round(((input.bytes - bytes) * 8) / input.seconds);
    await runPass(input, '2', bps);
    bytes = (await stat(input.outputPath)).size;
  }
  return bytes;
}

const findNaiveBps = ({ bytes, seconds, soundBps }: NaiveInput) =>
  Math.floor((bytes * 8) / seconds) - soundBps;

async function runPass(
  { path, filters, soundBps, folder, outputPath }: NaiveInput,
  pass: '1' | '2',
  bps: number,
): Promise<void> {
  const sound = soundBps > 0 ? ['-c:a', 'aac', '-b:a', String(soundBps)] : ['-an'];
  await execa('nice', [
    ...['-n', '10', 'ffmpeg', '-v', 'error', '-y', '-i', path, '-vf', filters],
    ...['-c:v', 'libx264', '-preset', 'medium', '-b:v', String(bps)],
    ...['-pass', pass, '-passlogfile', join(folder, 'naive')],
    ...(pass === '1' ? ['-an', '-f', 'null', '-'] : [...sound, outputPath]),
  ]);
}
