import type { DeclaredColor, VideoFacts } from '@apodix/core';

/** The name of the primaries of Display P3 in files (ISO/IEC 23091-2: SMPTE EG 432-1). */
export const DISPLAY_P3 = 'smpte432';

/** How the signal of a video is meant; what it does not say is taken as BT.709. */
export function readDeclaredColor(video: VideoFacts): DeclaredColor {
  const isWide = video.hdr !== null || video.color.primaries === 'bt2020';
  const narrow = video.color.primaries === DISPLAY_P3 ? 'display-p3' : 'bt709';
  return { transfer: video.hdr ?? 'bt709', primaries: isWide ? 'bt2020' : narrow };
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
