import type { Granted } from './guards.ts';

/** Leave to read a file holds for so long: a player asks for hundreds of its parts, one after another. */
const HOLDS_MS = 3000;
const MOST = 200;

/**
 * Leave that was granted a moment ago, by who asked (the token) and what for (the path). Any request that may
 * change something takes all of it back.
 */
export class RecentGrants {
  readonly #kept = new Map<string, { readonly granted: Granted; readonly untilMs: number }>();
  readonly #now: () => number;
  /** Counts what took leave back: leave asked for before it is not kept after it. */
  #turn = 0;

  constructor(now: () => number = Date.now) {
    this.#now = now;
  }

  async find(token: string, path: string, grant: () => Promise<Granted>): Promise<Granted> {
    const key = `${token}\n${path}`;
    const kept = this.#kept.get(key);
    if (kept && kept.untilMs > this.#now()) return kept.granted;
    const turn = this.#turn;
    const granted = await grant();
    if (turn !== this.#turn) return granted;
    if (this.#kept.size >= MOST) this.#kept.clear();
    this.#kept.set(key, { granted, untilMs: this.#now() + HOLDS_MS });
    return granted;
  }

  takeBack(): void {
    this.#turn += 1;
    this.#kept.clear();
  }
}
