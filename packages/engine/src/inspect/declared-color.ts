import type { DeclaredColor, VideoFacts } from '@apodix/core';

/** How the signal of a video is meant; what it does not say is taken as BT.709. */
export function readDeclaredColor(video: VideoFacts): DeclaredColor {
  const isWide = video.hdr !== null || video.color.primaries === 'bt2020';
  return { transfer: video.hdr ?? 'bt709', primaries: isWide ? 'bt2020' : 'bt709' };
}

/** Matrix and range for the scaler, as declared; without a matrix BT.709 from 720 lines on, else BT.601. */
export function writeDeclaredMatrix(video: VideoFacts): string {
  const range = video.color.range === 'full' ? 'full' : 'limited';
  if (video.chroma === 'rgb') return '';
  const matrix = video.color.matrix ?? '';
  const isLarge = Math.min(video.codedWidthPx, video.codedHeightPx) >= 720;
  const name =
    /^bt2020/.test(matrix) || (matrix === '' && video.hdr !== null)
      ? 'bt2020'
      : matrix === 'bt709'
        ? 'bt709'
        : matrix === 'smpte240m'
          ? 'smpte240m'
          : /^(smpte170m|bt470bg|fcc)$/.test(matrix) || !isLarge
            ? 'bt601'
            : 'bt709';
  return `:in_color_matrix=${name}:in_range=${range}`;
}
