import { SOUND_BLOCK_US, type SoundBlocks } from '../series/sound-blocks.ts';
import { FlatTopCounter } from './flat-tops.ts';
import { designKWeighting, type Biquad } from './k-weighting.ts';
import { buildPeakPhases, PEAK_TAPS } from './true-peak.ts';

/**
 * Between samples the wave rises above the higher of both only where these are this share of the block's
 * highest.
 */
const LEAST_PEAK_SHARE = 0.6;

/** State of one filtered side. */
class WeightedSide {
  readonly #filters: readonly Biquad[];
  readonly #state: Float64Array;

  constructor(filters: readonly Biquad[]) {
    this.#filters = filters;
    this.#state = new Float64Array(filters.length * 2);
  }

  /** Sum of squares of the weighted samples (transposed direct form II). */
  measurePower(samples: Float32Array, count: number): number {
    const [shelf, pass] = this.#filters;
    if (!shelf || !pass) return 0;
    const state = this.#state;
    let [s0 = 0, s1 = 0, p0 = 0, p1 = 0] = state;
    let sum = 0;
    for (let index = 0; index < count; index += 1) {
      const x = samples[index] ?? 0;
      const y = shelf.b0 * x + s0;
      s0 = shelf.b1 * x - shelf.a1 * y + s1;
      s1 = shelf.b2 * x - shelf.a2 * y;
      const z = pass.b0 * y + p0;
      p0 = pass.b1 * y - pass.a1 * z + p1;
      p1 = pass.b2 * y - pass.a2 * z;
      sum += z * z;
    }
    state.set([s0, s1, p0, p1]);
    return sum;
  }
}

/**
 * Measures sound as it comes, in blocks of a tenth of a second: power after K-weighting, true peak, flat
 * tops. Samples are interleaved 32-bit floats of one side or two, full scale 1.
 */
export class BlockMeter {
  readonly #sides: 1 | 2;
  readonly #startUs: number;
  readonly #blockSamples: number;
  readonly #weighted: readonly WeightedSide[];
  readonly #buffers: readonly Float32Array[];
  readonly #lines: readonly Float64Array[];
  readonly #phases: readonly Float64Array[];
  readonly #power: [number[], number[], number[]] = [[], [], []];
  readonly #peak: number[] = [];
  readonly #clipped: number[] = [];
  readonly #flatTops: FlatTopCounter;
  #inBlock = 0;
  /** Samples that the next blocks are longer by: rates that a tenth of a second does not divide. */
  #remainder = 0;
  readonly #rateHz: number;

  constructor(rateHz: number, sides: 1 | 2, startUs: number) {
    this.#rateHz = rateHz;
    this.#sides = sides;
    this.#startUs = startUs;
    this.#blockSamples = Math.floor((rateHz * SOUND_BLOCK_US) / 1e6);
    const filters = designKWeighting(rateHz);
    const size = this.#blockSamples + 1;
    this.#weighted = [new WeightedSide(filters), new WeightedSide(filters), new WeightedSide(filters)];
    this.#buffers = [new Float32Array(size), new Float32Array(size), new Float32Array(size)];
    this.#lines = [new Float64Array(PEAK_TAPS + size), new Float64Array(PEAK_TAPS + size)];
    this.#phases = buildPeakPhases();
    this.#flatTops = new FlatTopCounter(sides);
  }

  add(samples: Float32Array): void {
    const sides = this.#sides;
    const [left, right, mix] = this.#buffers;
    if (!left || !right || !mix) return;
    for (let at = 0; at + sides <= samples.length; at += sides) {
      const l = samples[at] ?? 0;
      const r = sides === 2 ? (samples[at + 1] ?? 0) : l;
      left[this.#inBlock] = l;
      right[this.#inBlock] = r;
      mix[this.#inBlock] = (l + r) / 2;
      this.#flatTops.add(0, l);
      if (sides === 2) this.#flatTops.add(1, r);
      this.#inBlock += 1;
      if (this.#inBlock >= this.#wantedSamples()) this.#closeBlock();
    }
  }

  /** What was measured; a last block that is not full is left out unless it is the only one. */
  finish(): SoundBlocks {
    if (this.#inBlock > 0 && (this.#peak.length === 0 || this.#inBlock > this.#blockSamples / 2))
      this.#closeBlock();
    return {
      blockUs: SOUND_BLOCK_US,
      startUs: this.#startUs,
      sides: this.#sides,
      powerLeft: Float32Array.from(this.#power[0]),
      powerRight: Float32Array.from(this.#power[1]),
      powerMix: Float32Array.from(this.#power[2]),
      peak: Float32Array.from(this.#peak),
      clipped: Uint16Array.from(this.#clipped),
    };
  }

  #wantedSamples(): number {
    return this.#blockSamples + (this.#remainder >= 1 ? 1 : 0);
  }

  #closeBlock(): void {
    const count = this.#inBlock;
    for (const [side, weighted] of this.#weighted.entries()) {
      const isSame = this.#sides === 1 && side > 0;
      const power = isSame
        ? (this.#power[0].at(-1) ?? 0)
        : weighted.measurePower(this.#buffers[side] ?? new Float32Array(), count) / count;
      this.#power[side as 0 | 1 | 2].push(power);
    }
    let peak = 0;
    for (let side = 0; side < this.#sides; side += 1) peak = Math.max(peak, this.#findPeak(side, count));
    this.#peak.push(peak);
    this.#clipped.push(Math.min(65_535, this.#flatTops.take()));
    if (this.#remainder >= 1) this.#remainder -= 1;
    this.#remainder += (this.#rateHz * SOUND_BLOCK_US) / 1e6 - this.#blockSamples;
    this.#inBlock = 0;
  }

  /** Highest absolute value of a side between and at its samples, four times as many (BS.1770-4 annex 2). */
  #findPeak(side: number, count: number): number {
    const buffer = this.#buffers[side];
    const line = this.#lines[side];
    const [first, second, third] = this.#phases;
    if (!buffer || !line || !first || !second || !third) return 0;
    // The last samples of the block before stand in front.
    line.set(buffer.subarray(0, count), PEAK_TAPS);
    let highest = 0;
    for (let at = PEAK_TAPS; at < PEAK_TAPS + count; at += 1)
      highest = Math.max(highest, Math.abs(line[at] ?? 0));
    const least = highest * LEAST_PEAK_SHARE;
    const half = PEAK_TAPS / 2;
    let peak = highest;
    for (let from = 1; from + PEAK_TAPS <= PEAK_TAPS + count; from += 1) {
      const left = from + half - 1;
      if (Math.abs(line[left] ?? 0) < least && Math.abs(line[left + 1] ?? 0) < least) continue;
      let [one, two, three] = [0, 0, 0];
      for (let tap = 0; tap < PEAK_TAPS; tap += 1) {
        const sample = line[from + tap] ?? 0;
        one += (first[tap] ?? 0) * sample;
        two += (second[tap] ?? 0) * sample;
        three += (third[tap] ?? 0) * sample;
      }
      peak = Math.max(peak, Math.abs(one), Math.abs(two), Math.abs(three));
    }
    line.copyWithin(0, count, count + PEAK_TAPS);
    return peak;
  }
}
