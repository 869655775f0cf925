import {
  buildColorTable,
  convertRgb8ToLab,
  measureDeltaE,
  proposeColor,
  readColorTable,
  type ColorSettings,
} from '@apodix/core';
import {
  buildColorScene,
  type Lamp,
  type SceneKind,
} from '../../packages/core/src/test-support/color-scene.ts';
import type { Benchmark, Row } from '../benchmark.ts';

const kinds: readonly SceneKind[] = ['hall', 'room', 'stage', 'studio', 'gym'];
const lamps: readonly { readonly name: string; readonly lamp: Lamp | null }[] = [
  { name: 'daylight', lamp: null },
  { name: '2 500 K', lamp: { kind: 'black-body', kelvin: 2500 } },
  { name: '2 900 K', lamp: { kind: 'black-body', kelvin: 2900 } },
  { name: '3 500 K', lamp: { kind: 'black-body', kelvin: 3500 } },
  { name: '4 300 K', lamp: { kind: 'black-body', kelvin: 4300 } },
  { name: 'warm diode', lamp: { kind: 'diode', blueShare: 0.45 } },
  { name: '9 500 K', lamp: { kind: 'black-body', kelvin: 9500 } },
];
const exposures = [0, -1, -2];
const [SHORT, LONG] = [6, 40];

/** Mean color difference of two pictures of the same size. */
function compare(left: Uint8Array, right: Uint8Array): number {
  let sum = 0;
  for (let at = 0; at < left.length; at += 3)
    sum += measureDeltaE(
      convertRgb8ToLab(left[at] ?? 0, left[at + 1] ?? 0, left[at + 2] ?? 0),
      convertRgb8ToLab(right[at] ?? 0, right[at + 1] ?? 0, right[at + 2] ?? 0),
    );
  return (sum * 3) / left.length;
}

function apply(picture: Uint8Array, settings: ColorSettings): Uint8Array {
  const table = buildColorTable(settings);
  const out = new Float32Array(3);
  const made = new Uint8Array(picture.length);
  for (let at = 0; at < picture.length; at += 3) {
    readColorTable(
      table,
      (picture[at] ?? 0) / 255,
      (picture[at + 1] ?? 0) / 255,
      (picture[at + 2] ?? 0) / 255,
      out,
    );
    for (let side = 0; side < 3; side += 1) made[at + side] = Math.round((out[side] ?? 0) * 255);
  }
  return made;
}

/**
 * How near the automatic color comes to the true look, under lamps made from spectra; the baseline is the
 * recording as it is.
 */
export const autoColorBenchmark: Benchmark = {
  name: 'auto-color',
  isShort: true,
  run: (isLong, tell) => {
    const rows: Row[] = [];
    for (const { name, lamp } of lamps)
      for (const stops of exposures) {
        let [before, after, halved, changed, count] = [0, 0, 0, 0, 0];
        for (const kind of kinds)
          for (let seed = 1; seed <= (isLong ? LONG : SHORT); seed += 1) {
            const scene = buildColorScene(seed, kind, lamp, stops);
            const own = compare(scene.recorded, scene.truth);
            const proposal = proposeColor({ ...scene, rgb: scene.recorded });
            const put = proposal ? compare(apply(scene.recorded, proposal.settings), scene.truth) : own;
            before += own;
            after += put;
            if (put <= own / 2) halved += 1;
            if (proposal) changed += 1;
            count += 1;
          }
        const row = {
          lamp: name,
          stops,
          takes: count,
          'ΔE00 as recorded': (before / count).toFixed(1),
          'put right': (after / count).toFixed(1),
          ratio: (after / before).toFixed(2),
          halved: `${Math.round((100 * halved) / count)} %`,
          changed: `${Math.round((100 * changed) / count)} %`,
        };
        rows.push(row);
        tell(row);
      }
    const title = 'Automatic color against the true look (baseline: as recorded)';
    return Promise.resolve({ tables: [{ title, rows }] });
  },
};
