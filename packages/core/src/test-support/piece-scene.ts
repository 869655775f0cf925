import type { Corners } from '../picture/find-piece.ts';
import type { RgbPicture } from '../picture/rgb-picture.ts';

type Rgb = readonly [number, number, number];

export interface PieceScene {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly corners: Corners;
  readonly paper: Rgb;
  readonly table: Rgb;
  /** Standard deviation of the noise, in levels. */
  readonly noise: number;
  /** How much darker the far side is, 0 to 1. */
  readonly falloff: number;
  /** Grain of the table: stripes of so many levels. */
  readonly stripes: number;
  /** Discs laid over everything: fingers, a head. */
  readonly discs: readonly { x: number; y: number; radius: number; color: Rgb }[];
  readonly seed: number;
  /** What belongs r half-diagonals from the middle is seen at r · (1 + bend · r²): corners too. */
  readonly bend?: number;
}

/** Repeatable numbers from 0 to 1 (mulberry32). */
export function createRandom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/**
 * Draws a sheet with some shapes on a table, each point on an edge from 25 samples, so that its corners are
 * known to a fraction of a pixel.
 */
export function drawPieceScene(scene: PieceScene): RgbPicture {
  const { widthPx, heightPx, corners } = scene;
  const random = createRandom(scene.seed);
  const bytes = new Uint8Array(widthPx * heightPx * 3);
  const shapes = Array.from({ length: 9 }, () => ({
    u: 0.15 + 0.7 * random(),
    v: 0.15 + 0.7 * random(),
    size: 0.03 + 0.12 * random(),
    color: [40 + 180 * random(), 40 + 180 * random(), 40 + 180 * random()] as Rgb,
  }));
  const toUnit = invertQuad(corners);
  const gauss = () => (random() + random() + random() + random() - 2) * 1.73;
  const { bend = 0 } = scene;
  /** The distance is found by halving: nothing here is what the code under test does. */
  const unbend = (x: number, y: number): [number, number] => {
    if (bend === 0) return [x, y];
    const [mx, my, half] = [widthPx / 2 - 0.5, heightPx / 2 - 0.5, Math.hypot(widthPx, heightPx) / 2];
    const seen = Math.hypot(x - mx, y - my) / half;
    let [low, high] = [0, 2 * seen + 1e-9];
    for (let step = 0; step < 40; step += 1) {
      const middle = (low + high) / 2;
      if (middle * (1 + bend * middle * middle) < seen) low = middle;
      else high = middle;
    }
    const by = seen === 0 ? 1 : low / seen;
    return [mx + (x - mx) * by, my + (y - my) * by];
  };
  // What lies at a place: table, paper, or the number of a shape or a disc.
  const find = (x: number, y: number): number => {
    const disc = scene.discs.findIndex((each) => Math.hypot(each.x - x, each.y - y) < each.radius);
    if (disc >= 0) return 100 + disc;
    const [u, v] = toUnit(...unbend(x, y));
    if (u < 0 || v < 0 || u > 1 || v > 1) return -1;
    return shapes.findIndex((each) => Math.hypot(each.u - u, each.v - v) < each.size) + 1;
  };
  const colorOf = (what: number): Rgb =>
    what >= 100
      ? (scene.discs[what - 100]?.color ?? scene.paper)
      : what < 0
        ? scene.table
        : (shapes[what - 1]?.color ?? scene.paper);
  const findRow = (y: number) => Array.from({ length: widthPx + 1 }, (_, x) => find(x - 0.5, y - 0.5));
  let below = findRow(0);
  for (let y = 0; y < heightPx; y += 1) {
    const above = below;
    below = findRow(y + 1);
    for (let x = 0; x < widthPx; x += 1) {
      const whats = [above[x] ?? 0];
      if ([above[x + 1], below[x], below[x + 1]].some((what) => what !== whats[0]))
        for (let part = 0; part < 24; part += 1)
          whats.push(find(x + ((part % 5) - 2) / 5, y + (Math.floor(part / 5) - 2) / 5));
      const grain = scene.stripes * Math.sin(y * 0.35 + 3 * Math.sin(x * 0.012));
      const light = 1 - scene.falloff * (x / widthPx);
      const noise = scene.noise * gauss();
      for (let band = 0; band < 3; band += 1) {
        let sum = 0;
        for (const what of whats) sum += (colorOf(what)[band] ?? 0) + (what < 0 ? grain : 0);
        const value = (sum / whats.length) * light + noise;
        bytes[(y * widthPx + x) * 3 + band] = Math.max(0, Math.min(255, Math.round(value)));
      }
    }
  }
  return { widthPx, heightPx, bytes, bands: 3 };
}

/**
 * From a point of the picture to the sheet's own 0 to 1 (the inverse of the projective map of the unit
 * square; P. Heckbert, 1989).
 */
function invertQuad([a, b, c, d]: Corners): (x: number, y: number) => readonly [number, number] {
  const [dx1, dx2, sx] = [b.x - c.x, d.x - c.x, a.x - b.x + c.x - d.x];
  const [dy1, dy2, sy] = [b.y - c.y, d.y - c.y, a.y - b.y + c.y - d.y];
  const turn = dx1 * dy2 - dx2 * dy1;
  const g = (sx * dy2 - dx2 * sy) / turn;
  const h = (dx1 * sy - sx * dy1) / turn;
  const m = [
    b.x - a.x + g * b.x,
    d.x - a.x + h * d.x,
    a.x,
    b.y - a.y + g * b.y,
    d.y - a.y + h * d.y,
    a.y,
    g,
    h,
    1,
  ];
  const [m0, m1, m2, m3, m4, m5, m6, m7, m8] = m as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const i = [
    m4 * m8 - m5 * m7,
    m2 * m7 - m1 * m8,
    m1 * m5 - m2 * m4,
    m5 * m6 - m3 * m8,
    m0 * m8 - m2 * m6,
    m2 * m3 - m0 * m5,
    m3 * m7 - m4 * m6,
    m1 * m6 - m0 * m7,
    m0 * m4 - m1 * m3,
  ] as const;
  return (x, y) => {
    const w = i[6] * x + i[7] * y + i[8];
    return [(i[0] * x + i[1] * y + i[2]) / w, (i[3] * x + i[4] * y + i[5]) / w];
  };
}

const between = (random: () => number, low: number, high: number) => low + (high - low) * random();

/** A scene by its number: a sheet on a table, turned and tilted, under one lamp. */
export function buildTableScene(seed: number, widthPx = 640, heightPx = 360): PieceScene {
  const random = createRandom(seed * 7919 + 1);
  for (;;) {
    const scene = throwScene(random, seed, widthPx, heightPx);
    if (scene) return scene;
  }
}

function throwScene(
  random: () => number,
  seed: number,
  widthPx: number,
  heightPx: number,
): PieceScene | null {
  const ratio = [1.414, 0.707, 1, 1.33][Math.floor(random() * 4)] ?? 1;
  const tilt = (between(random, 0, 35) * Math.PI) / 180;
  const turn = (between(random, -9, 9) * Math.PI) / 180;
  const way = random() * 2 * Math.PI;
  const half = { x: ratio / 2, y: 0.5 };
  const corners = [
    [-half.x, -half.y],
    [half.x, -half.y],
    [half.x, half.y],
    [-half.x, half.y],
  ].map(([x = 0, y = 0]) => {
    const [u, v] = [x * Math.cos(turn) - y * Math.sin(turn), x * Math.sin(turn) + y * Math.cos(turn)];
    // Tilted about the axis `way`, seen from 2.6 away.
    const along = u * Math.cos(way) + v * Math.sin(way);
    const across = -u * Math.sin(way) + v * Math.cos(way);
    const depth = 2.6 + across * Math.sin(tilt);
    const flat = across * Math.cos(tilt);
    return {
      x: (along * Math.cos(way) - flat * Math.sin(way)) / depth,
      y: (along * Math.sin(way) + flat * Math.cos(way)) / depth,
    };
  });
  const scale =
    between(random, 0.62, 0.88) *
    Math.min(
      widthPx / (Math.max(...corners.map(({ x }) => x)) - Math.min(...corners.map(({ x }) => x))),
      heightPx / (Math.max(...corners.map(({ y }) => y)) - Math.min(...corners.map(({ y }) => y))),
    );
  const center = { x: widthPx * between(random, 0.44, 0.56), y: heightPx * between(random, 0.47, 0.53) };
  const placed = corners.map(({ x, y }) => ({ x: center.x + x * scale, y: center.y + y * scale }));
  const isInside = placed.every(({ x, y }) => x > 8 && y > 8 && x < widthPx - 9 && y < heightPx - 9);
  if (!isInside) return null;
  const base = between(random, 40, 150);
  return {
    widthPx,
    heightPx,
    corners: placed as unknown as Corners,
    paper: [between(random, 200, 235), between(random, 195, 230), between(random, 180, 215)],
    table: [base, base * between(random, 0.7, 1), base * between(random, 0.5, 1)],
    noise: between(random, 0, 5),
    falloff: between(random, 0, 0.5),
    stripes: random() < 0.5 ? 0 : between(random, 2, 14),
    discs: [],
    seed,
  };
}

/** The same, held up before a laptop: fingers over two edges, a head behind, a wall. */
export function buildHeldScene(seed: number): PieceScene {
  const scene = buildTableScene(seed + 500, 640, 360);
  const random = createRandom(seed * 31 + 5);
  const skin: Rgb = [196, 150, 124];
  const [a, b, c, d] = scene.corners;
  const on = (from: { x: number; y: number }, to: { x: number; y: number }, share: number) => ({
    x: from.x + (to.x - from.x) * share,
    y: from.y + (to.y - from.y) * share,
  });
  const hand = (from: typeof a, to: typeof a) => {
    const start = between(random, 0.35, 0.6);
    return [0, 0.07, 0.14].map((step) => ({ ...on(from, to, start + step), radius: 9, color: skin }));
  };
  const head = {
    x: (a.x + b.x) / 2 + 20,
    y: Math.max(0, a.y - 30),
    radius: 34,
    color: [168, 120, 98] as Rgb,
  };
  return {
    ...scene,
    table: [150, 140, 128],
    paper: [222, 218, 205],
    stripes: 3,
    discs: [...hand(a, d), ...hand(b, c), head].filter((disc) => disc !== head || disc.y > 6),
  };
}
