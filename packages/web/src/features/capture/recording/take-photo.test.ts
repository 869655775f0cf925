import { afterEach, describe, expect, it, vi } from 'vitest';
import { takePhoto, type FrameRing } from './take-photo.ts';

const frame = new Blob(['frame']);
const ring = { takeSharpest: () => Promise.resolve(frame) } as unknown as FrameRing;
const track = { getSettings: () => ({ width: 1920, height: 1080 }) } as MediaStreamTrack;

/** A camera whose still mode has so many points along its edges and gives these shots one after the other. */
function pretendStillMode(width: number, height: number, shots: readonly (Blob | Error)[]) {
  const asked: object[] = [];
  const left = [...shots];
  vi.stubGlobal(
    'ImageCapture',
    class {
      getPhotoCapabilities = () =>
        Promise.resolve({ imageWidth: { max: width }, imageHeight: { max: height } });
      takePhoto = (settings: object) => {
        asked.push(settings);
        const next = left.shift() ?? new Error('no more');
        return next instanceof Error ? Promise.reject(next) : Promise.resolve(next);
      };
    },
  );
  return asked;
}
/** Pictures with so much detail, by the shot they came from. */
function pretendPictures(details: ReadonlyMap<Blob, number>): void {
  vi.stubGlobal('createImageBitmap', (shot: Blob) =>
    Promise.resolve({ width: 8, height: 8, detail: details.get(shot) ?? 0, close: () => undefined }),
  );
  vi.stubGlobal(
    'OffscreenCanvas',
    class {
      getContext() {
        let detail = 0;
        return {
          drawImage: (picture: { detail: number }) => (detail = picture.detail),
          getImageData: () => ({
            // Stripes as strong as there is detail.
            data: Uint8ClampedArray.from({ length: 8 * 8 * 4 }, (_, at) => ((at >> 2) % 2 ? detail : 0)),
          }),
        };
      }
    },
  );
}
afterEach(() => vi.unstubAllGlobals());

describe('a photograph', () => {
  it('is taken by the still mode at its most where that is more, and the sharper shot is kept', async () => {
    const [soft, sharp] = [new Blob(['soft']), new Blob(['sharp'])];
    const asked = pretendStillMode(4032, 3024, [soft, sharp]);
    pretendPictures(
      new Map([
        [soft, 20],
        [sharp, 200],
      ]),
    );
    expect(await takePhoto(track, ring)).toEqual({ blob: sharp, way: 'still' });
    expect(asked).toEqual(Array.from({ length: 2 }, () => ({ imageWidth: 4032, imageHeight: 3024 })));
  });

  it('is the one shot where a second cannot be had', async () => {
    const only = new Blob(['only']);
    pretendStillMode(4032, 3024, [only, new Error('busy')]);
    expect(await takePhoto(track, ring)).toEqual({ blob: only, way: 'still' });
  });

  it('is the sharpest frame where the still mode has no more points, fails, or is not there', async () => {
    expect(await takePhoto(track, ring)).toEqual({ blob: frame, way: 'frame' });
    pretendStillMode(1920, 1080, []);
    expect((await takePhoto(track, ring)).way).toBe('frame');
    pretendStillMode(4032, 3024, [new Error('broken')]);
    expect((await takePhoto(track, ring)).way).toBe('frame');
  });
});
