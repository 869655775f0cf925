import { z } from 'zod';

export const MediaKind = z.enum(['video', 'sound', 'photo', 'document']);
export type MediaKind = z.infer<typeof MediaKind>;

export const ContainerId = z.enum([
  'mp4',
  'mov',
  'webm',
  'mkv',
  'avi',
  'mpegts',
  'mpegps',
  'm4a',
  'mp3',
  'wav',
  'aiff',
  'flac',
  'ogg',
  'aac',
  'jpeg',
  'png',
  'heic',
  'avif',
  'webp',
  'tiff',
  'gif',
  'bmp',
  'pdf',
]);
export type ContainerId = z.infer<typeof ContainerId>;

export interface ContainerRow {
  /** As people say it. */
  readonly label: string;
  readonly kind: MediaKind;
  /** The usual file-name ending first. */
  readonly endings: readonly string[];
  readonly mimeType: string;
  /** The demuxer that FFmpeg is held to; null where FFmpeg never sees the file. */
  readonly demuxer: string | null;
  /** Whether Apodix can write it. */
  readonly isMade: boolean;
}

/** Every container that Apodix knows by its bytes. */
export const containerTable: Readonly<Record<ContainerId, ContainerRow>> = {
  mp4: {
    label: 'MP4',
    kind: 'video',
    endings: ['mp4', 'm4v', '3gp'],
    mimeType: 'video/mp4',
    demuxer: 'mov',
    isMade: true,
  },
  mov: {
    label: 'MOV',
    kind: 'video',
    endings: ['mov', 'qt'],
    mimeType: 'video/mp4',
    demuxer: 'mov',
    isMade: true,
  },
  webm: {
    label: 'WebM',
    kind: 'video',
    endings: ['webm'],
    mimeType: 'video/webm',
    demuxer: 'matroska',
    isMade: true,
  },
  mkv: {
    label: 'MKV',
    kind: 'video',
    endings: ['mkv'],
    mimeType: 'video/x-matroska',
    demuxer: 'matroska',
    isMade: false,
  },
  avi: {
    label: 'AVI',
    kind: 'video',
    endings: ['avi'],
    mimeType: 'video/x-msvideo',
    demuxer: 'avi',
    isMade: false,
  },
  mpegts: {
    label: 'MPEG-TS',
    kind: 'video',
    endings: ['ts', 'mts', 'm2ts'],
    mimeType: 'video/mp2t',
    demuxer: 'mpegts',
    isMade: false,
  },
  mpegps: {
    label: 'MPEG-PS',
    kind: 'video',
    endings: ['mpg', 'mpeg', 'vob'],
    mimeType: 'video/mpeg',
    demuxer: 'mpeg',
    isMade: false,
  },
  m4a: { label: 'M4A', kind: 'sound', endings: ['m4a'], mimeType: 'audio/mp4', demuxer: 'mov', isMade: true },
  mp3: {
    label: 'MP3',
    kind: 'sound',
    endings: ['mp3'],
    mimeType: 'audio/mpeg',
    demuxer: 'mp3',
    isMade: true,
  },
  wav: { label: 'WAV', kind: 'sound', endings: ['wav'], mimeType: 'audio/wav', demuxer: 'wav', isMade: true },
  aiff: {
    label: 'AIFF',
    kind: 'sound',
    endings: ['aiff', 'aif'],
    mimeType: 'audio/aiff',
    demuxer: 'aiff',
    isMade: false,
  },
  flac: {
    label: 'FLAC',
    kind: 'sound',
    endings: ['flac'],
    mimeType: 'audio/flac',
    demuxer: 'flac',
    isMade: true,
  },
  ogg: {
    label: 'Opus',
    kind: 'sound',
    endings: ['opus', 'ogg', 'oga'],
    mimeType: 'audio/ogg',
    demuxer: 'ogg',
    isMade: true,
  },
  aac: {
    label: 'AAC',
    kind: 'sound',
    endings: ['aac'],
    mimeType: 'audio/aac',
    demuxer: 'aac',
    isMade: false,
  },
  jpeg: {
    label: 'JPEG',
    kind: 'photo',
    endings: ['jpg', 'jpeg'],
    mimeType: 'image/jpeg',
    demuxer: null,
    isMade: true,
  },
  png: { label: 'PNG', kind: 'photo', endings: ['png'], mimeType: 'image/png', demuxer: null, isMade: true },
  heic: {
    label: 'HEIC',
    kind: 'photo',
    endings: ['heic', 'heif'],
    mimeType: 'image/heic',
    demuxer: null,
    isMade: false,
  },
  avif: {
    label: 'AVIF',
    kind: 'photo',
    endings: ['avif'],
    mimeType: 'image/avif',
    demuxer: null,
    isMade: false,
  },
  webp: {
    label: 'WebP',
    kind: 'photo',
    endings: ['webp'],
    mimeType: 'image/webp',
    demuxer: null,
    isMade: true,
  },
  tiff: {
    label: 'TIFF',
    kind: 'photo',
    endings: ['tif', 'tiff'],
    mimeType: 'image/tiff',
    demuxer: null,
    isMade: true,
  },
  gif: { label: 'GIF', kind: 'photo', endings: ['gif'], mimeType: 'image/gif', demuxer: null, isMade: false },
  bmp: { label: 'BMP', kind: 'photo', endings: ['bmp'], mimeType: 'image/bmp', demuxer: null, isMade: false },
  pdf: {
    label: 'PDF',
    kind: 'document',
    endings: ['pdf'],
    mimeType: 'application/pdf',
    demuxer: null,
    isMade: true,
  },
};

/** What kind of file a container holds. */
export function findMediaKind(container: ContainerId): MediaKind {
  return containerTable[container].kind;
}

/** Whether it is a picture that stands still, or pages of them. */
export function isStillKind(kind: MediaKind | null): kind is 'photo' | 'document' {
  return kind === 'photo' || kind === 'document';
}

/** What a slot or a count asks for, as one kind: documents go where photographs are wanted. */
export function findSlotItem(kind: MediaKind): Exclude<MediaKind, 'document'> {
  return kind === 'document' ? 'photo' : kind;
}

/** Finds a container by what people call it or by a file-name ending, in any case, with or without a dot. */
export function parseContainerName(rawName: string): ContainerId | null {
  const name = rawName.trim().toLowerCase().replace(/^\./, '');
  for (const id of ContainerId.options) {
    const row = containerTable[id];
    if (id === name || row.label.toLowerCase() === name || row.endings.includes(name)) return id;
  }
  return null;
}
