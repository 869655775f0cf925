/** What H.264 of today says of its colors, as FFmpeg is told it. */
export const BT709_ARGS = [
  ...['-color_primaries', 'bt709', '-color_trc', 'bt709'],
  ...['-colorspace', 'bt709', '-color_range', 'tv'],
] as const;
