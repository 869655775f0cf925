import { countHiddenCells, keepInside, type HiddenArea, type VideoFacts } from '@apodix/core';
import type { Chain } from '../graph/filter-graph.ts';

/**
 * The same chain with areas of its picture averaged to a few cells and blurred, each moving along its path.
 * `size` is that of the picture, `startUs` the moment of the take at which the chain's time 0 stands.
 */
export function hideAreas(
  chain: Chain,
  areas: readonly HiddenArea[],
  size: Pick<VideoFacts, 'widthPx' | 'heightPx' | 'chroma' | 'bitDepth'>,
  startUs: number,
): Chain[] {
  const end = chain.to[0] ?? '';
  const chains: Chain[] = [];
  let open = chain;
  for (const [index, area] of areas.entries()) {
    const [base, part, blur, mask, soft] = ['base', 'part', 'blur', 'mask', 'soft'].map(
      (name) => `${end}${name}${index}`,
    ) as [string, string, string, string, string];
    const w = even(2 * area.radiusX * size.widthPx);
    const h = even(2 * area.radiusY * size.heightPx);
    const { across, down } = countHiddenCells(w, h);
    const x = writeCourse(area, startUs, (place) => place.x * size.widthPx - w / 2, size.widthPx - w);
    const y = writeCourse(area, startUs, (place) => place.y * size.heightPx - h / 2, size.heightPx - h);
    chains.push(
      { from: open.from, filters: [...open.filters, 'split=2'], to: [base, part] },
      {
        from: [part],
        filters: [
          `crop=w=${w}:h=${h}:x='${x}':y='${y}'`,
          // Full chroma, so that color has as many cells as brightness, and goes over as smoothly.
          'format=yuv444p',
          `scale=${across}:${down}:flags=area`,
          `scale=${w}:${h}:flags=bicubic`,
          `format=${chooseFormat(size).part}`,
        ],
        to: [blur],
      },
      {
        from: [],
        filters: [
          `color=black:s=${w}x${h}:r=1:d=1`,
          'format=gray',
          "geq=lum='255*lte(pow(2*(X+0.5)/W-1,2)+pow(2*(Y+0.5)/H-1,2),1)'",
        ],
        to: [mask],
      },
      { from: [blur, mask], filters: ['alphamerge'], to: [soft] },
    );
    open = {
      from: [base, soft],
      filters: [`overlay=x='${x}':y='${y}':format=${chooseFormat(size).whole}`],
      to: chain.to,
    };
  }
  return [...chains, open];
}

/** The picture stays in its own format, as far as `overlay` knows it. */
function chooseFormat({ chroma, bitDepth }: Pick<VideoFacts, 'chroma' | 'bitDepth'>): {
  whole: string;
  part: string;
} {
  const deep = bitDepth > 8 ? 'p10' : '';
  if (chroma === '4:2:0') return { whole: `yuv420${deep}`, part: 'yuv420p' };
  if (chroma === '4:2:2') return { whole: `yuv422${deep}`, part: 'yuv422p' };
  return { whole: 'yuv444', part: 'yuv444p' };
}

const even = (px: number) => Math.max(2, Math.round(px / 2) * 2);

/** Where an edge of the box lies at the time `t`: straight from mark to mark, on even points. */
function writeCourse(
  area: HiddenArea,
  startUs: number,
  read: (place: { x: number; y: number }) => number,
  most: number,
): string {
  const marks = area.path.map((mark) => ({
    t: (mark.timeUs - startUs) / 1e6,
    at: Math.max(0, Math.min(most, read(keepInside(mark, area)))),
  }));
  const last = marks.at(-1) ?? { t: 0, at: 0 };
  const way = marks.slice(0, -1).reduceRight((rest, mark, index) => {
    const next = marks[index + 1] ?? last;
    const slope = (next.at - mark.at) / (next.t - mark.t);
    const line = `${mark.at.toFixed(3)}+${slope.toFixed(6)}*(t-(${mark.t.toFixed(6)}))`;
    return `if(lt(t,${next.t.toFixed(6)}),${line},${rest})`;
  }, last.at.toFixed(3));
  const first = marks[0] ?? last;
  const whole = marks.length > 1 ? `if(lt(t,${first.t.toFixed(6)}),${first.at.toFixed(3)},${way})` : way;
  return `2*floor((${whole})/2)`;
}
