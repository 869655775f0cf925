/**
 * Weights of four neighbours for a place `t`, 0 to 1, between the middle two (R. Keys, Cubic convolution
 * interpolation for digital image processing, 1981).
 */
export function weighCubic(t: number, into: Float64Array): void {
  into[0] = ((-0.5 * t + 1) * t - 0.5) * t;
  into[1] = (1.5 * t - 2.5) * t * t + 1;
  into[2] = ((-1.5 * t + 2) * t + 0.5) * t;
  into[3] = (0.5 * t - 0.5) * t * t;
}
