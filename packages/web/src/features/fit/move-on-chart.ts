import type { FitChoice } from '@apodix/core';

/** A point of the chart: which curve, and which of its points. */
export interface ChartPlace {
  readonly curve: number;
  readonly point: number;
}

/** So many points at one press: a curve is crossed in a dozen. */
const STRIDE = 4;

/**
 * Where an arrow key goes on the chart: left and right along a curve, up and down to the next curve, Home and
 * End to its ends. Only points that can be chosen are stood on. null where the key moves nothing, or there is
 * nowhere to stand.
 */
export function moveOnChart(
  choices: readonly (readonly (FitChoice | null)[])[],
  at: ChartPlace | null,
  key: string,
): ChartPlace | null {
  const curves = choices.map((points) => points.flatMap((choice, point) => (choice ? [point] : [])));
  const reachable = curves.flatMap((points, curve) => (points.length > 0 ? [curve] : []));
  const [first] = reachable;
  if (first === undefined) return null;
  if (at === null) return { curve: first, point: curves[first]?.at(-1) ?? 0 };
  const points = curves[at.curve] ?? [];
  const index = Math.max(0, points.indexOf(at.point));
  const along = (to: number): ChartPlace => ({
    curve: at.curve,
    point: points[Math.max(0, Math.min(points.length - 1, to))] ?? at.point,
  });
  const across = (step: number): ChartPlace => {
    const next =
      reachable[(reachable.indexOf(at.curve) + step + reachable.length) % reachable.length] ?? first;
    const others = curves[next] ?? [];
    return { curve: next, point: others[Math.min(index, others.length - 1)] ?? 0 };
  };
  switch (key) {
    case 'ArrowRight':
      return along(index + STRIDE);
    case 'ArrowLeft':
      return along(index - STRIDE);
    case 'Home':
      return along(0);
    case 'End':
      return along(points.length - 1);
    case 'ArrowUp':
      return across(-1);
    case 'ArrowDown':
      return across(1);
    default:
      return null;
  }
}
