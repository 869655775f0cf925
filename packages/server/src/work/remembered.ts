/** Answers that follow from their key alone, kept while there is room; the ones asked for last stay. */
export class Remembered<V> {
  readonly #most: number;
  readonly #kept = new Map<string, V>();

  constructor(most: number) {
    this.#most = most;
  }

  get(key: string): V | undefined {
    const value = this.#kept.get(key);
    if (value === undefined) return undefined;
    this.#kept.delete(key);
    this.#kept.set(key, value);
    return value;
  }

  set(key: string, value: V): V {
    this.#kept.set(key, value);
    const oldest = this.#kept.size > this.#most ? this.#kept.keys().next().value : undefined;
    if (oldest !== undefined) this.#kept.delete(oldest);
    return value;
  }
}
