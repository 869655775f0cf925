import { describe, expect, it } from 'vitest';
import { planRender } from '../picture/plan-render.ts';
import { renderPicture } from '../picture/render-picture.ts';
import { createPlainRecipe } from '../recipe/recipe.ts';
import { holdClose } from './hold-close.ts';

const size = { widthPx: 420, heightPx: 360 };
/** Strokes, dots and a ramp: something at each place. */
const rgb = Uint8Array.from({ length: size.widthPx * size.heightPx * 3 }, (_, at) => {
  const point = Math.floor(at / 3);
  const [x, y] = [point % size.widthPx, Math.floor(point / size.widthPx)];
  const stroke = 40 * Math.sin(x / 5 + y / 9) + 30 * Math.sin((x * y) / 700);
  return Math.max(0, Math.min(255, 90 + (x + y) / 8 + stroke + 8 * (at % 3)));
});
const photo = { ...size, rgb };
const { picture } = createPlainRecipe();
const flat = {
  ...picture,
  flatten: {
    corners: [
      { x: 0.1, y: 0.08 },
      { x: 0.92, y: 0.14 },
      { x: 0.88, y: 0.93 },
      { x: 0.06, y: 0.86 },
    ] as never,
    aspect: 1.2,
  },
};
const render = (wish: typeof picture, own: typeof size) => ({
  ...own,
  rgb: renderPicture(planRender(size, wish, own).fill({ ...size, most: 255, levels: rgb })),
});
const hold = (made: Parameters<typeof holdClose>[0]['made'], wish: typeof picture) =>
  holdClose({ photo, photoPx: size, made, wish });

describe('a made picture beside its photograph', () => {
  it('is the same where nothing was done', () => {
    expect(hold(photo, picture)).toEqual({
      ssimMean: expect.closeTo(1, 6),
      ssimWorst: expect.closeTo(1, 6),
      places: 16,
    });
    const turned = { ...picture, turnDegrees: 90 as const };
    expect(hold(render(turned, { widthPx: 360, heightPx: 420 }), turned)?.ssimWorst).toBeGreaterThan(0.999);
  });

  it('is nearly the same where it was brought flat, by another resampling', () => {
    const made = render(flat, { widthPx: 360, heightPx: 300 });
    expect(hold(made, flat)?.ssimWorst).toBeGreaterThan(0.985);
  });

  it('is something else where a lens was undone that bent nothing, and the same where it was asked for', () => {
    const bent = { ...flat, flatten: { ...flat.flatten, lens: -0.05 } };
    const made = render(bent, { widthPx: 360, heightPx: 300 });
    expect(hold(made, bent)?.ssimWorst).toBeGreaterThan(0.985);
    expect(hold(made, flat)?.ssimWorst).toBeLessThan(0.9);
  });

  it('is less the coarser it was coded, and something else where it was moved', () => {
    const made = render(flat, { widthPx: 360, heightPx: 300 });
    const coarse = (step: number) => ({
      ...made,
      rgb: made.rgb.map((level) => Math.round(level / step) * step),
    });
    const [fine, rough] = [hold(coarse(12), flat), hold(coarse(40), flat)];
    expect(fine?.ssimMean).toBeLessThan(0.995);
    expect(rough?.ssimMean).toBeLessThan((fine?.ssimMean ?? 0) - 0.05);
    expect(hold(made, { ...flat, isMirrored: true })?.ssimMean).toBeLessThan(0.5);
    const moved = {
      ...flat,
      flatten: {
        ...flat.flatten,
        corners: (flat.flatten.corners as unknown as { x: number; y: number }[]).map(({ x, y }) => ({
          x: x + 0.02,
          y,
        })) as never,
      },
    };
    expect(hold(made, moved)?.ssimMean).toBeLessThan(0.8);
  });

  it('is not told where there is no room for places', () => {
    const tiny = { widthPx: 20, heightPx: 12, rgb: new Uint8Array(20 * 12 * 3) };
    expect(holdClose({ photo: tiny, photoPx: tiny, made: tiny, wish: picture })).toBeNull();
  });
});
