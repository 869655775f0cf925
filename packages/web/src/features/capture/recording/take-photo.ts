import { convertRgbToLuma, measureDetail } from '@apodix/core';

/** A still that was taken, with how it was: by the camera's own still mode, or from the running picture. */
export interface TakenPhoto {
  readonly blob: Blob;
  readonly way: 'still' | 'frame';
}

interface StillCamera {
  getPhotoCapabilities(): Promise<{ imageWidth?: { max: number }; imageHeight?: { max: number } }>;
  takePhoto(settings: object): Promise<Blob>;
}
type StillCameraClass = new (track: MediaStreamTrack) => StillCamera;

const SMALL_EDGE = 640;
const QUALITY = 0.95;
const STILLS = 2;
const WITHIN_MS = 1000;

/**
 * Takes a photograph: by the camera's still mode at its highest resolution where that is more than the
 * running picture has, else the sharpest frame of the last second.
 */
export async function takePhoto(track: MediaStreamTrack, ring: FrameRing): Promise<TakenPhoto> {
  const still = await findStillMode(track);
  if (still) {
    const shots = await takeStills(still.camera, still.settings);
    const sharpest = await pickSharpest(shots);
    if (sharpest) return { blob: sharpest, way: 'still' };
  }
  const blob = await ring.takeSharpest();
  if (!blob) throw new Error('The camera has not shown a picture yet.');
  return { blob, way: 'frame' };
}

async function findStillMode(
  track: MediaStreamTrack,
): Promise<{ camera: StillCamera; settings: object } | null> {
  const Camera = (globalThis as { ImageCapture?: StillCameraClass }).ImageCapture;
  if (!Camera) return null;
  try {
    const camera = new Camera(track);
    const { imageWidth, imageHeight } = await camera.getPhotoCapabilities();
    const { width = 0, height = 0 } = track.getSettings();
    const [maxWidth, maxHeight] = [imageWidth?.max ?? 0, imageHeight?.max ?? 0];
    if (maxWidth * maxHeight <= width * height) return null;
    return { camera, settings: { imageWidth: maxWidth, imageHeight: maxHeight } };
  } catch {
    return null;
  }
}

async function takeStills(camera: StillCamera, settings: object): Promise<Blob[]> {
  const until = performance.now() + WITHIN_MS;
  const shots: Blob[] = [];
  while (shots.length < STILLS && performance.now() < until)
    try {
      shots.push(await camera.takePhoto(settings));
    } catch {
      break;
    }
  return shots;
}

async function pickSharpest(shots: readonly Blob[]): Promise<Blob | null> {
  if (shots.length < 2) return shots[0] ?? null;
  let best: { shot: Blob; detail: number } | null = null;
  for (const shot of shots) {
    const detail = await measureBlobDetail(shot).catch(() => 0);
    if (!best || detail > best.detail) best = { shot, detail };
  }
  return best?.shot ?? null;
}

async function measureBlobDetail(shot: Blob): Promise<number> {
  const picture = await createImageBitmap(shot);
  const detail = measurePictureDetail(picture);
  picture.close();
  return detail;
}

/** How much detail a picture has at a small size; for comparing pictures of the same thing. */
function measurePictureDetail(picture: ImageBitmap | HTMLVideoElement): number {
  const [width, height] =
    'videoWidth' in picture ? [picture.videoWidth, picture.videoHeight] : [picture.width, picture.height];
  const scale = Math.min(1, SMALL_EDGE / Math.max(width, height));
  const [widthPx, heightPx] = [Math.round(width * scale), Math.round(height * scale)];
  const context = new OffscreenCanvas(widthPx, heightPx).getContext('2d');
  if (!context) return 0;
  context.drawImage(picture, 0, 0, widthPx, heightPx);
  const { data } = context.getImageData(0, 0, widthPx, heightPx);
  return measureDetail(convertRgbToLuma({ widthPx, heightPx, bytes: data, bands: 4 }));
}

const EVERY_MS = 200;
/** Points of all frames that are kept together: some 100 MB. */
const MOST_POINTS = 26_000_000;

/** The frames of the last second at their full size, as many as memory allows. */
export class FrameRing {
  readonly #video: HTMLVideoElement;
  readonly #timer: ReturnType<typeof setInterval>;
  #frames: { at: number; picture: ImageBitmap; detail: number }[] = [];

  constructor(video: HTMLVideoElement) {
    this.#video = video;
    this.#timer = setInterval(() => void this.#look(), EVERY_MS);
  }

  async #look(): Promise<void> {
    const { videoWidth, videoHeight } = this.#video;
    if (!videoWidth) return;
    const picture = await createImageBitmap(this.#video).catch(() => null);
    if (!picture) return;
    const now = performance.now();
    this.#frames.push({ at: now, picture, detail: measurePictureDetail(picture) });
    const most = Math.max(1, Math.floor(MOST_POINTS / (videoWidth * videoHeight)));
    const young = this.#frames.filter((frame) => frame.at > now - WITHIN_MS);
    const kept = [...young].sort((left, right) => right.detail - left.detail).slice(0, most);
    for (const frame of this.#frames) if (!kept.includes(frame)) frame.picture.close();
    this.#frames = kept;
  }

  /** The sharpest as JPEG; null before there is any. Never mirrored: it is what the camera sees. */
  async takeSharpest(): Promise<Blob | null> {
    if (this.#frames.length === 0) await this.#look();
    const [best] = [...this.#frames].sort((left, right) => right.detail - left.detail);
    if (!best) return null;
    const canvas = new OffscreenCanvas(best.picture.width, best.picture.height);
    canvas.getContext('2d')?.drawImage(best.picture, 0, 0);
    return canvas.convertToBlob({ type: 'image/jpeg', quality: QUALITY });
  }

  end(): void {
    clearInterval(this.#timer);
    for (const { picture } of this.#frames) picture.close();
    this.#frames = [];
  }
}
