/** What a meter shows of the sound that comes in; decibels relative to full scale. */
export interface SoundReading {
  /** Mean level of the last block. */
  readonly levelDb: number;
  /** Highest sample of the last block, and of the last `HOLD_S` seconds. */
  readonly peakDb: number;
  readonly heldPeakDb: number;
  /** Highest sample since the reader was begun. */
  readonly loudestDb: number;
  /** Blocks that reached full scale in the last `HOLD_S` seconds. */
  readonly clippedCount: number;
  /** Seconds since anything was louder than `SILENT_DB`. */
  readonly silentS: number;
  /** The mains tone that stands out of what is quiet, in Hz; null where none does. */
  readonly humHz: 50 | 60 | null;
}

export const SILENT_DB = -58;
const HOLD_S = 2;
const CLIPPED = 0.985;
/** Quiet blocks are where a hum can be heard, and where it disturbs. */
const QUIET_DB = -30;
/** A tone has to stand so far above its neighbours. */
const HUM_ABOVE_DB = 12;
const HUM_BLOCK_S = 0.5;

const toDb = (power: number) => 10 * Math.log10(power + 1e-12);

/** Reads a stream of samples, blocks of any length, one side, full scale 1. */
export class SoundReader {
  readonly #rateHz: number;
  #samples = 0;
  #loudest = 0;
  #lastLoudAt = 0;
  #held: { at: number; peak: number; isClipped: boolean }[] = [];
  #hum: 50 | 60 | null = null;
  #humBlock: number[] = [];

  constructor(rateHz: number) {
    this.#rateHz = rateHz;
  }

  add(block: Float32Array): SoundReading {
    let [power, peak, atTop] = [0, 0, 0];
    for (const sample of block) {
      power += sample * sample;
      const size = Math.abs(sample);
      if (size > peak) peak = size;
      if (size >= CLIPPED) atTop += 1;
    }
    this.#samples += block.length;
    const now = this.#samples / this.#rateHz;
    const levelDb = toDb(power / Math.max(1, block.length));
    if (levelDb > SILENT_DB) this.#lastLoudAt = now;
    this.#loudest = Math.max(this.#loudest, peak);
    this.#held.push({ at: now, peak, isClipped: atTop >= 3 });
    this.#held = this.#held.filter((each) => each.at > now - HOLD_S);
    this.#listenForHum(block);
    return {
      levelDb,
      peakDb: toDb(peak ** 2),
      heldPeakDb: toDb(Math.max(...this.#held.map((each) => each.peak)) ** 2),
      loudestDb: toDb(this.#loudest ** 2),
      clippedCount: this.#held.filter((each) => each.isClipped).length,
      silentS: now - this.#lastLoudAt,
      humHz: this.#hum,
    };
  }

  #listenForHum(block: Float32Array): void {
    for (const sample of block) this.#humBlock.push(sample);
    const length = Math.round(this.#rateHz * HUM_BLOCK_S);
    while (this.#humBlock.length >= length) {
      const part = this.#humBlock.splice(0, length);
      const levelDb = toDb(part.reduce((sum, sample) => sum + sample * sample, 0) / length);
      if (levelDb > QUIET_DB) continue;
      this.#hum = levelDb < SILENT_DB - 12 ? null : findHum(part, this.#rateHz);
    }
  }
}

/**
 * The mains tone in a quiet stretch: 50 or 60 Hz and its first three harmonics against what lies between them
 * (G. Goertzel, 1958). null where it does not stand out.
 */
export function findHum(samples: readonly number[], rateHz: number): 50 | 60 | null {
  const above = ([50, 60] as const).map((mains) => {
    const tones = [1, 2, 3, 4].map((harmonic) => measureTone(samples, mains * harmonic, rateHz));
    const between = [0.8, 1.24, 1.76, 2.24, 2.76, 3.24, 3.76, 4.24].map((ratio) =>
      measureTone(samples, mains * ratio, rateHz),
    );
    const floor = between.reduce((sum, each) => sum + each, 0) / between.length;
    return { mains, db: toDb(tones.reduce((sum, each) => sum + each, 0) / 2) - toDb(floor) };
  });
  const [fifty, sixty] = above;
  if (!fifty || !sixty) return null;
  const best = fifty.db >= sixty.db ? fifty : sixty;
  return best.db >= HUM_ABOVE_DB && Math.abs(fifty.db - sixty.db) > 3 ? best.mains : null;
}

/** Power at one frequency, with a Hann window so that strong neighbours do not leak in. */
function measureTone(samples: readonly number[], frequencyHz: number, rateHz: number): number {
  const turn = (2 * Math.PI * frequencyHz) / rateHz;
  const factor = 2 * Math.cos(turn);
  let [last, before] = [0, 0];
  for (let at = 0; at < samples.length; at += 1) {
    const window = 0.5 - 0.5 * Math.cos((2 * Math.PI * at) / samples.length);
    const here = (samples[at] ?? 0) * window + factor * last - before;
    before = last;
    last = here;
  }
  return (last * last + before * before - factor * last * before) / samples.length ** 2;
}
