import { describe, expect, it } from 'vitest';
import { FlickerMeter } from '../picture/flicker-meter.ts';
import type { LumaPicture, RgbPicture } from '../picture/rgb-picture.ts';
import { buildTableScene, createRandom, drawPieceScene } from '../test-support/piece-scene.ts';
import { describePicture } from './describe-picture.ts';
import { readPicture } from './read-picture.ts';

const SIZE = { widthPx: 640, heightPx: 360 };
type Paint = (x: number, y: number) => readonly [number, number, number];

function paint(at: Paint): RgbPicture {
  const bytes = new Uint8Array(SIZE.widthPx * SIZE.heightPx * 3);
  for (let y = 0; y < SIZE.heightPx; y += 1)
    for (let x = 0; x < SIZE.widthPx; x += 1) bytes.set(at(x, y), (y * SIZE.widthPx + x) * 3);
  return { ...SIZE, bytes, bands: 3 };
}
/** 0 and 1 in turns of so many points, soft over one point where they change, as a lens draws it. */
const wave = (at: number, length: number) => {
  const phase = (((at % (2 * length)) + 2 * length) % (2 * length)) - length;
  return Math.max(
    0,
    Math.min(1, Math.min(Math.abs(phase), length - Math.abs(phase)) * Math.sign(phase) + 0.5),
  );
};
/** A room of bars and plates: enough edges, turned by some degrees. */
const room =
  (degrees: number, light = 1, tint: readonly [number, number, number] = [1, 1, 1]): Paint =>
  (x, y) => {
    const turn = (degrees * Math.PI) / 180;
    const [u, v] = [x * Math.cos(turn) + y * Math.sin(turn), y * Math.cos(turn) - x * Math.sin(turn)];
    const level = 90 + 60 * wave(u, 90) + 40 * wave(v, 70);
    return tint.map((band) => Math.min(255, level * light * band)) as unknown as readonly [
      number,
      number,
      number,
    ];
  };
const advise = (picture: RgbPicture, wantsPiece = false) =>
  describePicture(readPicture(picture, wantsPiece), null, picture, wantsPiece);

/** Averages over a square of so many points, as a lens out of focus does. */
function blur(picture: RgbPicture, reach: number): RgbPicture {
  const bytes = new Uint8Array(picture.bytes.length);
  const { widthPx, heightPx } = picture;
  for (let y = 0; y < heightPx; y += 1)
    for (let x = 0; x < widthPx; x += 1)
      for (let band = 0; band < 3; band += 1) {
        let [sum, count] = [0, 0];
        for (let dy = -reach; dy <= reach; dy += 1)
          for (let dx = -reach; dx <= reach; dx += 1) {
            const [px, py] = [x + dx, y + dy];
            if (px < 0 || py < 0 || px >= widthPx || py >= heightPx) continue;
            sum += picture.bytes[(py * widthPx + px) * 3 + band] ?? 0;
            count += 1;
          }
        bytes[(y * widthPx + x) * 3 + band] = sum / count;
      }
  return { ...picture, bytes };
}

describe('light', () => {
  it.each([
    [0.2, [1, 1, 1], 'Too dark'],
    [0.5, [1, 1, 1], 'A little dim'],
    [1, [1, 1, 1], 'Bright enough.'],
    [1, [1.15, 1, 0.75], 'Bright enough, the lamp is warm'],
    [2.6, [1, 1, 1], 'Too bright'],
  ] as const)('%d of the light, tint %j: %s', (light, tint, words) => {
    expect(advise(paint(room(0, light, tint))).light.text).toContain(words);
  });
  it('a lamp that shines in the varnish', () => {
    const shine = paint((x, y) => (Math.hypot(x - 300, y - 150) < 22 ? [255, 255, 255] : room(0)(x, y)));
    expect(advise(shine).light.text).toContain('A lamp shines in it');
  });
});

describe('tilt', () => {
  it.each([-7, -2, 0, 3, 9])('of %d° is measured to half a degree', (degrees) => {
    expect(readPicture(paint(room(degrees)), false).tiltDegrees).toBeCloseTo(degrees, 0);
  });
  it('says which way to turn', () => {
    expect(advise(paint(room(0))).level.text).toBe('Level.');
    expect(advise(paint(room(4))).level.text).toMatch(/^Tilted 4\.\d°: turn the camera clockwise/);
  });
});

describe('focus', () => {
  it('tells a blurred picture from a sharp one', () => {
    const sharp = drawPieceScene(buildTableScene(2));
    expect(advise(sharp).focus.text).toBe('Sharp.');
    expect(advise(blur(sharp, 4)).focus.text).toContain('Blurred');
  });
  it('says nothing of an empty wall', () => {
    expect(
      readPicture(
        paint(() => [120, 120, 120]),
        false,
      ).blur,
    ).toBeNull();
  });
});

describe('the piece', () => {
  it('is whole, small, cut off or not there', () => {
    const scene = buildTableScene(0);
    const [a] = scene.corners;
    const around = (share: number) =>
      scene.corners.map(({ x, y }) => ({ x: 320 + (x - 320) * share, y: 180 + (y - 180) * share }));
    const look = (corners: readonly { x: number; y: number }[]) =>
      advise(drawPieceScene({ ...scene, corners: corners as never }), true).piece?.text ?? '';
    expect(look(around(0.7))).toMatch(/^It fills \d+ % of the picture: come closer/);
    expect(look(scene.corners.map(({ x, y }) => ({ x, y: y - (a.y + 30) })))).toContain('Cut off at the top');
    expect(look(scene.corners.map(({ x, y }) => ({ x: x + 3000, y })))).toContain('No piece is found');
  });
});

describe('flicker', () => {
  const frame = (at: Paint): LumaPicture => {
    const { bytes, ...size } = paint(at);
    return {
      widthPx: size.widthPx,
      heightPx: size.heightPx,
      luma: Uint8Array.from([...bytes].filter((_, index) => index % 3 === 0)),
    };
  };
  const run = (build: (look: number) => Paint) => {
    const meter = new FlickerMeter();
    let last: number | null = null;
    for (let look = 0; look < 14; look += 1) last = meter.add(frame(build(look)));
    return last ?? 0;
  };
  it('sees the bands of a lamp that pulses', () => {
    const depth = run((look) => (x, y) => {
      const pulse = 1 + 0.08 * Math.sin(y / 25 + look * 1.9);
      return room(0, pulse)(x, y);
    });
    expect(depth).toBeGreaterThan(0.03);
  });
  it('does not take somebody who moves, or noise, for one', () => {
    const random = createRandom(9);
    const depth = run((look) => (x, y) => {
      const grain = 1 + 0.03 * (random() - 0.5);
      return Math.hypot(x - 150 - 20 * look, y - 180) < 70 ? [40, 40, 40] : room(0, grain)(x, y);
    });
    expect(depth).toBeLessThan(0.02);
  });
});
