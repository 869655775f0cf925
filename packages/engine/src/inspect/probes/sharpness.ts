import { measureBlur, readRate, type SharpnessSeries, type SizePx, type VideoFacts } from '@apodix/core';
import { UNHURRIED, type Probe } from './probe.ts';

export interface SharpnessProbe extends Probe {
  /** Every look, and `measureBlur` of the sharpest tenth of them; null where nothing could tell. */
  readonly finish: () => { readonly series: SharpnessSeries; readonly sharpest: number | null };
}

const EDGE = 640;
const MOST_LOOKS = 300;
const LOOK_EVERY_S = 2;

/** Looks at a frame now and then, large enough to tell whether it is sharp. */
export function probeSharpness(video: VideoFacts): SharpnessProbe {
  const size = fitLook(video);
  const rate = readRate(video.frameRate);
  const step = Math.max(1, Math.round(rate * LOOK_EVERY_S), Math.floor(video.frameCount / MOST_LOOKS));
  const first = Math.floor(step / 2);
  const found: (number | null)[] = [];
  let rest: Buffer = Buffer.alloc(0);
  const frameBytes = size.widthPx * size.heightPx;
  return {
    takes: 'picture',
    buildChains: (from) => [
      {
        from: [from],
        filters: [
          `select='not(mod(n-${first},${step}))'`,
          `scale=${size.widthPx}:${size.heightPx}:flags=area`,
          'format=gray',
        ],
        to: ['looks'],
      },
    ],
    outputs: [
      {
        pad: 'looks',
        args: ['-fps_mode', 'passthrough', ...UNHURRIED, '-f', 'rawvideo'],
        onData: (data) => {
          let bytes = rest.length > 0 ? Buffer.concat([rest, data]) : data;
          for (; bytes.length >= frameBytes; bytes = bytes.subarray(frameBytes)) {
            const luma = new Uint8Array(bytes.subarray(0, frameBytes));
            found.push(measureBlur({ ...size, luma }));
          }
          rest = Buffer.from(bytes);
        },
      },
    ],
    finish: () => {
      const told = found.filter((each) => each !== null).sort((left, right) => left - right);
      return {
        series: { frameIndices: found.map((_, index) => first + index * step), blur: found },
        sharpest: told[Math.floor(told.length / 10)] ?? null,
      };
    },
  };
}

function fitLook({ widthPx, heightPx }: SizePx): SizePx {
  const scale = Math.min(1, EDGE / Math.max(widthPx, heightPx));
  return {
    widthPx: Math.max(2, Math.round(widthPx * scale)),
    heightPx: Math.max(2, Math.round(heightPx * scale)),
  };
}
