import {
  applyProjective,
  buildColorTable,
  convertLightToLab,
  convertRgb8ToLab,
  evenPicture,
  findTarget,
  isUneven,
  mapGains,
  mapSquareTo,
  measureDeltaE,
  proposePaper,
  readColorTable,
  readLightAt,
  seeLight,
  type ColorTable,
  type EvenLight,
  type RgbPicture,
} from '@apodix/core';
import {
  buildLampScene,
  drawLampScene,
  glowAsTube,
  lightAt,
  radiate,
  type LampScene,
} from '../../packages/core/src/test-support/lamp-scene.ts';
import { drawTarget } from '../../packages/core/src/test-support/target-scene.ts';
import type { Benchmark, Row } from '../benchmark.ts';

const LAMPS = [
  ...[2500, 3000, 3500, 4200, 5000, 6500, 8000].map((kelvin) => ({
    name: `${kelvin} K`,
    lamp: radiate(kelvin),
  })),
  { name: 'fluorescent tube', lamp: glowAsTube() },
];
const [SHORT, LONG] = [3, 12];
const FIRST = 500;
const GRID = 24;
type Four = NonNullable<EvenLight['corners']>;

const mean = (values: readonly number[]) => values.reduce((sum, each) => sum + each, 0) / values.length;

function listPlaces(): [u: number, v: number][] {
  return Array.from({ length: GRID * GRID }, (_, place) => [
    ((place % GRID) + 0.5) / GRID,
    (Math.floor(place / GRID) + 0.5) / GRID,
  ]);
}

/** What is left of the lamp's own fall-off: standard deviation and range, in shares. */
function measureLeft(scene: LampScene, light: EvenLight) {
  const map = mapSquareTo(scene.corners);
  const left = listPlaces().map(([u, v]) => {
    const { x, y } = applyProjective(map, { x: u, y: v });
    const vignette = 1 - scene.vignette * ((x - 0.5) ** 2 + (y - 0.5) ** 2) * 2;
    return (lightAt(scene, u, v) * vignette) / readLightAt(light, 1, u, v);
  });
  const middle = mean(left);
  const deviation = Math.sqrt(mean(left.map((each) => (each - middle) ** 2))) / middle;
  return { deviation, range: (Math.max(...left) - Math.min(...left)) / middle };
}

/** Mean CIEDE2000 over the piece between a picture through a table and the piece in daylight. */
function measureColors(scene: LampScene, picture: RgbPicture, table: ColorTable): number {
  const map = mapSquareTo(scene.corners);
  const out = [0, 0, 0];
  return mean(
    listPlaces().map(([u, v]) => {
      const { x, y } = applyProjective(map, { x: u, y: v });
      const at =
        (Math.floor(y * picture.heightPx) * picture.widthPx + Math.floor(x * picture.widthPx)) *
        picture.bands;
      const signal = [0, 1, 2].map((side) => (picture.bytes[at + side] ?? 0) / 255);
      readColorTable(table, signal[0] ?? 0, signal[1] ?? 0, signal[2] ?? 0, out);
      const own = convertRgb8ToLab(
        ...(out.map((side) => Math.round(side * 255)) as [number, number, number]),
      );
      return measureDeltaE(convertLightToLab(...scene.piece(u, v)), own);
    }),
  );
}

/** A plain stretch of each side to what is brightest in it: what a careless program does. */
function stretch(scene: LampScene, picture: RgbPicture): number {
  const most = [0, 1, 2].map((side) => {
    const levels = picture.bytes.filter((_, at) => at % picture.bands === side).sort();
    return levels[Math.floor(levels.length * 0.98)] ?? 255;
  });
  const bytes = Uint8Array.from(picture.bytes, (level, at) =>
    Math.min(255, (level * 240) / Math.max(1, most[at % picture.bands] ?? 255)),
  );
  const edge = 2;
  const values = Float32Array.from({ length: edge ** 3 * 3 }, (_, at) => {
    const point = Math.floor(at / 3);
    return [point & 1, (point >> 1) & 1, (point >> 2) & 1][at % 3] ?? 0;
  });
  return measureColors(scene, { ...picture, bytes }, { edge, values });
}

function measureLamp(name: string, lamp: readonly number[], count: number): Row {
  const found: { deviation: number; range: number; color: number; plain: number }[] = [];
  const targets: number[] = [];
  for (let seed = FIRST; seed < FIRST + count; seed += 1) {
    const scene = buildLampScene(seed, { lamp });
    const picture = drawLampScene(scene);
    const light = seeLight(picture, scene.corners as unknown as Four);
    if (light?.by === 'margin') {
      const even = isUneven(light) ? light.even : null;
      const bytes = even ? evenPicture(picture.bytes, picture, mapGains(even)) : picture.bytes;
      const paper = light.paper && proposePaper(light.paper);
      const table = paper && buildColorTable(paper.settings);
      if (table)
        found.push({
          ...measureLeft(scene, light.even),
          color: measureColors(scene, { ...picture, bytes }, table),
          plain: stretch(scene, picture),
        });
    }
    const card = buildLampScene(seed, {
      lamp,
      piece: drawTarget,
      over: { u: 0.4, v: 0.2, height: 5 },
      vignette: 0,
    });
    const target = findTarget(drawLampScene(card));
    if (target) targets.push(target.fit.meanAfter);
  }
  const digits = (value: number) => Number(value.toFixed(2));
  return {
    lamp: name,
    scenes: count,
    'light told': found.length,
    'left, sd %': digits(100 * mean(found.map((each) => each.deviation))),
    'worst range %': digits(100 * Math.max(...found.map((each) => each.range))),
    'ΔE by margin': digits(mean(found.map((each) => each.color))),
    'worst ΔE': digits(Math.max(...found.map((each) => each.color))),
    'ΔE of a plain stretch': digits(mean(found.map((each) => each.plain))),
    'targets found': targets.length,
    'ΔE by target': digits(mean(targets)),
  };
}

/** How evenly a piece is lit after all, and how near its colors are to daylight, lamp by lamp. */
export const lightBenchmark: Benchmark = {
  name: 'light',
  isShort: false,
  run: (isLong, tell) => {
    const rows = LAMPS.map(({ name, lamp }) => {
      const row = measureLamp(name, lamp, isLong ? LONG : SHORT);
      tell(row);
      return row;
    });
    const title = 'Photographed pieces under lamps (baseline: each side stretched to its brightest)';
    return Promise.resolve({ tables: [{ title, rows }] });
  },
};
