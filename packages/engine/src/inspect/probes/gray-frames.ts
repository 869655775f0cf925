import { fitSizeInside, type SizePx, type VideoFacts } from '@apodix/core';
import { writeDeclaredMatrix } from '../declared-color.ts';
import { UNHURRIED, type Probe } from './probe.ts';

/** Larger pictures tell no more of what can be recognised. */
const LONG_EDGE = 960;

/** Hands over the brightness of every so many frames as they come. */
export function probeGrayFrames(
  video: VideoFacts,
  every: number,
  onFrame: (frame: number, levels: Uint8Array, size: SizePx) => void,
): Probe {
  const size = fitSizeInside(video, { longEdgePx: LONG_EDGE }, 2);
  const length = size.widthPx * size.heightPx;
  const held = Buffer.alloc(length);
  let [filled, frame] = [0, 0];
  const scale = `scale=${size.widthPx}:${size.heightPx}:flags=bilinear${writeDeclaredMatrix(video)}`;
  return {
    takes: 'picture',
    buildChains: (from) => [
      { from: [from], filters: [`select='not(mod(n,${every}))'`, scale, 'format=gray'], to: ['gray'] },
    ],
    outputs: [
      {
        pad: 'gray',
        args: ['-fps_mode', 'passthrough', ...UNHURRIED, '-f', 'rawvideo'],
        onData: (data) => {
          for (let at = 0; at < data.length;) {
            const count = Math.min(length - filled, data.length - at);
            data.copy(held, filled, at, at + count);
            [filled, at] = [filled + count, at + count];
            if (filled < length) continue;
            onFrame(frame, held, size);
            [filled, frame] = [0, frame + every];
          }
        },
      },
    ],
  };
}
