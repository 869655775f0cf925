import { ApodixError } from '@apodix/core';
import { randomUUID } from 'node:crypto';
import { link, copyFile, mkdir, readdir, rename, rm, stat, utimes } from 'node:fs/promises';
import { join } from 'node:path';
import { isMp4Whole, measureMdatBytes } from '../inspect/box-order.ts';

/** A piece that was coded: its picture, and the frames that were kept of it. */
export interface StoredPiece {
  readonly crf: number;
  /** Bytes of its coded frames. */
  readonly bytes: number;
  readonly path: string;
  readonly witnessPath: string;
}

/** Rate factors are kept in hundredths. */
const CRF_STEPS = 100;

/**
 * Coded pieces and sound tracks in a folder, named by what they hold and how they are coded: whoever wants
 * the same finds it there. Files come in whole, by renaming; they may be removed at any time.
 */
export class PieceStore {
  readonly #folder: string;

  constructor(folder: string) {
    this.#folder = folder;
  }

  /** The piece of this key whose rate factor lies nearest to `crf`, at most `within` away; or null. */
  async find(key: string, crf: number, within: number): Promise<StoredPiece | null> {
    const near = (await this.#listCrfs(key))
      .map(({ own }) => own)
      .filter((own) => Math.abs(own - crf) <= within + 1e-9)
      .sort((left, right) => Math.abs(left - crf) - Math.abs(right - crf));
    return this.#openFirst(key, near);
  }

  /** The piece of this key that was coded or used last; null without one. */
  async findLatest(key: string): Promise<StoredPiece | null> {
    const latest = (await this.#listCrfs(key)).sort((left, right) => right.usedMs - left.usedMs);
    return this.#openFirst(
      key,
      latest.map(({ own }) => own),
    );
  }

  /** Two paths in the folder to write a new piece to, and what makes it be found. */
  async begin(
    key: string,
    crf: number,
  ): Promise<{ path: string; witnessPath: string; keep: () => Promise<StoredPiece> }> {
    const folder = join(this.#folder, key);
    await mkdir(folder, { recursive: true });
    const stem = join(folder, `new-${randomUUID()}`);
    const [path, witnessPath] = [`${stem}.mp4`, `${stem}.mkv`];
    return {
      path,
      witnessPath,
      keep: async () => {
        const [kept, keptWitness] = this.#nameFiles(key, crf);
        await rename(witnessPath, keptWitness);
        await rename(path, kept);
        return this.#open(key, crf);
      },
    };
  }

  /** The sound track of this key; null without one. */
  async findSound(key: string): Promise<string | null> {
    const path = this.#nameSound(key);
    if (!(await isMp4Whole(path).catch(() => false))) return null;
    const now = new Date();
    await utimes(path, now, now);
    return path;
  }

  /** A path in the folder to write a new sound track to, and what makes it be found. */
  async beginSound(key: string): Promise<{ path: string; keep: () => Promise<string> }> {
    await mkdir(join(this.#folder, key), { recursive: true });
    const path = join(this.#folder, key, `new-${randomUUID()}.m4a`);
    return {
      path,
      keep: async () => {
        await rename(path, this.#nameSound(key));
        return this.#nameSound(key);
      },
    };
  }

  /** Forgets all pieces and sound tracks of these keys: something about them is wrong. */
  async forget(keys: Iterable<string>): Promise<void> {
    for (const key of keys) await rm(join(this.#folder, key), { recursive: true, force: true });
  }

  async #listCrfs(key: string): Promise<{ own: number; usedMs: number }[]> {
    const folder = join(this.#folder, key);
    const found: { own: number; usedMs: number }[] = [];
    for (const name of await readdir(folder).catch((): string[] => [])) {
      const steps = /^(\d+)\.mp4$/.exec(name)?.[1];
      const file = steps === undefined ? null : await stat(join(folder, name)).catch(() => null);
      if (file) found.push({ own: Number(steps) / CRF_STEPS, usedMs: file.mtimeMs });
    }
    return found;
  }

  async #openFirst(key: string, crfs: readonly number[]): Promise<StoredPiece | null> {
    for (const crf of crfs) {
      const found = await this.#open(key, crf).catch(() => null);
      if (found) return found;
    }
    return null;
  }

  async #open(key: string, crf: number): Promise<StoredPiece> {
    const [path, witnessPath] = this.#nameFiles(key, crf);
    const bytes = (await isMp4Whole(path)) ? await measureMdatBytes(path) : 0;
    if (bytes === 0) throw new ApodixError('MAKE_FAILED', { detail: 'A piece came out without a picture.' });
    await stat(witnessPath);
    const now = new Date();
    await Promise.all([path, witnessPath].map((each) => utimes(each, now, now)));
    return { crf, bytes, path, witnessPath };
  }

  #nameSound(key: string): string {
    return join(this.#folder, key, 'sound.m4a');
  }

  #nameFiles(key: string, crf: number): readonly [string, string] {
    const stem = join(this.#folder, key, String(Math.round(crf * CRF_STEPS)));
    return [`${stem}.mp4`, `${stem}.mkv`];
  }
}

/** Puts a file under another name beside where it is, so that it stays there when the store lets it go. */
export async function holdFile(path: string, as: string): Promise<void> {
  await rm(as, { force: true });
  await link(path, as).catch(() => copyFile(path, as));
}
