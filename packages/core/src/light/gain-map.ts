import { transferFunctions } from '../color/transfer.ts';

/** What light is multiplied by, on a grid of places over a picture: three values each, row after row. */
export interface GainMap {
  readonly columns: number;
  readonly rows: number;
  readonly values: Float32Array;
}

/** Gains along one level line of a picture, three a point, for points at the middles of `widthPx` parts. */
export function readGainRow(
  { columns, rows, values }: GainMap,
  v: number,
  widthPx: number,
  out: Float32Array,
) {
  const y = Math.max(0, Math.min(rows - 1, v * (rows - 1)));
  const top = Math.min(rows - 2, Math.floor(y));
  const down = y - top;
  const [from, below] = [top * columns * 3, (top + 1) * columns * 3];
  const mix = (at: number) =>
    (values[from + at] as number) * (1 - down) + (values[below + at] as number) * down;
  const step = (columns - 1) / widthPx;
  let column = 0;
  // From one place of the grid to the next each side goes evenly.
  for (let left = 0; left < columns - 1; left += 1) {
    const end = left === columns - 2 ? widthPx : Math.min(widthPx, Math.ceil((left + 1) / step - 0.5));
    const red = mix(left * 3);
    const green = mix(left * 3 + 1);
    const blue = mix(left * 3 + 2);
    const moreRed = mix(left * 3 + 3) - red;
    const moreGreen = mix(left * 3 + 4) - green;
    const moreBlue = mix(left * 3 + 5) - blue;
    for (; column < end; column += 1) {
      const along = (column + 0.5) * step - left;
      out[column * 3] = red + moreRed * along;
      out[column * 3 + 1] = green + moreGreen * along;
      out[column * 3 + 2] = blue + moreBlue * along;
    }
  }
}

const STEPS = 4096;
const { toLight, toSignal } = transferFunctions.srgb;
const LIGHTS = Float32Array.from({ length: STEPS + 2 }, (_, step) => toLight(Math.min(1, step / STEPS)));
/** By the root of light: along it the signal is nearly straight. */
const SIGNALS = Float32Array.from({ length: STEPS + 2 }, (_, step) =>
  toSignal(Math.min(1, (step / STEPS) ** 2)),
);

/** Signals (sRGB, 0 to 1) whose light is multiplied by gains, from one place to before another, in place. */
export function gainSignals(signals: Float64Array, gains: Float32Array, from: number, to: number): void {
  for (let place = from; place < to; place += 1) {
    const at = (signals[place] as number) * STEPS;
    const step = at | 0;
    const low = LIGHTS[step] as number;
    const light = (low + ((LIGHTS[step + 1] as number) - low) * (at - step)) * (gains[place] as number);
    const root = Math.sqrt(light < 1 ? light : 1) * STEPS;
    const first = root | 0;
    const own = SIGNALS[first] as number;
    signals[place] = own + ((SIGNALS[first + 1] as number) - own) * (root - first);
  }
}

/** Eight-bit R, G, B with its light evened out, as another picture. */
export function evenPicture(
  rgb: Uint8Array | Uint8ClampedArray,
  { widthPx, heightPx }: { readonly widthPx: number; readonly heightPx: number },
  gains: GainMap,
  bands: 3 | 4 = 3,
): Uint8Array {
  const made = Uint8Array.from(rgb);
  const lit = new Float32Array(widthPx * 3);
  const row = new Float64Array(widthPx * 3);
  for (let y = 0; y < heightPx; y += 1) {
    readGainRow(gains, (y + 0.5) / heightPx, widthPx, lit);
    const start = y * widthPx * bands;
    for (let x = 0; x < widthPx; x += 1)
      for (let side = 0; side < 3; side += 1)
        row[x * 3 + side] = (rgb[start + x * bands + side] as number) / 255;
    gainSignals(row, lit, 0, widthPx * 3);
    for (let x = 0; x < widthPx; x += 1)
      for (let side = 0; side < 3; side += 1)
        made[start + x * bands + side] = Math.round((row[x * 3 + side] as number) * 255);
  }
  return made;
}
