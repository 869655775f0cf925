import { describe, expect, it } from 'vitest';
import {
  buildHeldScene,
  buildTableScene,
  drawPieceScene,
  type PieceScene,
} from '../test-support/piece-scene.ts';
import { findPiece, LEAST_CONFIDENCE, type Corners } from './find-piece.ts';
import { convertRgbToLuma } from './rgb-picture.ts';

const countFrom = (first: number, count: number) =>
  Array.from({ length: count }, (_, index) => first + index);
const look = (scene: PieceScene) => findPiece(convertRgbToLuma(drawPieceScene(scene)));

/** Mean distance of the corners from where the scene has them, as a share of the diagonal. */
function measureError(found: Corners, { corners, widthPx, heightPx }: PieceScene): number {
  const sum = found.reduce(
    (all, { x, y }, index) => all + Math.hypot(x - (corners[index]?.x ?? 0), y - (corners[index]?.y ?? 0)),
    0,
  );
  return sum / 4 / Math.hypot(widthPx, heightPx);
}

/** Shares of the diagonal by which answers are off; those that are unsure are left out. */
function listErrors(scenes: readonly PieceScene[]): number[] {
  return scenes.flatMap((scene) => {
    const found = look(scene);
    return found && found.confidence >= LEAST_CONFIDENCE ? [measureError(found.corners, scene)] : [];
  });
}

describe('findPiece', () => {
  it('finds the corners of sheets on tables within 0.5 % of the diagonal', () => {
    const errors = listErrors(countFrom(0, 14).map((seed) => buildTableScene(seed)));
    expect(errors.length).toBeGreaterThanOrEqual(12);
    expect(Math.max(...errors)).toBeLessThan(0.005);
  });
  it('finds sheets that are held up, fingers over two sides and a head behind, within 1 %', () => {
    const errors = listErrors(countFrom(0, 10).map(buildHeldScene));
    expect(errors.length).toBeGreaterThanOrEqual(8);
    expect(Math.max(...errors)).toBeLessThan(0.01);
  });
  it('says which borders a piece runs over', () => {
    const scene = buildTableScene(3);
    const moved = scene.corners.map(({ x, y }) => ({ x, y: y - 90 })) as unknown as Corners;
    expect(look({ ...scene, corners: moved })?.touches).toEqual(['top']);
  });
  it('is unsure of an empty table', () => {
    const empty = buildTableScene(8);
    const away = empty.corners.map(({ x, y }) => ({ x: x + 5000, y })) as unknown as Corners;
    const found = look({ ...empty, corners: away });
    expect(found === null || found.confidence < LEAST_CONFIDENCE).toBe(true);
  });
});
