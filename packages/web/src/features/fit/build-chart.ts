import {
  convertSsimToClarity,
  formatBytes,
  measureFramesUs,
  readCurve,
  type Curve,
  type FitChoice,
  type VideoPlan,
} from '@apodix/core';

/** Colors of the page as they are at the moment: the chart follows the theme. */
export interface ChartColors {
  readonly ink: string;
  readonly soft: string;
  readonly line: string;
  readonly madder: string;
  readonly madderSoft: string;
  readonly sheet: string;
  readonly curves: readonly string[];
  readonly mono: string;
  readonly sans: string;
}

export interface ChartInput {
  readonly curves: readonly Curve[];
  /** The plan that stands now; its sound and tables come on top of every point's picture. */
  readonly plan: VideoPlan;
  readonly limitBytes: number | null;
  /** Files that have been made of this take: where they came out. */
  readonly made: readonly {
    readonly sizeBytes: number;
    readonly ssim: number;
    readonly isCurrent: boolean;
  }[];
  readonly colors: ChartColors;
  readonly isNarrow: boolean;
  readonly widthPx: number;
  readonly heightPx: number;
}

const STEPS = 48;
/** Room below the lowest tick, so that it stands clear of the corner. */
const BELOW = 0.4;
/** The line that is labelled at its end needs this share of the width beyond the limit. */
const BEYOND_LIMIT = 1.3;

export interface ChartTrace {
  readonly name: string;
  readonly x: number[];
  readonly y: number[];
  readonly [more: string]: unknown;
}

/**
 * Plotly's figure of clarity against megabytes: a curve for each number of lines, the limit, what lies beyond
 * it, the chosen and the made points.
 */
export function buildChart(input: ChartInput): {
  data: ChartTrace[];
  layout: Record<string, unknown>;
  choices: (FitChoice | null)[][];
  sentence: string;
} {
  const { curves, plan, limitBytes, colors } = input;
  const other = countOtherBytes(plan);
  const mostSampled = Math.max(
    ...curves.flatMap((curve) => curve.points.map((point) => point.videoBytes + other)),
    plan.prediction.bytes,
    ...input.made.map((file) => file.sizeBytes * 1.05),
  );
  const most =
    limitBytes === null
      ? mostSampled
      : Math.min(Math.max(mostSampled, plan.prediction.bytes * 1.1), limitBytes * BEYOND_LIMIT);
  const lowestY = Math.min(...curves.map((curve) => curve.points[0]?.ssim ?? 1), plan.prediction.ssim ?? 1);
  const data: ChartTrace[] = [];
  const choices: (FitChoice | null)[][] = [];
  const ends: { text: string; x: number; y: number; color: string }[] = [];
  const lines = [...new Set(curves.map((curve) => curve.lines))];
  for (const curve of curves) {
    // The same lines at half the frames have the same color, dotted.
    const color = colors.curves[lines.indexOf(curve.lines) % colors.curves.length] ?? colors.ink;
    const least = (curve.points[0]?.videoBytes ?? 1) + other;
    // On beyond the finest sample as far as the chart goes: more bytes bring ever less.
    const last = most;
    if (last <= least) continue;
    // Closer together where the curve bends: in equal steps of the square root.
    const xs = Array.from(
      { length: STEPS + 1 },
      (_, step) => (Math.sqrt(least) + ((Math.sqrt(last) - Math.sqrt(least)) * step) / STEPS) ** 2,
    );
    const ys = xs.map((bytes) => readCurve(curve, bytes - other).ssim * 100);
    const label = nameCurve(curve);
    data.push({
      name: label,
      x: xs.map((bytes) => bytes / 1e6),
      y: ys,
      type: 'scatter',
      mode: 'lines',
      line: { color, width: 3, dash: curve.rateDivisor === 2 ? 'dot' : 'solid' },
      hovertemplate: `${label}<br>%{x:.1f} MB, clarity %{y:.1f}<extra></extra>`,
    });
    choices.push(
      xs.map((bytes) =>
        limitBytes !== null && bytes > limitBytes
          ? null
          : {
              lines: curve.lines,
              rateDivisor: curve.rateDivisor,
              maxBytes: Math.round(bytes / 0.985),
              soundBps: null,
            },
      ),
    );
    ends.push({ text: label, x: last / 1e6, y: ys.at(-1) ?? 0, color });
  }
  const made = input.made.map((file) => ({ x: file.sizeBytes / 1e6, y: convertSsimToClarity(file.ssim) }));
  if (made.length > 0) {
    data.push({
      name: 'made',
      x: made.map((point) => point.x),
      y: made.map((point) => point.y),
      type: 'scatter',
      mode: 'markers',
      marker: { symbol: 'square', size: 11, color: colors.ink, line: { color: colors.sheet, width: 2 } },
      hovertemplate: 'made: %{x:.1f} MB, clarity %{y:.1f}<extra></extra>',
    });
    choices.push([]);
  }
  if (plan.prediction.ssim !== null && plan.method === 'code') {
    data.push({
      name: 'chosen',
      x: [plan.prediction.bytes / 1e6],
      y: [convertSsimToClarity(plan.prediction.ssim)],
      type: 'scatter',
      mode: 'markers',
      marker: {
        symbol: 'circle',
        size: 17,
        color: colors.curves[0] ?? colors.ink,
        line: { color: colors.sheet, width: 3 },
      },
      hovertemplate: 'planned: %{x:.1f} MB, clarity %{y:.1f}<extra></extra>',
    });
    choices.push([]);
  }
  const bottom = Math.max(0, Math.floor(convertSsimToClarity(lowestY) - 1));
  return {
    data,
    choices,
    layout: buildLayout(input, most, bottom, spreadLabels(ends, (100.6 - bottom) / 15)),
    sentence: describeChart(input),
  };
}

/** Bytes of the plan that are not the picture. */
export function countOtherBytes(plan: VideoPlan): number {
  const seconds = measureFramesUs(plan.cut) / 1e6;
  return plan.method === 'code'
    ? Math.max(0, plan.prediction.bytes - (plan.rate.videoBps * seconds) / 8)
    : ((plan.sound?.bitrateBps ?? 0) * seconds) / 8;
}

/** `720 lines`, and `720 halved` where every other frame is left out. */
export function nameCurve(curve: Pick<Curve, 'lines' | 'rateDivisor'>): string {
  return curve.rateDivisor === 2 ? `${curve.lines} halved` : `${curve.lines} lines`;
}

/** Labels at curve ends that would lie on each other are moved apart, the order kept. */
export function spreadLabels<T extends { readonly y: number }>(
  labels: readonly T[],
  gap: number,
): (T & { readonly labelY: number })[] {
  const sorted = labels
    .map((label) => ({ ...label, labelY: label.y }))
    .sort((left, right) => right.y - left.y);
  for (let index = 1; index < sorted.length; index += 1) {
    const [above, here] = [sorted[index - 1], sorted[index]];
    if (above && here && above.labelY - here.labelY < gap) here.labelY = above.labelY - gap;
  }
  return sorted;
}

/** Margins of the chart, and how wide a sign of its labels is, in points. */
const MARGIN = { l: 58, r: 12, t: 10, b: 56 };
const SIGN_PX = 8;
const LABEL_SHIFT_PX = 6;

/**
 * Which edge of a label is at its place: it stands right of it as long as it neither crosses the limit nor
 * leaves the chart, else to the left of it. Place, limit and end of the chart are in MB.
 */
export function placeLabel(
  text: string,
  { x, limit, right, widthPx }: { x: number; limit: number | null; right: number; widthPx: number },
): 'left' | 'right' {
  const mbPerPx = right / Math.max(1, widthPx - MARGIN.l - MARGIN.r);
  const end = x + (text.length * SIGN_PX + LABEL_SHIFT_PX) * mbPerPx;
  return (limit !== null && x < limit && end > limit) || end > right ? 'right' : 'left';
}

function buildLayout(
  input: ChartInput,
  mostBytes: number,
  bottom: number,
  ends: readonly { text: string; x: number; labelY: number; color: string }[],
): Record<string, unknown> {
  const { colors, limitBytes } = input;
  const right = (mostBytes / 1e6) * (input.isNarrow ? 1.62 : 1.2);
  const font = { family: colors.sans, size: 14, color: colors.ink };
  const limitMb = limitBytes === null ? null : limitBytes / 1e6;
  const isLimitShown = limitMb !== null && limitMb <= right;
  const limitText = `limit ${formatBytes(limitBytes ?? 0)}`;
  /** To the left of its place a label stands below its line. */
  const anchor = (text: string, x: number, limit: number | null) => {
    const xanchor = placeLabel(text, { x, limit, right, widthPx: input.widthPx });
    return xanchor === 'left'
      ? { xanchor, xshift: LABEL_SHIFT_PX }
      : { xanchor, xshift: -LABEL_SHIFT_PX, yanchor: 'top', yshift: -LABEL_SHIFT_PX };
  };
  return {
    paper_bgcolor: 'rgba(0,0,0,0)',
    plot_bgcolor: 'rgba(0,0,0,0)',
    showlegend: false,
    font,
    hovermode: 'closest',
    dragmode: false,
    autosize: false,
    width: input.widthPx,
    height: input.heightPx,
    margin: MARGIN,
    xaxis: {
      range: [0, right],
      title: { text: 'file size, MB', font: { ...font, size: 13, color: colors.soft }, standoff: 8 },
      tickfont: { family: colors.mono, size: 13, color: colors.soft },
      showgrid: false,
      zeroline: false,
      fixedrange: true,
      nticks: input.isNarrow ? 4 : 7,
    },
    yaxis: {
      range: [bottom - BELOW, 100.6],
      title: { text: 'clarity, of 100', font: { ...font, size: 13, color: colors.soft }, standoff: 6 },
      tickfont: { family: colors.mono, size: 13, color: colors.soft },
      gridcolor: colors.line,
      zeroline: false,
      fixedrange: true,
      nticks: 6,
    },
    shapes: isLimitShown
      ? [
          {
            type: 'rect',
            xref: 'x',
            yref: 'paper',
            x0: limitMb,
            x1: right,
            y0: 0,
            y1: 1,
            fillcolor: colors.madderSoft,
            line: { width: 0 },
            layer: 'below',
          },
          {
            type: 'line',
            xref: 'x',
            yref: 'paper',
            x0: limitMb,
            x1: limitMb,
            y0: 0,
            y1: 1,
            line: { color: colors.ink, width: 2 },
          },
        ]
      : [],
    annotations: [
      ...ends.map((end) => ({
        x: end.x,
        y: end.labelY,
        xref: 'x',
        yref: 'y',
        text: end.text,
        showarrow: false,
        ...anchor(end.text, end.x, isLimitShown ? limitMb : null),
        font: { family: colors.mono, size: 13, color: end.color },
      })),
      ...(isLimitShown
        ? [
            {
              x: limitMb,
              y: 0.02,
              xref: 'x',
              yref: 'paper',
              text: `<b>${limitText}</b>`,
              showarrow: false,
              ...anchor(limitText, limitMb, null),
              yanchor: 'bottom',
              yshift: 0,
              font: { family: colors.mono, size: 13, color: colors.ink },
            },
          ]
        : []),
    ],
  };
}

function describeChart(input: ChartInput): string {
  const { plan, curves, limitBytes } = input;
  const clarity =
    plan.prediction.ssim === null
      ? ''
      : `, clarity about ${convertSsimToClarity(plan.prediction.ssim).toFixed(1)} of 100`;
  return `Clarity against file size for ${curves.map(nameCurve).join(', ')}. Planned: ${Math.min(plan.cut.widthPx, plan.cut.heightPx)} lines, ${formatBytes(plan.prediction.bytes)}${clarity}${limitBytes === null ? '' : `; the limit is ${formatBytes(limitBytes)}`}.`;
}
