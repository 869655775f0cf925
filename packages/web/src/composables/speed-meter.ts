/** Speed is that of so many last seconds: an old one says little about the rest. */
const OVER_S = 6;
const LEAST_S = 1;

export interface Speed {
  readonly bytesPerS: number | null;
  readonly secondsLeft: number | null;
}

/** How fast something goes on, and how long it will still take, by its last moments. */
export class SpeedMeter {
  #looks: { at: number; bytes: number }[] = [];

  /** @param at Seconds of a clock that only runs forward. */
  add(at: number, bytes: number, allBytes: number): Speed {
    // What goes back, as after a cut, begins anew.
    if (bytes < (this.#looks.at(-1)?.bytes ?? 0)) this.#looks = [];
    this.#looks.push({ at, bytes });
    while (this.#looks.length > 2 && (this.#looks[0]?.at ?? at) < at - OVER_S) this.#looks.shift();
    const [first] = this.#looks;
    const span = at - (first?.at ?? at);
    if (!first || span < LEAST_S || bytes === first.bytes) return { bytesPerS: null, secondsLeft: null };
    const bytesPerS = (bytes - first.bytes) / span;
    return { bytesPerS, secondsLeft: Math.ceil((allBytes - bytes) / bytesPerS) };
  }
}
