/** One after another for each key; different keys do not wait for each other. */
export class KeyedLock {
  readonly #last = new Map<string, Promise<unknown>>();

  async run<T>(key: string, work: () => Promise<T>): Promise<T> {
    const before = this.#last.get(key) ?? Promise.resolve();
    const own = before.then(work, work);
    this.#last.set(key, own);
    try {
      return await own;
    } finally {
      if (this.#last.get(key) === own) this.#last.delete(key);
    }
  }
}
