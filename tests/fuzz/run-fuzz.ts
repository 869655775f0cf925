import { ApodixError } from '@apodix/core';
import { inspectMedia } from '@apodix/engine';
import { rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { makeFamilies } from './families.ts';
import { createRandom } from '../../packages/core/src/test-support/piece-scene.ts';
import { mutations } from './mutate.ts';

export interface FuzzResult {
  readonly tried: number;
  readonly read: number;
  /** Refusals by their code. */
  readonly refused: Readonly<Record<string, number>>;
  /** What should not happen: another error, a hang, or a refusal without words. */
  readonly wrong: readonly string[];
  readonly longestMs: number;
}

const HANG_MS = 60_000;
/** The built engine has a class of its own for the same faults. */
const isFault = (error: unknown): error is ApodixError =>
  error instanceof Error && error.name === ApodixError.name;

/**
 * Spoils small files of every family by numbers and looks at each: it is read, or refused with a code, plain
 * words and a next step; nothing else. `parts` at once.
 */
export async function runFuzz(
  folder: string,
  count: number,
  first = 0,
  parts = 2,
  onDone: (done: number) => void = () => undefined,
  inspect: typeof inspectMedia = inspectMedia,
): Promise<FuzzResult> {
  const families = Object.entries(await makeFamilies(folder));
  const ways = Object.entries(mutations);
  let [next, read, longestMs] = [0, 0, 0];
  const refused: Record<string, number> = {};
  const wrong: string[] = [];
  async function work(): Promise<void> {
    for (let index = next; index < count; index = next) {
      next += 1;
      const seed = first + index;
      const [name, bytes] = families[seed % families.length] ?? ['', Buffer.alloc(0)];
      const [way, mutate] = ways[Math.floor(seed / families.length) % ways.length] ?? [
        '',
        (all: Buffer) => all,
      ];
      const path = join(folder, `spoiled-${seed}-${name}`);
      await writeFile(path, mutate(bytes, createRandom(seed)));
      const label = `${seed}: ${name}, ${way}`;
      const startedAt = performance.now();
      try {
        await inspect(path, { scratchFolder: folder, signal: AbortSignal.timeout(HANG_MS) });
        read += 1;
      } catch (error) {
        if (!isFault(error)) wrong.push(`${label}: ${String(error)}`);
        else if (['UNEXPECTED', 'CANCELLED', 'TOOL_MISSING'].includes(error.code) || !error.toJSON().next)
          wrong.push(`${label}: ${error.code} ${error.detail ?? ''}`);
        else if (/\/tmp\/|spoiled|\bat 0x/.test(error.detail ?? ''))
          wrong.push(`${label}: tells ${error.detail}`);
        else refused[error.code] = (refused[error.code] ?? 0) + 1;
      }
      longestMs = Math.max(longestMs, performance.now() - startedAt);
      await rm(path, { force: true });
      onDone(read + wrong.length + Object.values(refused).reduce((sum, each) => sum + each, 0));
    }
  }
  await Promise.all(Array.from({ length: parts }, work));
  return { tried: count, read, refused, wrong, longestMs };
}
