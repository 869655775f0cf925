/** How a coded sound's length follows from its samples, as players and course sites read it from the file. */
interface LengthRow {
  /** Seconds that the file is told to run. */
  readonly measureSeconds: (samples: number, rateHz: number) => number;
}

/** Samples that LAME puts before the sound and after it: its own delay and half a frame of silence. */
const MP3_PADDING = 576 + 576;
/** Samples a frame (ISO/IEC 11172-3; ISO/IEC 13818-3 below 32 kHz). */
const countMp3Frame = (rateHz: number) => (rateHz >= 32_000 ? 1152 : 576);
/** What a decoder drops at the start (RFC 7845, 4.2), at 48 kHz; it still counts in the file's own time. */
const OPUS_PRE_SKIP_S = 312 / 48_000;

const exact: LengthRow = { measureSeconds: (samples, rateHz) => samples / rateHz };

const rows: Readonly<Record<'aac' | 'mp3' | 'opus' | 'flac' | 'pcm', LengthRow>> = {
  aac: exact,
  flac: exact,
  pcm: exact,
  mp3: {
    measureSeconds: (samples, rateHz) => {
      const frame = countMp3Frame(rateHz);
      return (Math.ceil((samples + MP3_PADDING) / frame) * frame) / rateHz;
    },
  },
  opus: { measureSeconds: (samples, rateHz) => samples / rateHz + OPUS_PRE_SKIP_S },
};

export type CodedSound = keyof typeof rows;

/** How long a sound file with so many samples is told to run, in microseconds. */
export function measureCodedUs(codec: CodedSound, samples: number, rateHz: number): number {
  return Math.round(rows[codec].measureSeconds(samples, rateHz) * 1e6);
}

/** The most samples, no more than wanted, whose file runs no longer than so long. 0 where none does. */
export function findMostSamples(
  codec: CodedSound,
  wanted: number,
  rateHz: number,
  mostUs: number | null,
): number {
  if (mostUs === null || measureCodedUs(codec, wanted, rateHz) <= mostUs) return wanted;
  let [low, high] = [0, wanted];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (measureCodedUs(codec, middle, rateHz) <= mostUs) low = middle;
    else high = middle;
  }
  return low;
}
