/** A made-up room with a performer, in its true look and as a lamp and a camera's exposure leave it. */
export interface ColorScene {
  readonly widthPx: number;
  readonly heightPx: number;
  /** Eight-bit R, G, B. */
  readonly truth: Uint8Array;
  readonly recorded: Uint8Array;
}

export type SceneKind = 'hall' | 'room' | 'stage' | 'studio' | 'gym';

/** A lamp by its spectrum: black body, or a diode's blue peak and phosphor. */
export type Lamp =
  | { readonly kind: 'black-body'; readonly kelvin: number }
  | { readonly kind: 'diode'; readonly blueShare: number };

const [W, H] = [96, 54];

/** Reproducible numbers from 0 to 1 (mulberry32). */
function createRandom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

type Rgb = readonly [number, number, number];
const toLight = (signal: number) => (signal <= 0.04045 ? signal / 12.92 : ((signal + 0.055) / 1.055) ** 2.4);
const toSignal = (light: number) => (light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055);
const lightOf = (red: number, green: number, blue: number): Rgb => [
  toLight(red / 255),
  toLight(green / 255),
  toLight(blue / 255),
];

const walls: Readonly<Record<SceneKind, readonly Rgb[]>> = {
  hall: [lightOf(196, 190, 178), lightOf(170, 168, 165), lightOf(208, 200, 182)],
  room: [lightOf(225, 222, 215), lightOf(205, 212, 208), lightOf(214, 200, 190)],
  stage: [lightOf(46, 44, 48), lightOf(90, 28, 32), lightOf(60, 60, 66)],
  studio: [lightOf(128, 128, 128), lightOf(235, 235, 235), lightOf(98, 122, 157)],
  gym: [lightOf(190, 205, 214), lightOf(222, 219, 208), lightOf(150, 160, 150)],
};
const floors: readonly Rgb[] = [
  lightOf(150, 110, 74),
  lightOf(96, 78, 62),
  lightOf(120, 120, 122),
  lightOf(176, 140, 96),
];
const skins: readonly Rgb[] = [
  lightOf(115, 82, 68),
  lightOf(194, 150, 130),
  lightOf(224, 182, 160),
  lightOf(78, 54, 44),
];
const clothes: readonly Rgb[] = [
  lightOf(243, 243, 242),
  lightOf(40, 40, 44),
  lightOf(56, 61, 150),
  lightOf(175, 54, 60),
  lightOf(87, 108, 67),
  lightOf(160, 160, 160),
  lightOf(80, 91, 166),
  lightOf(52, 60, 78),
];
const things: readonly Rgb[] = [
  lightOf(140, 84, 50),
  lightOf(238, 236, 228),
  lightOf(30, 30, 30),
  lightOf(214, 126, 44),
  lightOf(103, 189, 170),
];

/** How strongly three broad sensors answer to a lamp, white at daylight. */
export function measureLamp(lamp: Lamp): Rgb {
  const sensors = [
    { at: 600, width: 38 },
    { at: 542, width: 40 },
    { at: 452, width: 26 },
  ];
  const planck = (kelvin: number, nm: number) =>
    1 / (nm ** 5 * (Math.exp(1.4388e7 / (nm * kelvin)) - 1)) / 1e-17;
  const bell = (nm: number, at: number, width: number) => Math.exp(-(((nm - at) / width) ** 2) / 2);
  const spectrum = (nm: number) =>
    lamp.kind === 'black-body'
      ? planck(lamp.kelvin, nm)
      : lamp.blueShare * bell(nm, 452, 11) + bell(nm, 585, 58);
  const sum = (of: (nm: number) => number, sensor: { at: number; width: number }) => {
    let total = 0;
    for (let nm = 380; nm <= 740; nm += 5) total += of(nm) * bell(nm, sensor.at, sensor.width);
    return total;
  };
  const own = sensors.map((sensor) => sum(spectrum, sensor) / sum((nm) => planck(6504, nm), sensor));
  const green = own[1] ?? 1;
  return own.map((side) => side / green) as unknown as Rgb;
}

export function buildColorScene(seed: number, kind: SceneKind, lamp: Lamp | null, stops: number): ColorScene {
  const random = createRandom(seed * 7919 + kind.length);
  const pick = <Item>(items: readonly Item[]): Item => items[Math.floor(random() * items.length)] as Item;
  const [wall, floor, skin, shirt, trousers] = [
    pick(walls[kind]),
    pick(floors),
    pick(skins),
    pick(clothes),
    pick(clothes),
  ];
  const props = Array.from({ length: 3 + Math.floor(random() * 4) }, () => ({
    color: pick(things),
    x: random() * W,
    y: H * (0.45 + random() * 0.45),
    w: 4 + random() * 14,
    h: 2 + random() * 8,
  }));
  const middle = W * (0.35 + random() * 0.3);
  const size = 0.8 + random() * 0.5;
  const horizon = H * (0.68 + random() * 0.12);
  const gain = lamp ? measureLamp(lamp) : ([1, 1, 1] as const);
  const by = 2 ** stops;
  const truth = new Uint8Array(W * H * 3);
  const recorded = new Uint8Array(W * H * 3);
  for (let y = 0; y < H; y += 1)
    for (let x = 0; x < W; x += 1) {
      const [dx, dy] = [(x - middle) / size, (y - horizon) / size];
      let color: Rgb = y > horizon ? floor : wall;
      if (Math.abs(dx) < 9 && dy > -22 && dy < -2) color = shirt;
      if (Math.abs(dx) < 7 && dy >= -2 && dy < 14) color = trousers;
      if (dx ** 2 + (dy + 28) ** 2 < 30) color = skin;
      if (Math.abs(Math.abs(dx) - 12) < 2.4 && dy > -16 && dy < -9) color = skin;
      for (const prop of props)
        if (Math.abs(x - prop.x) < prop.w / 2 && Math.abs(y - prop.y) < prop.h / 2) color = prop.color;
      // Light falls off toward the edges of a room, and surfaces are never quite even.
      const fall = 1 - 0.45 * (((x - middle) / W) ** 2 + ((y - H / 2) / H) ** 2) * 2;
      const uneven = fall * (0.94 + random() * 0.12);
      for (let side = 0; side < 3; side += 1) {
        const light = (color[side] ?? 0) * uneven;
        const at = (y * W + x) * 3 + side;
        truth[at] = Math.round(255 * toSignal(Math.min(1, light)));
        const noise = (random() + random() - 1) * 0.004;
        const seen = Math.max(0, Math.min(1, light * (gain[side] ?? 1) * by + noise * by));
        recorded[at] = Math.round(255 * toSignal(seen));
      }
    }
  return { widthPx: W, heightPx: H, truth, recorded };
}
