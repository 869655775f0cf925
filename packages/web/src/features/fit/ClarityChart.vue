<script setup lang="ts">
import type { Curve, FitChoice, VideoPlan } from '@apodix/core';
import { onMounted, onScopeDispose, ref, useTemplateRef, watch } from 'vue';
import { useTheme } from 'vuetify';
import { buildChart, type ChartColors } from './build-chart.ts';

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
let resizing: ResizeObserver | null = null;
let isGone = false;
const LEAST_HEIGHT = 350;

function readColors(): ChartColors {
  const style = getComputedStyle(document.querySelector('.v-application') ?? document.body);
  const color = (name: string) => `rgb(${style.getPropertyValue(`--v-theme-${name}`).trim()})`;
  return {
    ink: color('ink'),
    soft: color('soft-ink'),
    line: color('line'),
    madder: color('madder'),
    madderSoft: color('madder-soft'),
    sheet: color('surface'),
    curves: [color('met'), color('info'), color('saffron'), color('madder'), color('soft-ink'), color('ink')],
    mono: style.getPropertyValue('--mono') || 'monospace',
    sans: style.getPropertyValue('--sans') || 'sans-serif',
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
  <div v-else ref="host" class="plot" role="img" :aria-label="sentence" />
</template>

<style scoped>
.plot {
  width: 100%;
  height: 100%;
  min-height: 350px;
  overflow: hidden;
}
</style>
