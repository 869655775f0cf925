import type { VideoFacts } from '@apodix/core';
import { DISPLAY_P3 } from '../inspect/declared-color.ts';

/**
 * FFmpeg filters that bring any source picture to BT.709, limited range, 8-bit 4:2:0 at the given size with
 * square pixels. HDR is scaled first and tone-mapped after (scaling at full size costs about five times
 * more); HLG reference white at 203 cd/m² (ITU-R BT.2408). What the source does not say is taken as BT.709
 * from 720 lines on, else as BT.601.
 */
export function buildPictureFilters(
  video: VideoFacts,
  size: { widthPx: number; heightPx: number },
  options: { isFast: boolean; isDeep?: boolean },
): string[] {
  const { widthPx: w, heightPx: h } = size;
  // A working copy keeps what a later color table needs.
  const format = options.isDeep ? 'format=yuv422p10le' : 'format=yuv420p';
  if (video.hdr) {
    const isTagged = video.color.primaries && video.color.matrix;
    return [
      ...(isTagged
        ? []
        : [
            `setparams=color_primaries=bt2020:colorspace=bt2020nc:range=${video.color.range === 'full' ? 'pc' : 'tv'}`,
          ]),
      `zscale=w=${w}:h=${h}:f=${options.isFast ? 'bilinear' : 'bicubic'}`,
      'zscale=t=linear:npl=203',
      'format=gbrpf32le',
      'zscale=p=bt709',
      'tonemap=hable:desat=0',
      `zscale=t=bt709:m=bt709:r=tv${options.isFast || options.isDeep ? '' : ':d=error_diffusion'}`,
      format,
      'setsar=1',
    ];
  }
  const isWide = video.color.primaries === 'bt2020';
  if (isWide) {
    return [
      `zscale=w=${w}:h=${h}:f=${options.isFast ? 'bilinear' : 'bicubic'}:pin=bt2020:min=bt2020nc:tin=bt709`,
      'zscale=p=bt709:m=bt709:t=bt709:r=tv',
      format,
      'setsar=1',
    ];
  }
  const range = video.color.range === 'full' ? 'pc' : 'tv';
  const matrix = readMatrix(video);
  if (video.color.primaries === DISPLAY_P3 && video.chroma !== 'rgb') {
    const own = { bt601: '470bg', smpte240m: '240m', bt709: '709' }[matrix ?? 'bt709'];
    return [
      `zscale=w=${w}:h=${h}:f=${options.isFast ? 'bilinear' : 'bicubic'}:pin=smpte432:p=709:min=${own}:m=709:tin=709:t=709:rin=${range === 'pc' ? 'full' : 'limited'}:r=limited`,
      format,
      'setsar=1',
    ];
  }
  // Between matrices zscale is as exact as scale with full chroma interpolation and about five times faster.
  const zMatrix =
    matrix === null || matrix === 'bt709' ? null : ({ bt601: '470bg', smpte240m: '240m' } as const)[matrix];
  if (zMatrix && Math.min(w, h) >= 64) {
    return [
      `zscale=w=${w}:h=${h}:f=${options.isFast ? 'bilinear' : 'bicubic'}:min=${zMatrix}:m=709:pin=709:p=709:tin=709:t=709:rin=${range === 'pc' ? 'full' : 'limited'}:r=limited`,
      format,
      'setsar=1',
    ];
  }
  // What has the matrix already is handed on as it is where its size stays: named, it would be copied.
  const change =
    matrix === 'bt709' ? '' : `${matrix ? `:in_color_matrix=${matrix}` : ''}:out_color_matrix=bt709`;
  const flags = options.isFast
    ? 'fast_bilinear'
    : `bicubic+accurate_rnd${video.chroma === 'rgb' ? '+full_chroma_int+full_chroma_inp' : ''}`;
  return [`scale=w=${w}:h=${h}:flags=${flags}:in_range=${range}:out_range=tv${change}`, format, 'setsar=1'];
}

/** The tags that go with the converted picture. */
export const BT709_TAGS = [
  '-color_primaries',
  'bt709',
  '-color_trc',
  'bt709',
  '-colorspace',
  'bt709',
  '-color_range',
  'tv',
] as const;

function readMatrix(video: VideoFacts): 'bt709' | 'bt601' | 'smpte240m' | null {
  if (video.chroma === 'rgb') return null;
  const matrix = video.color.matrix ?? 'unknown';
  if (matrix === 'bt709') return 'bt709';
  if (/^(smpte170m|bt470bg|bt601|fcc)$/.test(matrix)) return 'bt601';
  if (matrix === 'smpte240m') return 'smpte240m';
  return Math.min(video.codedWidthPx, video.codedHeightPx) >= 720 ? 'bt709' : 'bt601';
}
