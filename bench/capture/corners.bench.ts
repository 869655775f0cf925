import { convertRgbToLuma, findPiece, LEAST_CONFIDENCE, measureDetail, type Corners } from '@apodix/core';
import {
  buildHeldScene,
  buildTableScene,
  drawPieceScene,
  type PieceScene,
} from '../../packages/core/src/test-support/piece-scene.ts';
import type { Benchmark, Row } from '../benchmark.ts';
import { measureRatio } from '../measure-ratio.ts';

const [SHORT, LONG] = [40, 200];

function measureError(found: Corners, { corners, widthPx, heightPx }: PieceScene): number {
  const sum = found.reduce(
    (all, { x, y }, index) => all + Math.hypot(x - (corners[index]?.x ?? 0), y - (corners[index]?.y ?? 0)),
    0,
  );
  return (100 * sum) / 4 / Math.hypot(widthPx, heightPx);
}

const percentile = (values: readonly number[], share: number) =>
  [...values].sort((left, right) => left - right)[
    Math.min(values.length - 1, Math.floor(values.length * share))
  ] ?? Number.NaN;

/** How well corners are found on scenes whose truth is known, and what a look costs. */
export const cornersBenchmark: Benchmark = {
  name: 'corners',
  isShort: true,
  run: (isLong, tell) => {
    const rows: Row[] = [];
    const count = isLong ? LONG : SHORT;
    const kinds = { 'on a table': buildTableScene, 'held up': buildHeldScene };
    for (const [name, build] of Object.entries(kinds)) {
      const errors: number[] = [];
      let [unsure, last] = [0, convertRgbToLuma(drawPieceScene(build(1000)))];
      for (let seed = 1000; seed < 1000 + count; seed += 1) {
        const scene = build(seed);
        last = convertRgbToLuma(drawPieceScene(scene));
        const found = findPiece(last);
        if (!found || found.confidence < LEAST_CONFIDENCE) unsure += 1;
        else errors.push(measureError(found.corners, scene));
      }
      const { milliseconds, ratio } = measureRatio({
        baseline: 'one pass over the points',
        runBaseline: () => measureDetail(last),
        run: () => findPiece(last),
        seconds: 3,
      });
      const row = {
        scenes: name,
        count,
        answered: `${Math.round((100 * errors.length) / count)} %`,
        unsure,
        'median error, % of diagonal': Number(percentile(errors, 0.5).toFixed(3)),
        '95th': Number(percentile(errors, 0.95).toFixed(3)),
        worst: Number(Math.max(...errors).toFixed(3)),
        'ms a look': milliseconds,
        'times one pass': ratio,
      };
      rows.push(row);
      tell(row);
    }
    const title = 'Corners of a piece on 640 points (baseline of time: one pass over the same points)';
    return Promise.resolve({ tables: [{ title, rows }] });
  },
};
