/** Answers that follow from their key alone, kept while there is room; the oldest make way. */
export class Remembered<V> {
  readonly #most: number;
  readonly #kept = new Map<string, V>();

  constructor(most: number) {
    this.#most = most;
  }

  get(key: string): V | undefined {
    return this.#kept.get(key);
  }

  set(key: string, value: V): V {
    this.#kept.set(key, value);
    const oldest = this.#kept.size > this.#most ? this.#kept.keys().next().value : undefined;
    if (oldest !== undefined) this.#kept.delete(oldest);
    return value;
  }
}

/** A short name for a long text, the same for the same text for as long as it is remembered. */
export class ShortNames {
  readonly #names: Remembered<string>;
  #count = 0;

  constructor(most: number) {
    this.#names = new Remembered(most);
  }

  of(text: string): string {
    return this.#names.get(text) ?? this.#names.set(text, String((this.#count += 1)));
  }
}
