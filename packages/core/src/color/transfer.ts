/**
 * Transfer functions between a signal (0 to 1) and light. Each row goes both ways; light is relative to the
 * white of a standard display (1), so that bright-range signals go beyond 1.
 */
export interface TransferFunction {
  readonly toLight: (signal: number) => number;
  readonly toSignal: (light: number) => number;
}

/** Reference white of bright-range signals on a display, in candela a square metre (ITU-R BT.2408-7, 2.1). */
export const REFERENCE_WHITE_NITS = 203;

/** ITU-R BT.709-6, 1.2, and its inverse. */
const bt709: TransferFunction = {
  toLight: (signal) => (signal < 0.081 ? signal / 4.5 : ((signal + 0.099) / 1.099) ** (1 / 0.45)),
  toSignal: (light) => (light < 0.018 ? 4.5 * light : 1.099 * light ** 0.45 - 0.099),
};

/** IEC 61966-2-1. */
const srgb: TransferFunction = {
  toLight: (signal) => (signal <= 0.04045 ? signal / 12.92 : ((signal + 0.055) / 1.055) ** 2.4),
  toSignal: (light) => (light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055),
};

const HLG_A = 0.17883277;
const HLG_B = 1 - 4 * HLG_A;
const HLG_C = 0.5 - HLG_A * Math.log(4 * HLG_A);

/**
 * ITU-R BT.2100-2, table 5: the scene's light of one component, 0 to 1; the display's own system gamma comes
 * after.
 */
const hlg: TransferFunction = {
  toLight: (signal) => (signal <= 0.5 ? signal ** 2 / 3 : (Math.exp((signal - HLG_C) / HLG_A) + HLG_B) / 12),
  toSignal: (light) =>
    light <= 1 / 12 ? Math.sqrt(3 * light) : HLG_A * Math.log(12 * light - HLG_B) + HLG_C,
};

const PQ_M1 = 2610 / 16_384;
const PQ_M2 = (2523 / 4096) * 128;
const PQ_C1 = 3424 / 4096;
const PQ_C2 = (2413 / 4096) * 32;
const PQ_C3 = (2392 / 4096) * 32;
const PQ_PEAK_NITS = 10_000;

/** ITU-R BT.2100-2, table 4, relative to the reference white. */
const pq: TransferFunction = {
  toLight: (signal) => {
    const power = Math.max(0, signal) ** (1 / PQ_M2);
    const share = (Math.max(0, power - PQ_C1) / (PQ_C2 - PQ_C3 * power)) ** (1 / PQ_M1);
    return (share * PQ_PEAK_NITS) / REFERENCE_WHITE_NITS;
  },
  toSignal: (light) => {
    const power = (Math.max(0, light * REFERENCE_WHITE_NITS) / PQ_PEAK_NITS) ** PQ_M1;
    return ((PQ_C1 + PQ_C2 * power) / (1 + PQ_C3 * power)) ** PQ_M2;
  },
};

export const transferFunctions = { bt709, srgb, hlg, pq } as const;
export type TransferId = keyof typeof transferFunctions;
