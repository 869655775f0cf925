import { describe, expect, it } from 'vitest';
import { buildTableScene, drawPieceScene } from '../test-support/piece-scene.ts';
import type { RgbPicture } from './rgb-picture.ts';
import { seesPerson } from './see-person.ts';
import { isFromScreen } from './see-screen.ts';

const share = (scene: { widthPx: number; heightPx: number; corners: readonly { x: number; y: number }[] }) =>
  scene.corners.map(({ x, y }) => ({ x: x / scene.widthPx, y: y / scene.heightPx })) as never;

describe('isFromScreen', () => {
  /** A page with a title bar and lines of text, as a screen has it. */
  const page: RgbPicture = {
    widthPx: 160,
    heightPx: 120,
    bands: 3,
    bytes: Uint8Array.from({ length: 160 * 120 * 3 }, (_, at) => {
      const row = Math.floor(at / 480);
      return row < 12 ? 60 : row % 10 === 0 && at % 7 < 3 ? 20 : 250;
    }),
  };

  it('knows a page of a screen by its flat colors, and a photograph by its grain', () => {
    expect(isFromScreen(page, null)).toBe(true);
    const scene = { ...buildTableScene(3), noise: 2 };
    expect(isFromScreen(drawPieceScene(scene), null)).toBe(false);
  });

  it('takes what lies at a slant for photographed, however flat its colors are', () => {
    const scene = { ...buildTableScene(4), noise: 0, falloff: 0, stripes: 0 };
    expect(isFromScreen(drawPieceScene(scene), share(scene))).toBe(false);
  });
});

describe('seesPerson', () => {
  const scene = { ...buildTableScene(5), table: [110, 118, 122] as const, stripes: 0, discs: [] };
  const head = { x: 40, y: 60, radius: 34, color: [196, 150, 124] as const };

  it('sees a head beside the piece, and nobody where none is', () => {
    const [a, , , d] = scene.corners;
    const beside = { ...head, x: Math.min(a.x, d.x) / 2, radius: Math.min(34, Math.min(a.x, d.x) / 2) };
    expect(seesPerson(drawPieceScene({ ...scene, discs: [beside] }), share(scene))).toBe(true);
    expect(seesPerson(drawPieceScene(scene), share(scene))).toBe(false);
  });

  it('takes no table of wood for somebody', () => {
    const wood = { ...scene, table: [170, 125, 92] as const, stripes: 8 };
    expect(seesPerson(drawPieceScene(wood), share(wood))).toBe(false);
  });
});
