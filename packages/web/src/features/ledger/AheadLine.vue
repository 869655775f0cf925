<script setup lang="ts">
import type { TakeView } from '@apodix/core';
import { computed } from 'vue';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import { describeAhead } from './describe-ahead.ts';

/** What is made of a take before it is asked for, with a way to say no. */
const props = defineProps<{ take: TakeView; isMade: boolean }>();
const work = useWork();
const notices = useNotices();
const line = computed(() =>
  describeAhead(props.take, work.findJob(props.take.id, 'ahead'), {
    isBusy: props.isMade || work.findJob(props.take.id, 'make') !== null,
  }),
);
const allow = (isMadeAhead: boolean) => work.allowAhead(props.take.id, isMadeAhead).catch(notices.tellFault);
</script>

<template>
  <p v-if="line" class="ahead note" data-testid="ahead">
    <span
      title="While you look, parts of the file are made already, when nobody else needs the computer. Nothing is ready before you ask for it."
      >{{ line.text }}</span
    >
    <button type="button" @click="allow(!take.isMadeAhead)">{{ line.button }}</button>
  </p>
</template>

<style scoped>
.ahead {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  margin: 0;
  text-align: left;
  font-variant-numeric: tabular-nums;
}
.ahead button {
  min-height: 40px;
  flex: none;
  padding: 0 4px;
  text-decoration: underline;
  color: var(--ink);
}
</style>
