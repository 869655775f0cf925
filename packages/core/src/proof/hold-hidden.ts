import { composeAffine, invertAffine, mapToSource, type Framing } from '../geometry/frame.ts';
import { countHiddenCells, findHidden, type HiddenArea } from '../geometry/hidden.ts';
import { mapSteady, type SteadyCourse } from '../geometry/steady.ts';
import type { SizePx } from '../geometry/turn.ts';
import type { FrameTimes } from '../time/frame-times.ts';
import type { Timeline } from '../timeline/timeline.ts';

/** What is left to be seen of areas that were to be hidden. */
export interface HiddenMatch {
  /** Areas of frames that were looked at. */
  readonly looked: number;
  /** The most of its contrast that any of them has in details finer than hiding leaves, 0 to 1. */
  readonly worstDetail: number;
  /** Where in the file; null where nothing was looked at. */
  readonly worstOutput: number | null;
}

/** Points across the box of an area at which it is looked at. */
const GRID = 48;
/** With less contrast than this (standard deviation, levels) there is nothing to be recognised. */
const FLAT_LEVELS = 4;
/** The edge of an ellipse is a step of its own: it is looked at inside of that. */
const INNER = 0.86;

/**
 * Looks at hidden areas of single frames of a made file, at its own size: whatever has details finer than the
 * cells that hiding leaves was not hidden.
 */
export class HiddenLook {
  readonly #areas: readonly HiddenArea[];
  readonly #source: SizePx;
  readonly #framing: Framing;
  readonly #frames: FrameTimes;
  readonly #timeline: Timeline;
  readonly #steady: SteadyCourse | null;
  #found: HiddenMatch = { looked: 0, worstDetail: 0, worstOutput: null };

  constructor(input: {
    readonly areas: readonly HiddenArea[];
    /** Size of the upright recording. */
    readonly source: SizePx;
    readonly framing: Framing;
    /** Frames of the take that the areas are of. */
    readonly frames: FrameTimes;
    readonly timeline: Timeline;
    /** How frames were moved before they were framed; null where they were not. */
    readonly steady?: SteadyCourse | null;
  }) {
    this.#steady = input.steady ?? null;
    this.#areas = input.areas;
    this.#source = input.source;
    this.#framing = input.framing;
    this.#frames = input.frames;
    this.#timeline = input.timeline;
  }

  get found(): HiddenMatch {
    return this.#found;
  }

  /** Looks at one frame: its brightness, row after row, 0 to 255. */
  add(output: number, levels: Uint8Array, size: SizePx): void {
    const frame = this.#timeline.sourceFrames[output];
    const timeUs = frame === undefined ? undefined : this.#frames.timesUs[frame];
    if (frame === undefined || timeUs === undefined) return;
    const framed = mapToSource(this.#source, this.#framing);
    const moved = this.#steady ? mapSteady(this.#steady, frame, this.#source) : null;
    const toMade = invertAffine(moved ? composeAffine(framed, moved) : framed);
    const placed = this.#areas.map((area) => ({ area, place: findHidden(area, timeUs) }));
    for (const { area, place } of placed) {
      const others = placed.filter((each) => each.area !== area);
      const grid = new Float32Array(GRID * GRID).fill(NaN);
      for (let row = 0; row < GRID; row += 1)
        for (let column = 0; column < GRID; column += 1) {
          const [p, q] = [((column + 0.5) / GRID) * 2 - 1, ((row + 0.5) / GRID) * 2 - 1];
          if (Math.sqrt(p * p + q * q) > INNER) continue;
          const [sx, sy] = [place.x + p * area.radiusX, place.y + q * area.radiusY];
          const isElsewhere = others.some(
            (other) =>
              ((sx - other.place.x) / other.area.radiusX) ** 2 +
                ((sy - other.place.y) / other.area.radiusY) ** 2 <
              1.2,
          );
          if (isElsewhere) continue;
          const [x, y] = [sx * this.#source.widthPx, sy * this.#source.heightPx];
          const u = toMade.a * x + toMade.c * y + toMade.e;
          const v = toMade.b * x + toMade.d * y + toMade.f;
          if (u < 0 || v < 0 || u >= 1 || v >= 1) continue;
          grid[row * GRID + column] =
            levels[Math.floor(v * size.heightPx) * size.widthPx + Math.floor(u * size.widthPx)] ?? 0;
        }
      const shape = {
        widthPx: area.radiusX * this.#source.widthPx,
        heightPx: area.radiusY * this.#source.heightPx,
      };
      const detail = measureFineShare(grid, shape);
      if (detail === null) continue;
      const isWorse = this.#found.worstOutput === null || detail > this.#found.worstDetail;
      this.#found = {
        looked: this.#found.looked + 1,
        worstDetail: isWorse ? detail : this.#found.worstDetail,
        worstOutput: isWorse ? output : this.#found.worstOutput,
      };
    }
  }
}

/**
 * Share of the contrast of a grid that no picture of `HIDDEN_CELLS` cells, gone over between their middles by
 * cubic curves (R. Keys, 1981), can have: what is left of it by least squares. 0 where nothing stands out,
 * null where too little of it is there. Points that are not there are NaN.
 */
export function measureFineShare(grid: Float32Array, shape: SizePx): number | null {
  const { across, down } = countHiddenCells(shape.widthPx, shape.heightPx);
  const count = across * down;
  const [columns, rows] = [listTaps(across), listTaps(down)];
  const normal = new Float64Array(count * count);
  const right = new Float64Array(count);
  const points: number[] = [];
  let sum = 0;
  grid.forEach((level, at) => {
    if (Number.isNaN(level)) return;
    points.push(at);
    sum += level;
  });
  if (points.length < (GRID * GRID) / 8) return null;
  const mean = sum / points.length;
  const weights = new Float64Array(16);
  const cells = new Int32Array(16);
  const readTaps = (at: number) => {
    const [column, row] = [columns[at % GRID], rows[Math.floor(at / GRID)]];
    for (let tap = 0; tap < 16; tap += 1) {
      weights[tap] = (column?.weights[tap & 3] ?? 0) * (row?.weights[tap >> 2] ?? 0);
      cells[tap] = (row?.cells[tap >> 2] ?? 0) * across + (column?.cells[tap & 3] ?? 0);
    }
  };
  for (const at of points) {
    readTaps(at);
    const level = (grid[at] ?? 0) - mean;
    for (let one = 0; one < 16; one += 1) {
      const [row, weight] = [cells[one] ?? 0, weights[one] ?? 0];
      right[row] = (right[row] ?? 0) + weight * level;
      for (let other = 0; other < 16; other += 1) {
        const place = row * count + (cells[other] ?? 0);
        normal[place] = (normal[place] ?? 0) + weight * (weights[other] ?? 0);
      }
    }
  }
  // Cells that no point speaks of stay at the mean.
  for (let cell = 0; cell < count; cell += 1)
    normal[cell * (count + 1)] = (normal[cell * (count + 1)] ?? 0) + 0.05;
  const fitted = solve(normal, right, count);
  let [rest, all] = [0, 0];
  for (const at of points) {
    readTaps(at);
    const level = (grid[at] ?? 0) - mean;
    let smooth = 0;
    for (let tap = 0; tap < 16; tap += 1) smooth += (weights[tap] ?? 0) * (fitted[cells[tap] ?? 0] ?? 0);
    rest += (level - smooth) ** 2;
    all += level * level;
  }
  return Math.sqrt(all / points.length) < FLAT_LEVELS ? 0 : Math.sqrt(rest / all);
}

interface Taps {
  readonly cells: readonly number[];
  readonly weights: readonly number[];
}

/** For each point across the grid, the four cells about it and what each counts. */
function listTaps(cells: number): Taps[] {
  return Array.from({ length: GRID }, (_, at) => {
    const x = ((at + 0.5) * cells) / GRID - 0.5;
    const first = Math.floor(x) - 1;
    return {
      cells: [0, 1, 2, 3].map((step) => Math.max(0, Math.min(cells - 1, first + step))),
      weights: [0, 1, 2, 3].map((step) => weighCubic(Math.abs(x - first - step))),
    };
  });
}

function weighCubic(distance: number): number {
  const a = -0.5;
  if (distance < 1) return (a + 2) * distance ** 3 - (a + 3) * distance ** 2 + 1;
  return distance < 2 ? a * distance ** 3 - 5 * a * distance ** 2 + 8 * a * distance - 4 * a : 0;
}

/** Cholesky's way for a symmetric, positive system; both are overwritten. */
function solve(normal: Float64Array, right: Float64Array, count: number): Float64Array {
  const at = (row: number, column: number) => normal[row * count + column] ?? 0;
  for (let column = 0; column < count; column += 1)
    for (let row = column; row < count; row += 1) {
      let sum = at(row, column);
      for (let step = 0; step < column; step += 1) sum -= at(row, step) * at(column, step);
      normal[row * count + column] =
        row === column ? Math.sqrt(Math.max(sum, 1e-9)) : sum / at(column, column);
    }
  for (let row = 0; row < count; row += 1) {
    let sum = right[row] ?? 0;
    for (let step = 0; step < row; step += 1) sum -= at(row, step) * (right[step] ?? 0);
    right[row] = sum / at(row, row);
  }
  for (let row = count - 1; row >= 0; row -= 1) {
    let sum = right[row] ?? 0;
    for (let step = row + 1; step < count; step += 1) sum -= at(step, row) * (right[step] ?? 0);
    right[row] = sum / at(row, row);
  }
  return right;
}

/** Frames to look at: about so many along the file. */
export function chooseHiddenStep(frameCount: number, wanted = 48): number {
  return Math.max(1, Math.floor(frameCount / wanted));
}
