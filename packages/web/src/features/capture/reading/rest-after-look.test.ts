import { describe, expect, it } from 'vitest';
import { restAfterLook } from './rest-after-look.ts';

describe('the rest after a look at the picture', () => {
  it('keeps looks an even time apart while lining up, and never takes the whole page', () => {
    expect(restAfterLook(40, 150, false)).toBe(110);
    expect(restAfterLook(400, 150, false)).toBe(10);
  });

  it.each([20, 100, 400])('leaves four fifths of a core to the recording after a look of %d ms', (took) => {
    const rest = restAfterLook(took, 150, true);
    expect(took / (took + rest)).toBeLessThanOrEqual(0.2);
    expect(took + rest).toBeGreaterThanOrEqual(150);
  });
});
