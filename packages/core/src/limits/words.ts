import { formatBytes } from '../units/bytes.ts';
import { formatDuration } from '../units/duration.ts';
import { containerTable, type ContainerId } from '../media/containers.ts';

/** `1:30 to 2:00`, `at most 2:00`, `at least 1:30`, `exactly 2:00`. */
export function describeBounds(
  min: number | null,
  max: number | null,
  write: (value: number) => string,
): string {
  if (min !== null && max !== null)
    return min === max ? `exactly ${write(min)}` : `${write(min)} to ${write(max)}`;
  if (max !== null) return `at most ${write(max)}`;
  if (min !== null) return `at least ${write(min)}`;
  return 'any';
}

export const writeBytes = formatBytes;
export const writeUs = (value: number) => formatDuration(value);
export const writePixels = (value: number) => `${Math.round(value)} px`;
export const writeLines = (value: number) => `${Math.round(value)} lines`;
export const writeLufs = (value: number) => `${formatSigned(value)} LUFS`;
export const writeRate = (value: number) => `${trimNumber(value, 3)} a second`;

/** A number with a real minus sign and at most one decimal. */
export function formatSigned(value: number): string {
  return trimNumber(value, 1).replace('-', '−');
}

export function trimNumber(value: number, decimals: number): string {
  return String(Number(value.toFixed(decimals)));
}

/** `MP4`, `MP4 or MOV`, `JPEG, PNG or WebP`. */
export function listContainers(ids: readonly ContainerId[]): string {
  return joinWords(
    ids.map((id) => containerTable[id].label),
    'or',
  );
}

export function joinWords(words: readonly string[], conjunction: 'or' | 'and'): string {
  if (words.length <= 1) return words[0] ?? '';
  return `${words.slice(0, -1).join(', ')} ${conjunction} ${words.at(-1)}`;
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'] as const;

/** `2026-11-27T16:00` → `27 Nov 2026, 16:00`. */
export function writeLocalTime(at: string, hasTime: boolean): string {
  const [date = '', time = ''] = at.split('T');
  const [year, month, day] = date.split('-').map(Number);
  return `${day} ${MONTHS[(month ?? 1) - 1]} ${year}${hasTime ? `, ${time}` : ''}`;
}

const CODEC_NAMES: Readonly<Record<string, string>> = {
  h264: 'H.264',
  hevc: 'HEVC',
  aac: 'AAC',
  vp8: 'VP8',
  vp9: 'VP9',
  av1: 'AV1',
  av01: 'AV1',
  mp3: 'MP3',
  opus: 'Opus',
  flac: 'FLAC',
  vorbis: 'Vorbis',
  pcm: 'PCM',
  prores: 'ProRes',
  mjpeg: 'Motion JPEG',
  mpeg4: 'MPEG-4',
  jpeg: 'JPEG',
  png: 'PNG',
  webp: 'WebP',
  tiff: 'TIFF',
};

/** A coding as people write it. */
export function writeCodec(codec: string): string {
  return CODEC_NAMES[codec] ?? codec;
}
