import { EMPTY_SERIES, type TakeSeries } from '../series/take-series.ts';
import { buildConstantFrameTimes } from '../time/frame-times.ts';
import type {
  DocumentFacts,
  MediaFacts,
  PhotoFacts,
  SeenPiece,
  SoundFacts,
  VideoFacts,
} from '../media/facts.ts';

const sound: SoundFacts = {
  streamIndex: 1,
  clippedCount: 0,
  codec: 'aac',
  profile: 'LC',
  channels: 2,
  layout: 'stereo',
  rateHz: 48_000,
  startUs: 0,
  startOffsetUs: 0,
  durationUs: 60_000_000,
  bitrateBps: 128_000,
  loudnessLufs: -23.8,
  loudnessRangeLu: 6,
  truePeakDbtp: -9,
};
const video: VideoFacts = {
  streamIndex: 0,
  codec: 'h264',
  profile: 'High',
  level: '4.0',
  pixelFormat: 'yuv420p',
  bitDepth: 8,
  chroma: '4:2:0',
  codedWidthPx: 1920,
  codedHeightPx: 1080,
  widthPx: 1920,
  heightPx: 1080,
  pixelAspect: { numerator: 1, denominator: 1 },
  rotationDegrees: 0,
  frameCount: 1500,
  frameRate: { numerator: 25, denominator: 1 },
  rateKind: 'constant',
  startUs: 0,
  durationUs: 60_000_000,
  color: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'limited' },
  hdr: null,
  interlace: 'progressive',
  bitrateBps: 16_000_000,
};
const photo: PhotoFacts = {
  codec: 'jpeg',
  widthPx: 4032,
  heightPx: 3024,
  orientation: 1,
  bitDepth: 8,
  channels: 3,
  hasAlpha: false,
  colorProfile: 'sRGB',
  isProgressive: false,
  frameCount: 1,
  piece: null,
};
const base = {
  sha256: 'a'.repeat(64),
  moovFirst: null,
  document: null,
  continuity: null,
  seen: null,
  likeness: null,
  conditions: null,
  unread: [],
  captureTime: null,
  locationPresent: false,
  deviceSerialPresent: false,
};

/** Facts of a one-minute 1080-line recording; parts can be replaced. */
export function buildVideoFacts(
  changes: Partial<VideoFacts> = {},
  all: Partial<MediaFacts> = {},
): MediaFacts {
  return {
    ...base,
    kind: 'video',
    container: 'mov',
    sizeBytes: 121_000_000,
    durationUs: 60_000_000,
    video: { ...video, ...changes },
    sound,
    photo: null,
    ...all,
  };
}
export function buildPhotoFacts(
  changes: Partial<PhotoFacts> = {},
  all: Partial<MediaFacts> = {},
): MediaFacts {
  return {
    ...base,
    kind: 'photo',
    container: 'heic',
    sizeBytes: 5_600_000,
    durationUs: null,
    video: null,
    sound: null,
    photo: { ...photo, ...changes },
    ...all,
  };
}
export function buildSoundFacts(
  changes: Partial<SoundFacts> = {},
  all: Partial<MediaFacts> = {},
): MediaFacts {
  return {
    ...base,
    kind: 'sound',
    container: 'wav',
    sizeBytes: 11_520_044,
    durationUs: 60_000_000,
    video: null,
    sound: { ...sound, ...changes },
    photo: null,
    ...all,
  };
}

/** Facts of a document of three pages with a picture in it. */
export function buildDocumentFacts(
  changes: Partial<DocumentFacts> = {},
  all: Partial<MediaFacts> = {},
): MediaFacts {
  return {
    ...base,
    kind: 'document',
    container: 'pdf',
    sizeBytes: 5_600_000,
    durationUs: null,
    video: null,
    sound: null,
    photo: null,
    document: {
      pageCount: 3,
      widthPx: 4032,
      heightPx: 3024,
      pictureCodec: 'jpeg',
      pictureCount: 3,
      ...changes,
    },
    ...all,
  };
}

/** The series of a take of constant rate, or of sound alone without one. */
export function buildSeries(facts: MediaFacts, changes: Partial<TakeSeries> = {}): TakeSeries {
  const { video } = facts;
  const frames = video ? buildConstantFrameTimes(video.startUs, video.frameCount, video.frameRate) : null;
  return { ...EMPTY_SERIES, frames, ...changes };
}

/** A piece that lies in the middle of its photograph and is seen for sure. */
export const SEEN_PIECE: SeenPiece = {
  corners: [
    { x: 0.2, y: 0.1 },
    { x: 0.8, y: 0.12 },
    { x: 0.85, y: 0.9 },
    { x: 0.15, y: 0.88 },
  ],
  aspect: 0.7,
  confidence: 0.9,
  isCutOff: false,
};
