import { describe, expect, it } from 'vitest';
import { buildConstraints, describeRefused, type CameraWish } from './build-constraints.ts';

const wish: CameraWish = {
  mode: 'video',
  quality: { lines: 720, frameRate: 30, bitrateBps: 2_000_000 } as unknown as CameraWish['quality'],
  deviceId: null,
  microphoneId: null,
  facing: 'user',
  isPlainSound: true,
};
const OFF = { echoCancellation: false, noiseSuppression: false, autoGainControl: false };

describe('what a browser is asked for', () => {
  it('music is heard as it is: all three workings off; speech with them', () => {
    expect(buildConstraints(wish).audio).toMatchObject(OFF);
    expect(buildConstraints({ ...wish, isPlainSound: false }).audio).toMatchObject({
      echoCancellation: true,
      noiseSuppression: true,
      autoGainControl: true,
    });
  });

  it('no more lines than are of use, as a wish that no camera is refused for', () => {
    expect(buildConstraints(wish).video).toEqual({
      facingMode: { ideal: 'user' },
      width: { ideal: 1280 },
      height: { ideal: 720 },
      frameRate: { ideal: 30 },
    });
  });

  it('for a photograph the most there is and no microphone; for sound no camera; a chosen one and no other', () => {
    const photo = buildConstraints({ ...wish, mode: 'photo', facing: 'environment' });
    expect(photo).toMatchObject({ audio: false, video: { width: { ideal: 8192 }, height: { ideal: 8192 } } });
    expect(buildConstraints({ ...wish, mode: 'sound' }).video).toBe(false);
    const chosen = buildConstraints({ ...wish, deviceId: 'usb', microphoneId: 'mic' });
    expect(chosen.video).toMatchObject({ deviceId: { exact: 'usb' } });
    expect(chosen.audio).toMatchObject({ deviceId: { exact: 'mic' } });
  });
});

describe('what the browser then did', () => {
  it('is read back from the track: nothing to say, refused, not told', () => {
    expect(describeRefused(OFF)).toBeNull();
    expect(describeRefused({ ...OFF, noiseSuppression: true, autoGainControl: true })).toMatch(
      /would not switch off: noise suppression, automatic level\./,
    );
    expect(describeRefused({ echoCancellation: false })).toMatch(
      /does not say whether it uses: noise suppression, automatic level\./,
    );
  });
});
