import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { correlate, transformFourier } from './fft.ts';

const samples = (length: number) =>
  fc.array(fc.integer({ min: -32_768, max: 32_767 }), { minLength: length, maxLength: length });

describe('transformFourier', () => {
  it('is the sum that defines it', () => {
    fc.assert(
      fc.property(samples(16), samples(16), (real, imaginary) => {
        const [re, im] = [Float64Array.from(real), Float64Array.from(imaginary)];
        transformFourier(re, im);
        for (let k = 0; k < 16; k += 1) {
          let [sumRe, sumIm] = [0, 0];
          for (let n = 0; n < 16; n += 1) {
            const angle = (-2 * Math.PI * k * n) / 16;
            const [x, y] = [real[n] ?? 0, imaginary[n] ?? 0];
            sumRe += x * Math.cos(angle) - y * Math.sin(angle);
            sumIm += x * Math.sin(angle) + y * Math.cos(angle);
          }
          expect(re[k]).toBeCloseTo(sumRe, 5);
          expect(im[k]).toBeCloseTo(sumIm, 5);
        }
      }),
      { numRuns: 30 },
    );
  });

  it('takes powers of two only', () => {
    expect(() => transformFourier(new Float64Array(12), new Float64Array(12))).toThrow(RangeError);
    expect(() => transformFourier(new Float64Array(8), new Float64Array(4))).toThrow(RangeError);
  });
});

it('correlates as summing products does', () => {
  fc.assert(
    fc.property(samples(37), samples(50), (left, right) => {
      const lags = correlate(left, right, 14);
      for (let lag = 0; lag < 14; lag += 1) {
        const sum = left.reduce((total, value, index) => total + value * (right[index + lag] ?? 0), 0);
        expect(Math.abs((lags[lag] ?? 0) - sum)).toBeLessThan(1);
      }
    }),
    { numRuns: 50 },
  );
});
