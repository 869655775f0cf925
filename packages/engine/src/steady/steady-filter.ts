import type { SizePx, SteadyCourse } from '@apodix/core';

/** A file that a cut needs beside its filters, in the folder where it is made. */
export interface CutFile {
  readonly name: string;
  readonly text: string;
}

/**
 * The filter that moves frames to where steadying lays them, with the file that it reads: one line for each
 * frame that comes, whose number in the take `sourceFrames` tells.
 */
export function buildSteadyFilter(
  course: SteadyCourse,
  sourceFrames: ArrayLike<number>,
  size: SizePx,
  name: string,
): { readonly filter: string; readonly file: CutFile } {
  const lines = Array.from(sourceFrames, (frame, index) => {
    const value = (values: Float32Array, scale: number) => ((values[frame] ?? 0) * scale).toFixed(6);
    const [x, y] = [value(course.x, size.widthPx), value(course.y, size.widthPx)];
    return `${index} ${x} ${y} ${value(course.angle, 1)} 0 0`;
  });
  const zoom = (100 * (1 - course.kept)).toFixed(6);
  return {
    filter: `vidstabtransform=input=${name}:relative=0:smoothing=0:optzoom=0:zoom=${zoom}:crop=black:interpol=bicubic`,
    file: { name, text: `${lines.join('\n')}\n` },
  };
}
