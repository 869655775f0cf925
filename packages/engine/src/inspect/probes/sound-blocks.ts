import { BlockMeter, type SoundBlocks, type SoundFacts } from '@apodix/core';
import type { Probe } from './probe.ts';

export interface SoundBlocksProbe extends Probe {
  readonly finish: () => SoundBlocks;
}

const SAMPLE_BYTES = 4;

/** Measures the blocks that loudness of any stretch follows from, at the sound's own rate. */
export function probeSoundBlocks(sound: SoundFacts): SoundBlocksProbe {
  const sides = sound.channels === 1 ? 1 : 2;
  const meter = new BlockMeter(sound.rateHz, sides, 0);
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
        args: ['-f', 'f32le'],
        onData: (data) => {
          const bytes = rest.length > 0 ? Buffer.concat([rest, data]) : data;
          const size = SAMPLE_BYTES * sides;
          const whole = bytes.length - (bytes.length % size);
          // A copy of its own: a pipe's bytes may lie on any address.
          const copy = new Uint8Array(bytes.subarray(0, whole));
          meter.add(new Float32Array(copy.buffer, 0, whole / SAMPLE_BYTES));
          rest = Buffer.from(bytes.subarray(whole));
        },
      },
    ],
    finish: () => meter.finish(),
  };
}
