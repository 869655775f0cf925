import { invertAffine, mapToSource, type Framing } from '../geometry/frame.ts';
import { countHiddenCells, findHidden, HIDDEN_CELLS, type HiddenArea } from '../geometry/hidden.ts';
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
/** Twice as fine as hiding leaves: what lies beyond was not averaged. */
const CHECK_CELLS = 2 * HIDDEN_CELLS;
/** With less contrast than this (standard deviation, levels) there is nothing to be recognised. */
const FLAT_LEVELS = 4;
/** The edge of an ellipse is a step of its own: it is looked at inside of that. */
const INNER = 0.86;

/**
 * Looks at hidden areas of single frames of a made file, at its own size: whatever has details finer than
 * twice the cells that hiding leaves was not hidden.
 */
export class HiddenLook {
  readonly #areas: readonly HiddenArea[];
  readonly #source: SizePx;
  readonly #framing: Framing;
  readonly #frames: FrameTimes;
  readonly #timeline: Timeline;
  #found: HiddenMatch = { looked: 0, worstDetail: 0, worstOutput: null };

  constructor(input: {
    readonly areas: readonly HiddenArea[];
    /** Size of the upright recording. */
    readonly source: SizePx;
    readonly framing: Framing;
    /** Frames of the take that the areas are of. */
    readonly frames: FrameTimes;
    readonly timeline: Timeline;
  }) {
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
    if (timeUs === undefined) return;
    const toMade = invertAffine(mapToSource(this.#source, this.#framing));
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
 * Share of the contrast of a grid that lies in details finer than `CHECK_CELLS`; 0 where nothing stands out,
 * null where too little of it is there. Points that are not there are NaN.
 */
export function measureFineShare(grid: Float32Array, shape: SizePx): number | null {
  const cells = countHiddenCells(shape.widthPx, shape.heightPx);
  const scale = CHECK_CELLS / HIDDEN_CELLS;
  const [across, down] = [cells.across * scale, cells.down * scale];
  const sums = new Float64Array(across * down);
  const counts = new Float64Array(across * down);
  const cellOf = (at: number) =>
    Math.floor((Math.floor(at / GRID) * down) / GRID) * across + Math.floor(((at % GRID) * across) / GRID);
  let [sum, count] = [0, 0];
  grid.forEach((level, at) => {
    if (Number.isNaN(level)) return;
    const cell = cellOf(at);
    sums[cell] = (sums[cell] ?? 0) + level;
    counts[cell] = (counts[cell] ?? 0) + 1;
    sum += level;
    count += 1;
  });
  if (count < (GRID * GRID) / 8) return null;
  const mean = sum / count;
  let [rest, all] = [0, 0];
  const read = (column: number, row: number, otherwise: number) => {
    const cell = Math.max(0, Math.min(down - 1, row)) * across + Math.max(0, Math.min(across - 1, column));
    return (counts[cell] ?? 0) > 0 ? (sums[cell] ?? 0) / (counts[cell] ?? 1) : otherwise;
  };
  grid.forEach((level, at) => {
    if (Number.isNaN(level)) return;
    // Between the middles of cells levels go over in straight lines: slopes are no details.
    const x = (((at % GRID) + 0.5) * across) / GRID - 0.5;
    const y = ((Math.floor(at / GRID) + 0.5) * down) / GRID - 0.5;
    const [x0, y0] = [Math.floor(x), Math.floor(y)];
    const [fx, fy] = [x - x0, y - y0];
    const cell = cellOf(at);
    const own = (sums[cell] ?? 0) / (counts[cell] ?? 1);
    const smooth =
      (read(x0, y0, own) * (1 - fx) + read(x0 + 1, y0, own) * fx) * (1 - fy) +
      (read(x0, y0 + 1, own) * (1 - fx) + read(x0 + 1, y0 + 1, own) * fx) * fy;
    rest += (level - smooth) ** 2;
    all += (level - mean) ** 2;
  });
  return Math.sqrt(all / count) < FLAT_LEVELS ? 0 : Math.sqrt(rest / all);
}

/** Frames to look at: about so many along the file. */
export function chooseHiddenStep(frameCount: number, wanted = 48): number {
  return Math.max(1, Math.floor(frameCount / wanted));
}
