import sharp from 'sharp';

export type PrintStage = 'block' | 'first-color' | 'full-print';

const waves = (color: string, width: number) =>
  Array.from({ length: 15 }, (_, row) => {
    const y = 60 + row * 66;
    const points = Array.from(
      { length: 17 },
      (_, step) => `${step * 100},${(y + Math.sin(step * 1.1 + row * 1.7) * (10 + row)).toFixed(0)}`,
    );
    return `<polyline points="${points.join(' ')}" fill="none" stroke="${color}" stroke-width="${width + (row % 3) * 4}" stroke-linejoin="round"/>`;
  }).join('');

/** A linocut of high water before mountains, at three stages, drawn flat at 1600×1130. */
export function drawPrint(stage: PrintStage): string {
  const paper = stage === 'block' ? '#7d6a55' : '#f2ecdf';
  const ink = stage === 'block' ? '#5c4a3a' : '#1c4650';
  const cut = stage === 'block' ? '#b09a7c' : '#f2ecdf';
  const sun = stage === 'full-print' ? '#cf6b35' : stage === 'block' ? '#a88e6f' : '#f2ecdf';
  const hatch =
    stage === 'full-print'
      ? Array.from(
          { length: 9 },
          (_, index) =>
            `<line x1="${1000 + index * 40}" x2="${1000 + index * 40}" y1="${230 + Math.abs(index - 4) * 14}" y2="${500 - Math.abs(index - 4) * 14}" stroke="#f2ecdf" stroke-width="7"/>`,
        ).join('')
      : '';
  return `<svg xmlns="http://www.w3.org/2000/svg" width="1600" height="1130" viewBox="0 0 1600 1130"><rect width="1600" height="1130" fill="${paper}"/>
  <clipPath id="c"><rect x="90" y="80" width="1420" height="970"/></clipPath><rect x="90" y="80" width="1420" height="970" fill="${ink}"/><g clip-path="url(#c)">${waves(cut, 9)}
  <circle cx="1160" cy="365" r="185" fill="${sun}"/>${hatch}<path d="M260 1050 L620 560 L800 790 L960 470 L1330 1050z" fill="${stage === 'block' ? '#46382c' : '#12242b'}"/>
  <path d="M620 560 L590 700 L660 780 L600 900 M960 470 L990 640 L930 740 L1000 860" fill="none" stroke="${cut}" stroke-width="12"/></g></svg>`;
}

/** The table that the print lies on: planks with grain, at the size of the photograph. */
function drawTable(widthPx: number, heightPx: number): string {
  const planks = Array.from(
    { length: 6 },
    (_, index) =>
      `<rect y="${index * 400}" width="3200" height="396" fill="${['#8a6238', '#7c5630', '#936a3e'][index % 3]}"/>`,
  ).join('');
  const grain = Array.from(
    { length: 160 },
    (_, index) =>
      `<path d="M0 ${index * 15 + (index % 7) * 2} Q800 ${index * 15 - 18 + (index % 5) * 9} 1600 ${index * 15 + 6} T3200 ${index * 15 - 4}" fill="none" stroke="#4b3019" stroke-opacity="${0.12 + (index % 4) * 0.06}" stroke-width="${1 + (index % 3)}"/>`,
  ).join('');
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${widthPx}" height="${heightPx}" viewBox="0 0 3200 2400">${planks}${grain}</svg>`;
}

export interface PhotographOptions {
  readonly widthPx: number;
  readonly heightPx: number;
  /** Corners of the print in the photograph, clockwise from the top left, as shares of width and height. */
  readonly corners: readonly (readonly [number, number])[];
}

/**
 * Photographs a print: it lies crooked on the table, one lamp stands at the left, the sensor has grain. Gives
 * raw RGB.
 */
export async function photographPrint(stage: PrintStage, options: PhotographOptions): Promise<Buffer> {
  const { widthPx, heightPx } = options;
  const [table, print] = await Promise.all(
    [drawTable(widthPx, heightPx), drawPrint(stage)].map((svg) =>
      sharp(Buffer.from(svg)).removeAlpha().raw().toBuffer(),
    ),
  );
  if (!table || !print) throw new TypeError('Both are drawn.');
  const toPrint = invertUnitSquare(options.corners.map(([x, y]) => [x * widthPx, y * heightPx] as const));
  const [lampR, lampG, lampB] = [1.06, 0.9, 0.66];
  let seed = 12_345;
  for (let y = 0; y < heightPx; y += 1) {
    for (let x = 0; x < widthPx; x += 1) {
      const at = (y * widthPx + x) * 3;
      const w = toPrint[6] * x + toPrint[7] * y + toPrint[8];
      const u = (toPrint[0] * x + toPrint[1] * y + toPrint[2]) / w;
      const v = (toPrint[3] * x + toPrint[4] * y + toPrint[5]) / w;
      const isPrint = u >= 0 && u < 1 && v >= 0 && v < 1;
      const isShadow = !isPrint && u > -0.005 && u < 1.025 && v > -0.005 && v < 1.03;
      const lit =
        (1.02 - 0.62 * Math.hypot(x / widthPx - 0.12, (y / heightPx - 0.2) * 0.75)) * (isShadow ? 0.62 : 1);
      seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0;
      const grain = ((seed >>> 24) - 128) * 0.06;
      const fx = isPrint ? u * 1599 : 0;
      const fy = isPrint ? v * 1129 : 0;
      const from = isPrint ? (Math.floor(fy) * 1600 + Math.floor(fx)) * 3 : at;
      const source = isPrint ? print : table;
      const nextX = isPrint ? fx % 1 : 0;
      const nextY = isPrint ? fy % 1 : 0;
      for (let channel = 0; channel < 3; channel += 1) {
        let value = source[from + channel] ?? 0;
        if (isPrint) {
          const right = source[from + 3 + channel] ?? value;
          const below = source[from + 4800 + channel] ?? value;
          value = value * (1 - nextX) * (1 - nextY) + right * nextX + below * nextY * (1 - nextX);
        }
        const lamp = channel === 0 ? lampR : channel === 1 ? lampG : lampB;
        table[at + channel] = Math.max(0, Math.min(255, value * lit * lamp * 0.92 + grain));
      }
    }
  }
  return table;
}

type Homography = [number, number, number, number, number, number, number, number, number];

/**
 * The projective map from a quadrilateral (clockwise from the top left) onto the unit square (Heckbert 1989,
 * 2.2.3).
 */
function invertUnitSquare(corners: readonly (readonly [number, number])[]): Homography {
  const [[x0, y0], [x1, y1], [x2, y2], [x3, y3]] = corners as [
    [number, number],
    [number, number],
    [number, number],
    [number, number],
  ];
  const [dx1, dx2, sx] = [x1 - x2, x3 - x2, x0 - x1 + x2 - x3];
  const [dy1, dy2, sy] = [y1 - y2, y3 - y2, y0 - y1 + y2 - y3];
  const det = dx1 * dy2 - dx2 * dy1;
  const g = (sx * dy2 - dx2 * sy) / det;
  const h = (dx1 * sy - sx * dy1) / det;
  const [a, b, c, d, e, f] = [x1 - x0 + g * x1, x3 - x0 + h * x3, x0, y1 - y0 + g * y1, y3 - y0 + h * y3, y0];
  return [
    e - f * h,
    c * h - b,
    b * f - c * e,
    f * g - d,
    a - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ];
}
