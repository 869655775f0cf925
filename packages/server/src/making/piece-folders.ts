import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { TakeRow } from '../data/models.ts';

/** What was not used for so long is made anew when it is wanted. */
const UNUSED_MS = 24 * 3_600_000;

interface PieceFile {
  readonly path: string;
  readonly size: number;
  readonly usedMs: number;
}

/** Folders of coded pieces, one for each recording. Anything in them may be removed at any time. */
export class PieceFolders {
  readonly #root: string;
  readonly #mostBytes: number;

  constructor(root: string, mostBytes: number) {
    this.#root = root;
    this.#mostBytes = mostBytes;
  }

  of(takeSha256: string): string {
    if (!/^[0-9a-f]{64}$/.test(takeSha256)) throw new TypeError('Not a SHA-256.');
    return join(this.#root, takeSha256);
  }

  /**
   * Removes those of recordings that are gone, what was not used for a day, and then the longest unused until
   * no more than is allowed is left. Gives the bytes that are left.
   */
  async tidy(now = new Date()): Promise<number> {
    for (const sha256 of await readNames(this.#root))
      if ((await TakeRow.count({ where: { sha256, removedAt: null } })) === 0)
        await rm(join(this.#root, sha256), { recursive: true, force: true });
    const files = (await this.#listFiles()).sort((one, other) => one.usedMs - other.usedMs);
    let left = files.reduce((sum, file) => sum + file.size, 0);
    for (const file of files) {
      if (file.usedMs >= now.getTime() - UNUSED_MS && left <= this.#mostBytes) break;
      await rm(file.path, { force: true });
      left -= file.size;
    }
    return left;
  }

  async #listFiles(): Promise<PieceFile[]> {
    const files: PieceFile[] = [];
    for (const sha256 of await readNames(this.#root))
      for (const key of await readNames(join(this.#root, sha256)))
        for (const name of await readNames(join(this.#root, sha256, key))) {
          const path = join(this.#root, sha256, key, name);
          const found = await stat(path).catch(() => null);
          if (found) files.push({ path, size: found.size, usedMs: found.mtimeMs });
        }
    return files;
  }
}

const readNames = (folder: string) => readdir(folder).catch((): string[] => []);
