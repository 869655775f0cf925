/** So many samples in a row at full scale are a flat top. */
const LEAST_FLAT_SAMPLES = 3;
/** From here on a sample is at full scale: the last step of 16 bits below it. */
const FULL_SCALE = 32_766 / 32_768;

/** Counts flat tops, stretches of sound that lie at full scale, as samples come. */
export class FlatTopCounter {
  readonly #runs: number[];
  readonly #signs: number[];
  #count = 0;

  constructor(sides: 1 | 2) {
    this.#runs = Array.from({ length: sides }, () => 0);
    this.#signs = Array.from({ length: sides }, () => 0);
  }

  /** The next sample of a side, full scale 1. */
  add(side: number, sample: number): void {
    const sign = sample >= FULL_SCALE ? 1 : sample <= -FULL_SCALE ? -1 : 0;
    const run = sign === 0 ? 0 : sign === this.#signs[side] ? (this.#runs[side] ?? 0) + 1 : 1;
    this.#runs[side] = run;
    this.#signs[side] = sign;
    if (run === LEAST_FLAT_SAMPLES) this.#count += 1;
  }

  /** How many have come since it was last asked. */
  take(): number {
    const count = this.#count;
    this.#count = 0;
    return count;
  }
}
