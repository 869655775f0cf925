import { buildRgbToRgb, multiply, type PrimariesId } from './spaces.ts';
import { REFERENCE_WHITE_NITS, transferFunctions } from './transfer.ts';

/** How a signal is meant: its transfer function and primaries. */
export interface DeclaredColor {
  readonly transfer: 'bt709' | 'hlg' | 'pq';
  readonly primaries: PrimariesId;
}

/** Nominal peak of a hybrid log-gamma display, and its system gamma (ITU-R BT.2100-2, table 5). */
const HLG_PEAK_NITS = 1000;
const HLG_GAMMA = 1.2;
/** Luminance of BT.2020 primaries. */
const LUMA_2020 = [0.2627, 0.678, 0.0593] as const;
/**
 * Peak that the curve ends at, relative to 100 cd/m², for hybrid log-gamma and for perceptual quantisation.
 */
const CURVE_PEAK = { hlg: 10, pq: 100 } as const;

/** The filmic curve of J. Hable (GDC 2010), before it is divided by its value at the peak. */
function bend(value: number): number {
  const [a, b, c, d, e, f] = [0.15, 0.5, 0.1, 0.2, 0.02, 0.3];
  return (value * (value * a + b * c) + d * e) / (value * (value * a + b) + d * f) - e / f;
}

/**
 * How a signal is declared to look on a standard display: eight-bit R, G, B of BT.709. Signals are 0 to 1.
 * Bright ranges are brought to light with reference white at 203 cd/m², their brightest component is bent by
 * the filmic curve, and the result is signalled with BT.709; everything else is only brought to the primaries
 * of BT.709.
 */
export function buildStandardLook(
  declared: DeclaredColor,
): (red: number, green: number, blue: number, out: Uint8Array, at: number) => void {
  const { transfer, primaries } = declared;
  const toLevel = (signal: number) => Math.round(Math.max(0, Math.min(1, signal)) * 255);
  if (transfer === 'bt709' && primaries === 'bt709')
    return (red, green, blue, out, at) => {
      out[at] = toLevel(red);
      out[at + 1] = toLevel(green);
      out[at + 2] = toLevel(blue);
    };
  const matrix = buildRgbToRgb(primaries, 'bt709');
  const { toLight } = tabulate(transfer);
  const toSignal = tabulateSignal();
  return (red, green, blue, out, at) => {
    let light = [toLight(red), toLight(green), toLight(blue)] as [number, number, number];
    if (transfer === 'hlg') light = showHlg(light);
    const narrow = [...multiply(matrix, light)] as [number, number, number];
    if (transfer !== 'bt709') {
      const brightest = Math.max(narrow[0], narrow[1], narrow[2], 1e-6);
      const scale = bend(brightest) / bend(CURVE_PEAK[transfer]) / brightest;
      for (const index of [0, 1, 2] as const) narrow[index] *= scale;
    }
    out[at] = toSignal(narrow[0]);
    out[at + 1] = toSignal(narrow[1]);
    out[at + 2] = toSignal(narrow[2]);
  };
}

/** From the scene's light to that of a display of nominal peak, relative to the reference white. */
function showHlg(scene: readonly [number, number, number]): [number, number, number] {
  const luminance = LUMA_2020[0] * scene[0] + LUMA_2020[1] * scene[1] + LUMA_2020[2] * scene[2];
  const gain = (HLG_PEAK_NITS / REFERENCE_WHITE_NITS) * Math.max(luminance, 1e-9) ** (HLG_GAMMA - 1);
  return [scene[0] * gain, scene[1] * gain, scene[2] * gain];
}

const STEPS = 4096;

function tabulate(transfer: DeclaredColor['transfer']): { toLight: (signal: number) => number } {
  const table = Float64Array.from({ length: STEPS + 1 }, (_, step) =>
    transferFunctions[transfer].toLight(step / STEPS),
  );
  return { toLight: (signal) => table[Math.round(Math.max(0, Math.min(1, signal)) * STEPS)] ?? 0 };
}

function tabulateSignal(): (light: number) => number {
  const table = Uint8Array.from({ length: STEPS + 1 }, (_, step) =>
    Math.round(transferFunctions.bt709.toSignal((step / STEPS) ** 2) * 255),
  );
  // Steps of the root: dark light needs the finer ones.
  return (light) => table[Math.round(Math.sqrt(Math.max(0, Math.min(1, light))) * STEPS)] ?? 0;
}

/** Luma of eight-bit R, G, B of BT.709 (ITU-R BT.709-6, 3.2). */
export function measureLuma(red: number, green: number, blue: number): number {
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}
