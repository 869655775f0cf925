import type { ContainerId } from '@apodix/core';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import type { KnownEarly } from '../inspect/inspect-timed.ts';
import { copyKeyframes } from './copy-keyframes.ts';
import { FIRST_TILES, takeFirstLook, type FirstLook } from './first-look.ts';
import { makeRoughFilm, ROUGH_KEYFRAMES } from './rough-film.ts';

/** What is known of a video, and can be done with it, while the rest is still being measured. */
export type Early =
  | ({ readonly of: 'look' } & FirstLook)
  | ({ readonly of: 'times' } & KnownEarly)
  /** What plays it meanwhile: a rough film, or the recording itself (null). */
  | { readonly of: 'film'; readonly path: string | null };

export interface EarlySource {
  readonly path: string;
  readonly container: ContainerId;
  /** Where its files go. */
  readonly folder: string;
  readonly signal?: AbortSignal;
}

/**
 * So long the film has the machine to itself: measuring beside it would make it several times slower, and
 * takes longer than that wherever the film does.
 */
const HEAD_START_MS = 5000;

/** What there is of a video before it is measured: told bit by bit, and given up with the measuring. */
export class EarlyFilm {
  readonly #source: EarlySource;
  readonly #tell: (early: Early) => void;
  readonly #stop = new AbortController();
  #isBegun = false;
  #made: Promise<unknown> = Promise.resolve();

  constructor(source: EarlySource, tell: (early: Early) => void) {
    this.#source = source;
    this.#tell = tell;
  }

  /**
   * Tells times and first pictures, and a film of it as soon as there is one; resolves once the rest may
   * begin. `isOwn` where the recording itself is played. What cannot be had is left out.
   */
  async begin(known: KnownEarly, isOwn: boolean): Promise<void> {
    if (!known.video || this.#isBegun) return;
    this.#isBegun = true;
    this.#tell({ of: 'times', ...known });
    if (isOwn) this.#tell({ of: 'film', path: null });
    const { signal } = this.#source;
    const stop = signal ? AbortSignal.any([signal, this.#stop.signal]) : this.#stop.signal;
    await this.#look(known, stop).catch(() => undefined);
    if (isOwn) return;
    this.#made = this.#film(known, stop).catch(() => undefined);
    await Promise.race([this.#made, setTimeout(HEAD_START_MS, undefined, { ref: false })]);
  }

  async end(): Promise<void> {
    this.#stop.abort();
    await this.#made;
  }

  async #look(known: KnownEarly, stop: AbortSignal): Promise<void> {
    const { path, container, folder } = this.#source;
    const few = await copyKeyframes(path, container, known, FIRST_TILES, join(folder, 'few-keys'), stop);
    if (!few || !known.video) return;
    const names = { poster: join(folder, 'first-poster.jpg'), strip: join(folder, 'first-strip.jpg') };
    const look = await takeFirstLook(few, known.video, known.durationUs, names, stop);
    if (look) this.#tell({ of: 'look', ...look });
  }

  async #film(known: KnownEarly, stop: AbortSignal): Promise<void> {
    const { path, container, folder } = this.#source;
    const keys = await copyKeyframes(path, container, known, ROUGH_KEYFRAMES, join(folder, 'keys'), stop);
    const filmPath = join(folder, 'rough-film.mp4');
    if (!keys || !(await makeRoughFilm({ path, container }, keys, known, filmPath, stop))) return;
    if (!stop.aborted) this.#tell({ of: 'film', path: filmPath });
  }
}
