import { createHash } from 'node:crypto';
import { mkdir, readdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Row } from '../benchmark.ts';

/** What a row rests on beside its case: everything that makes, proves and measures. */
const CODE = [
  'packages/core/src',
  'packages/engine/src',
  'bench/make/make-video.bench.ts',
  'tests/test-support/naive.ts',
];

/**
 * Rows that were measured stay in a folder, each by its case and by the code that it was measured with, so
 * that a table that takes hours can be made in parts: what is there with the same code is told again, with
 * the time at which it was measured.
 */
export class KeptRows {
  readonly #folder: string;
  readonly #code: string;

  private constructor(folder: string, code: string) {
    this.#folder = folder;
    this.#code = code;
  }

  /** By the code as it is now; run from the project's folder. */
  static async open(folder: string): Promise<KeptRows> {
    await mkdir(folder, { recursive: true });
    return new KeptRows(folder, await hashCode());
  }

  /** The row of this case, if it is there already; whatever makes it another case belongs to `key`. */
  async find(key: unknown): Promise<Row | null> {
    const text = await readFile(this.#nameRow(key), 'utf8').catch(() => null);
    return text === null ? null : (JSON.parse(text) as Row);
  }

  async keep(key: unknown, row: Row): Promise<void> {
    const path = this.#nameRow(key);
    await writeFile(`${path}.part`, `${JSON.stringify(row, null, 2)}\n`);
    await rename(`${path}.part`, path);
  }

  #nameRow(key: unknown): string {
    return join(this.#folder, `${hash(JSON.stringify([key, this.#code]))}.json`);
  }
}

const hash = (text: string) => createHash('sha256').update(text).digest('hex').slice(0, 16);

async function hashCode(): Promise<string> {
  const names = await Promise.all(CODE.map(listFiles));
  const files = names.flat().filter((name) => !/\.test\.ts$/.test(name));
  const texts = await Promise.all(files.sort().map((name) => readFile(name, 'utf8')));
  return hash(JSON.stringify(texts));
}

async function listFiles(path: string): Promise<string[]> {
  if (path.endsWith('.ts')) return [path];
  const entries = await readdir(path, { recursive: true, withFileTypes: true });
  return entries.filter((entry) => entry.isFile()).map((entry) => join(entry.parentPath, entry.name));
}
