<script setup lang="ts">
import { transferFunctions, type TargetFit } from '@apodix/core';
import { readTheme } from '../../../composables/read-theme.ts';
import { computed, nextTick, onScopeDispose, ref, useTemplateRef, watch } from 'vue';

/** Every patch of a color target: how far off it was and is, as a chart and in figures. */
const props = defineProps<{
  isOpen: boolean;
  fit: TargetFit;
  wanted: readonly (readonly [number, number, number])[];
}>();
const emit = defineEmits<{ close: [] }>();
const host = useTemplateRef<HTMLElement>('host');
const hasFailed = ref(false);
let plotly: typeof import('plotly.js-cartesian-dist-min') | null = null;
const write = (value: number | null) => (value === null ? 'hidden' : value.toFixed(1));
const rows = computed(() =>
  props.wanted.map((light, index) => ({
    number: index + 1,
    color: `rgb(${light
      .map((side) => Math.round(255 * transferFunctions.srgb.toSignal(Math.max(0, Math.min(1, side)))))
      .join(' ')})`,
    before: props.fit.before[index] ?? null,
    after: props.fit.after[index] ?? null,
  })),
);
async function draw(): Promise<void> {
  await nextTick();
  const element = host.value;
  if (!element) return;
  try {
    plotly ??= await import('plotly.js-cartesian-dist-min');
    const { color: readColor, sans } = readTheme();
    const ink = readColor('ink');
    const x = rows.value.map(({ number }) => number);
    const bars = (name: string, values: readonly (number | null)[], color: string) => ({
      type: 'bar',
      name,
      x,
      y: values,
      marker: { color },
    });
    const data = [
      bars('as photographed', props.fit.before, readColor('saffron')),
      bars('with the target', props.fit.after, readColor('met')),
    ];
    const axis = { color: ink, gridcolor: readColor('line'), fixedrange: true };
    await plotly.react(
      element,
      data as never,
      {
        height: 220,
        margin: { l: 44, r: 8, t: 8, b: 36 },
        paper_bgcolor: 'transparent',
        plot_bgcolor: 'transparent',
        font: { color: ink, family: sans },
        legend: { orientation: 'h', y: 1.15 },
        xaxis: { ...axis, title: { text: 'patch' }, dtick: 1 },
        yaxis: { ...axis, title: { text: 'ΔE' } },
      } as never,
      { displayModeBar: false, responsive: true },
    );
  } catch {
    hasFailed.value = true;
  }
}
watch([() => props.isOpen, () => props.fit], ([isOpen]) => isOpen && void draw(), { immediate: true });
onScopeDispose(() => host.value && plotly?.purge(host.value));
</script>

<template>
  <v-dialog :model-value="isOpen" max-width="760" @update:model-value="emit('close')">
    <div class="sheet all">
      <h2>How far each colour is off</h2>
      <p class="note">
        ΔE tells how different two colours look: below 2 hardly anybody sees it. Mean
        <strong class="figures">{{ fit.meanBefore.toFixed(1) }} → {{ fit.meanAfter.toFixed(1) }}</strong
        >.
      </p>
      <p v-if="hasFailed" class="note">The chart could not be drawn; the figures stand below.</p>
      <div v-else ref="host" class="chart" role="img" aria-label="ΔE of each patch before and after" />
      <table>
        <thead>
          <tr>
            <th>Patch</th>
            <th>Should be</th>
            <th class="figures">Before</th>
            <th class="figures">After</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.number">
            <td class="figures">{{ row.number }}</td>
            <td><span class="patch" :style="{ background: row.color }" /></td>
            <td class="figures">{{ write(row.before) }}</td>
            <td class="figures">{{ write(row.after) }}</td>
          </tr>
        </tbody>
      </table>
      <v-btn class="quiet" @click="emit('close')">Close</v-btn>
    </div>
  </v-dialog>
</template>

<style scoped>
.all {
  padding: 16px;
  display: grid;
  gap: 12px;
  max-height: calc(100vh - 64px);
  overflow-y: auto;
}
.chart {
  min-height: 220px;
  color: var(--ink);
}
table {
  border-collapse: collapse;
}
th,
td {
  padding: 3px 10px;
  text-align: left;
  border-bottom: 1px solid var(--line);
}
th.figures,
td.figures {
  text-align: right;
}
.patch {
  display: inline-block;
  width: 44px;
  height: 18px;
  border-radius: 3px;
  border: 1px solid var(--line);
}
</style>
