import { KeyedLock } from '@apodix/core';
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { link, mkdir, open, readdir, rm, stat, utimes } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { AdoptOptions, BlobStore } from './blob-store.ts';

/**
 * Blobs as files on one disk: `blobs/ab/abcdef…`. A blob appears under its name whole or not at all (fsync,
 * then a second name). Its time of change is when it was adopted last.
 */
export class DiskBlobStore implements BlobStore {
  readonly #folder: string;
  /** Adopting and removing the same bytes happen one after another. */
  readonly #lock = new KeyedLock();

  constructor(folder: string) {
    this.#folder = folder;
  }

  async adopt(path: string, options: AdoptOptions = {}): Promise<{ sha256: string; sizeBytes: number }> {
    const hash = createHash('sha256');
    await pipeline(createReadStream(path, { highWaterMark: 1 << 20 }), hash);
    const sha256 = hash.digest('hex');
    const { size } = await stat(path);
    await this.#lock.run(sha256, async () => {
      if (!(await this.#renew(sha256))) await this.#place(path, sha256);
      if (!options.isKept) await rm(path, { force: true });
    });
    return { sha256, sizeBytes: size };
  }

  /** Counts as adopted now; false where it is not there. */
  async #renew(sha256: string): Promise<boolean> {
    const now = new Date();
    return utimes(this.pathOf(sha256), now, now).then(
      () => true,
      () => false,
    );
  }

  /** Gives whole bytes their name; others may have just done the same. */
  async #place(path: string, sha256: string): Promise<void> {
    const handle = await open(path, 'r+');
    await handle.sync().finally(() => handle.close());
    const target = this.pathOf(sha256);
    await mkdir(join(target, '..'), { recursive: true });
    await link(path, target).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'EEXIST') throw error;
    });
    await this.#renew(sha256);
    await syncFolder(join(target, '..'));
  }

  pathOf(sha256: string): string {
    if (!/^[0-9a-f]{64}$/.test(sha256)) throw new TypeError('Not a SHA-256.');
    return join(this.#folder, sha256.slice(0, 2), sha256);
  }

  async has(sha256: string): Promise<boolean> {
    return (await stat(this.pathOf(sha256)).catch(() => null))?.isFile() ?? false;
  }

  async removeUnused(sha256: string, graceMs: number, isUsed: () => Promise<boolean>): Promise<boolean> {
    return this.#lock.run(sha256, async () => {
      const there = await stat(this.pathOf(sha256)).catch(() => null);
      if (!there || Date.now() - there.mtimeMs < graceMs || (await isUsed())) return false;
      await rm(this.pathOf(sha256), { force: true });
      return true;
    });
  }

  async list(): Promise<string[]> {
    const folders = await readdir(this.#folder).catch(() => []);
    const names = await Promise.all(folders.map((folder) => readdir(join(this.#folder, folder))));
    return names.flat().filter((name) => /^[0-9a-f]{64}$/.test(name));
  }
}

async function syncFolder(path: string): Promise<void> {
  const handle = await open(path, 'r').catch(() => null);
  await handle?.sync().catch(() => undefined);
  await handle?.close();
}
