import type { FrameTimes, TimeRange } from '@apodix/core';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { computed, effectScope, shallowRef, type EffectScope } from 'vue';
import { useFramePlayer } from './useFramePlayer.ts';

/** A phone's rate: three frames, a long one, three more. */
const wandering: FrameTimes = {
  timesUs: [0, 33_000, 66_000, 200_000, 233_000, 266_000],
  endUs: 300_000,
} as unknown as FrameTimes;

let scope: EffectScope;
let frames: Map<number, FrameRequestCallback>;
const one = [{ startUs: 33_000, finishUs: 233_000 }];
const parts = shallowRef<readonly TimeRange[]>(one);
beforeEach(() => {
  scope = effectScope();
  frames = new Map();
  parts.value = one;
  vi.stubGlobal('requestAnimationFrame', (call: FrameRequestCallback) => {
    frames.set(frames.size + 1, call);
    return frames.size;
  });
  vi.stubGlobal('cancelAnimationFrame', (id: number) => frames.delete(id));
});
afterEach(() => {
  scope.stop();
  vi.unstubAllGlobals();
});
const draw = () => {
  const calls = [...frames.values()];
  frames.clear();
  calls.forEach((call) => call(0));
};
function start(times: FrameTimes | null = wandering) {
  const element = { currentTime: 0, play: vi.fn(() => Promise.resolve()), pause: vi.fn() };
  const player = scope.run(() =>
    useFramePlayer({
      frames: computed(() => times),
      parts: computed(() => parts.value),
      durationUs: computed(() => 300_000),
      frameUs: computed(() => 33_000),
    }),
  );
  if (!player) throw new TypeError('a player was expected');
  player.attach(element);
  return { player, element };
}

it('steps from frame to frame at whatever rate they come, and stays within the take', () => {
  const { player, element } = start();
  const seen = [player.positionUs.value];
  for (let count = 0; count < 7; count += 1) {
    player.step(1);
    seen.push(player.positionUs.value);
  }
  expect(seen).toEqual([0, 33_000, 66_000, 200_000, 233_000, 266_000, 266_000, 266_000]);
  // Shown is the frame that was asked for: the player is sent a little into it.
  expect(element.currentTime).toBeCloseTo(0.268, 6);
  player.step(-99);
  expect([player.positionUs.value, player.frameIndex.value]).toEqual([0, 0]);
});

it('stands on the frame that is shown at any instant, and knows where that one ends', () => {
  const { player } = start();
  player.seek(190_000);
  expect([player.positionUs.value, player.frameIndex.value, player.frameEndUs.value]).toEqual([
    66_000, 2, 200_000,
  ]);
  player.seek(9_000_000);
  expect([player.positionUs.value, player.frameEndUs.value]).toEqual([266_000, 300_000]);
});

it('plays what is kept from its start, and goes back there at its finish', async () => {
  const { player, element } = start();
  player.toggle();
  await Promise.resolve();
  expect([player.positionUs.value, element.play.mock.calls.length]).toEqual([33_000, 1]);
  element.currentTime = 0.21;
  draw();
  expect(player.positionUs.value).toBe(200_000);
  element.currentTime = 0.234;
  draw();
  expect([player.isPlaying.value, player.positionUs.value, element.pause.mock.calls.length]).toEqual([
    false,
    33_000,
    1,
  ]);
});

it('plays several parts in their order, over and over where that is wanted', async () => {
  parts.value = [
    { startUs: 200_000, finishUs: 266_000 },
    { startUs: 33_000, finishUs: 66_000 },
  ];
  const { player, element } = start();
  player.isLooping.value = true;
  player.toggle();
  await Promise.resolve();
  expect(player.positionUs.value).toBe(200_000);
  element.currentTime = 0.27;
  draw();
  expect([player.isPlaying.value, player.positionUs.value]).toEqual([true, 33_000]);
  element.currentTime = 0.07;
  draw();
  expect([player.isPlaying.value, player.positionUs.value]).toEqual([true, 200_000]);
});

it('is slower to look at where that is wanted, for the next take too', () => {
  const { player } = start();
  player.setSpeed(0.25);
  const next = { currentTime: 0, playbackRate: 1, preservesPitch: false, play: vi.fn(), pause: vi.fn() };
  player.attach(next as never);
  expect([next.playbackRate, next.preservesPitch]).toEqual([0.25, true]);
});

it('where a browser will not play, it does not say that it plays', async () => {
  const { player, element } = start();
  element.play.mockRejectedValueOnce(new DOMException('Not allowed.'));
  player.toggle();
  await Promise.resolve();
  await Promise.resolve();
  expect(player.isPlaying.value).toBe(false);
});

it('sound alone moves by instants', () => {
  const { player } = start(null);
  player.seek(123_456);
  player.step(1);
  expect([player.positionUs.value, player.frameIndex.value]).toEqual([156_456, null]);
  player.seek(9_000_000);
  expect(player.positionUs.value).toBe(300_000);
});

it('plays parts of another take by what plays that, and comes back to its own', () => {
  const element = { currentTime: 0, play: vi.fn(() => Promise.resolve()), pause: vi.fn() };
  const guest = { currentTime: 0, play: vi.fn(() => Promise.resolve()), pause: vi.fn() };
  const player = scope.run(() =>
    useFramePlayer({
      frames: computed(() => wandering),
      parts: computed(() => [
        { source: 0, startUs: 0, finishUs: 66_000 },
        { source: 1, startUs: 2_000_000, finishUs: 2_500_000 },
        // Not there yet: passed over.
        { source: 2, startUs: 0, finishUs: 9_000_000 },
        { source: 0, startUs: 200_000, finishUs: 266_000 },
      ]),
      durationUs: computed(() => 300_000),
      frameUs: computed(() => 33_000),
      guestOf: (source) => (source === 1 ? guest : null),
      chosen: computed(() => 0),
    }),
  );
  if (!player) throw new TypeError('a player was expected');
  player.attach(element);
  player.toggle();
  return Promise.resolve().then(() => {
    element.currentTime = 0.07;
    draw();
    expect([player.shownSource.value, guest.currentTime, guest.play.mock.calls.length]).toEqual([1, 2, 1]);
    expect(element.pause).toHaveBeenCalled();
    guest.currentTime = 2.51;
    draw();
    expect([player.shownSource.value, player.positionUs.value]).toEqual([0, 200_000]);
    expect(guest.pause).toHaveBeenCalled();
    element.currentTime = 0.27;
    draw();
    expect(player.isPlaying.value).toBe(false);
    expect(player.positionUs.value).toBe(0);
  });
});
