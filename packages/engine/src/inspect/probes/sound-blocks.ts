import { BlockMeter, FlatTopCounter, type SoundBlocks, type SoundFacts } from '@apodix/core';
import { UNHURRIED, type Probe } from './probe.ts';

export interface SoundBlocksProbe extends Probe {
  readonly finish: () => SoundBlocks;
}

/** Counts the flat tops alone, which costs a tenth of measuring blocks. */
export interface FlatTopProbe extends Probe {
  readonly finish: () => number;
}

/** Measures the blocks that loudness of any stretch follows from, at the sound's own rate. */
export function probeSoundBlocks(sound: SoundFacts): SoundBlocksProbe {
  const sides = countSides(sound);
  const meter = new BlockMeter(sound.rateHz, sides, 0);
  return { ...readSamples(sound, (samples) => meter.add(samples)), finish: () => meter.finish() };
}

export function probeFlatTops(sound: SoundFacts): FlatTopProbe {
  const sides = countSides(sound);
  const counter = new FlatTopCounter(sides);
  const add = (samples: Float32Array) => {
    for (let at = 0; at < samples.length; at += 1) counter.add(at % sides, samples[at] ?? 0);
  };
  return { ...readSamples(sound, add), finish: () => counter.take() };
}

const countSides = (sound: SoundFacts): 1 | 2 => (sound.channels === 1 ? 1 : 2);

const SAMPLE_BYTES = 4;

/** Whole samples of all sides, interleaved, full scale 1, as they come. */
function readSamples(sound: SoundFacts, onSamples: (samples: Float32Array) => void): Probe {
  const sides = countSides(sound);
  let rest: Buffer = Buffer.alloc(0);
  return {
    takes: 'sound',
    buildChains: (from) => [
      {
        from: [from],
        filters: [
          `aformat=sample_fmts=flt:channel_layouts=${sides === 1 ? 'mono' : 'stereo'}`,
          `aresample=${sound.rateHz}:async=1:first_pts=0`,
          'aformat=sample_fmts=flt',
        ],
        to: ['blocks'],
      },
    ],
    outputs: [
      {
        pad: 'blocks',
        args: [...UNHURRIED, '-f', 'f32le'],
        onData: (data) => {
          const bytes = rest.length > 0 ? Buffer.concat([rest, data]) : data;
          const size = SAMPLE_BYTES * sides;
          const whole = bytes.length - (bytes.length % size);
          // A copy of its own: a pipe's bytes may lie on any address.
          const copy = new Uint8Array(bytes.subarray(0, whole));
          onSamples(new Float32Array(copy.buffer, 0, whole / SAMPLE_BYTES));
          rest = Buffer.from(bytes.subarray(whole));
        },
      },
    ],
  };
}
