<script setup lang="ts">
import type { Curve, FitChoice, VideoPlan } from '@apodix/core';
import { onMounted, onScopeDispose, ref, useTemplateRef, watch } from 'vue';
import { useTheme } from 'vuetify';
import { readTheme } from '../../composables/read-theme.ts';
import { buildChart, type ChartColors, type ChartTrace } from './build-chart.ts';
import { moveOnChart, type ChartPlace } from './move-on-chart.ts';

const props = defineProps<{
  curves: readonly Curve[];
  plan: VideoPlan;
  limitBytes: number | null;
  made: readonly { sizeBytes: number; ssim: number; isCurrent: boolean }[];
  isDisabled: boolean;
}>();
const emit = defineEmits<{ choose: [choice: FitChoice] }>();
const theme = useTheme();
const host = useTemplateRef<HTMLElement>('host');
const sentence = ref('');
const hasFailed = ref(false);
let plotly: typeof import('plotly.js-cartesian-dist-min') | null = null;
let choices: (FitChoice | null)[][] = [];
let traces: readonly ChartTrace[] = [];
let place: ChartPlace | null = null;
const pointed = ref('');
let resizing: ResizeObserver | null = null;
let isGone = false;
const LEAST_HEIGHT = 350;

function readColors(): ChartColors {
  const { color, mono, sans } = readTheme();
  return {
    ink: color('ink'),
    soft: color('soft-ink'),
    line: color('line'),
    madder: color('madder'),
    madderSoft: color('madder-soft'),
    sheet: color('surface'),
    curves: [color('met'), color('info'), color('saffron'), color('madder'), color('soft-ink'), color('ink')],
    mono,
    sans,
  };
}

async function draw(): Promise<void> {
  const element = host.value;
  if (!plotly || !element || isGone) return;
  const figure = buildChart({
    ...props,
    colors: readColors(),
    isNarrow: element.clientWidth < 480,
    widthPx: element.clientWidth,
    heightPx: Math.max(LEAST_HEIGHT, element.clientHeight),
  });
  choices = figure.choices;
  traces = figure.data;
  place = null;
  sentence.value = figure.sentence;
  await plotly.react(element, figure.data as never, figure.layout as never, {
    displayModeBar: false,
    displaylogo: false,
    responsive: false,
    doubleClick: false,
    scrollZoom: false,
    showTips: false,
  });
}

/** Arrow keys go from point to point, Enter chooses. */
function onKey(event: KeyboardEvent): void {
  const element = host.value;
  if (event.key === 'Enter' || event.key === ' ') {
    const choice = place ? choices[place.curve]?.[place.point] : null;
    if (!choice || props.isDisabled) return;
    event.preventDefault();
    emit('choose', choice);
    return;
  }
  const next = moveOnChart(choices, place, event.key);
  if (!next || !element || (place === null && !event.key.startsWith('Arrow'))) return;
  event.preventDefault();
  place = next;
  const trace = traces[next.curve];
  const [megabytes = 0, clarity = 0] = [trace?.x[next.point], trace?.y[next.point]];
  pointed.value = `${trace?.name ?? ''}, ${megabytes.toFixed(1)} MB, clarity ${clarity.toFixed(1)}. Enter chooses it.`;
  plotly?.Fx.hover(element, [{ curveNumber: next.curve, pointNumber: next.point }]);
}
function leave(): void {
  pointed.value = '';
  if (host.value) plotly?.Fx.unhover(host.value, undefined);
}

onMounted(async () => {
  try {
    plotly = await import('plotly.js-cartesian-dist-min');
    await draw();
    const element = host.value as
      | (HTMLElement & {
          on?: (
            event: string,
            listener: (data: { points: readonly { curveNumber: number; pointNumber: number }[] }) => void,
          ) => void;
        })
      | null;
    element?.on?.('plotly_click', (event) => {
      const [point] = event.points;
      const choice = point ? choices[point.curveNumber]?.[point.pointNumber] : null;
      if (choice && !props.isDisabled) emit('choose', choice);
    });
    if (element) {
      let widthPx = element.clientWidth;
      resizing = new ResizeObserver(() => {
        if (element.clientWidth === widthPx) return;
        widthPx = element.clientWidth;
        void draw();
      });
      resizing.observe(element);
    }
  } catch {
    hasFailed.value = true;
  }
});
watch(
  [
    () => props.curves,
    () => props.plan,
    () => props.made,
    () => props.limitBytes,
    () => theme.global.name.value,
  ],
  () => requestAnimationFrame(() => void draw()),
);
onScopeDispose(() => {
  isGone = true;
  resizing?.disconnect();
  if (host.value) plotly?.purge(host.value);
});
</script>

<template>
  <p v-if="hasFailed" class="note">
    The chart could not be drawn. The offers beside it hold the same figures.
  </p>
  <div v-else class="frame">
    <div
      ref="host"
      class="plot"
      role="application"
      tabindex="0"
      :aria-label="`${sentence} Arrow keys go from point to point.`"
      @keydown="onKey"
      @blur="leave"
    />
    <p class="unseen" aria-live="polite">{{ pointed }}</p>
  </div>
</template>

<style scoped>
.frame {
  height: 100%;
  min-width: 0;
}
.plot {
  width: 100%;
  height: 100%;
  min-height: 350px;
  overflow: hidden;
}
</style>
