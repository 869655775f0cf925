import { readTakeSeries, type TakeSeries } from '@apodix/core';
import { readFile } from 'node:fs/promises';
import type { BlobStore } from './blob-store.ts';

/** So many takes at once are worked on by a few people. */
const MOST_KEPT = 40;

/** Reads series of takes from their blobs, once each; the ones used last stay. */
export class SeriesCache {
  readonly #blobs: Pick<BlobStore, 'pathOf'>;
  readonly #kept = new Map<string, Promise<TakeSeries>>();

  constructor(blobs: Pick<BlobStore, 'pathOf'>) {
    this.#blobs = blobs;
  }

  /** Rejects where the blob is missing or no series. */
  read(sha256: string): Promise<TakeSeries> {
    const known = this.#kept.get(sha256) ?? readFile(this.#blobs.pathOf(sha256)).then(readTakeSeries);
    this.#kept.delete(sha256);
    this.#kept.set(sha256, known);
    known.catch(() => this.#kept.delete(sha256));
    const oldest = this.#kept.keys().next().value;
    if (this.#kept.size > MOST_KEPT && oldest !== undefined) this.#kept.delete(oldest);
    return known;
  }
}
