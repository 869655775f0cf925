import type { CaptureMode } from '@apodix/core';

export interface RecordingFormat {
  readonly mimeType: string;
  readonly ending: string;
}

// Matroska's clusters can be read up to where they end: a recording that was cut off is worth all that is
// there.
const VIDEO = [
  'video/webm;codecs=vp9,opus',
  'video/webm;codecs=vp8,opus',
  'video/webm',
  'video/mp4;codecs=avc1.640028,mp4a.40.2',
  'video/mp4',
] as const;
const SOUND = [
  'audio/webm;codecs=opus',
  'audio/mp4;codecs=mp4a.40.2',
  'audio/ogg;codecs=opus',
  'audio/mp4',
] as const;
/** With few cores the lighter coding leaves room for looking at the picture. */
const FEW_CORES = 4;

/** The best form that this browser records; null where it records nothing. */
export function chooseFormat(
  mode: Exclude<CaptureMode, 'photo'>,
  isSupported: (mimeType: string) => boolean,
  cores: number,
): RecordingFormat | null {
  const wished: readonly string[] =
    mode === 'sound' ? SOUND : cores <= FEW_CORES ? [...VIDEO.slice(1), VIDEO[0]] : VIDEO;
  const mimeType = wished.find(isSupported);
  if (mimeType === undefined) return null;
  const [container = ''] = (mimeType.split('/')[1] ?? '').split(';');
  return { mimeType, ending: container === 'mp4' && mode === 'sound' ? 'm4a' : container };
}
