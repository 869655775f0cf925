<script setup lang="ts">
import { computed } from 'vue';

/** Stage, share done and time left of something that takes a while, with a way to stop it. */
const props = defineProps<{
  stage: string;
  share: number;
  secondsLeft: number | null;
  canCancel?: boolean;
}>();
const emit = defineEmits<{ cancel: [] }>();
const left = computed(() => {
  const seconds = props.secondsLeft;
  if (seconds === null) return '';
  return seconds < 90
    ? `about ${Math.max(1, Math.round(seconds))} s left`
    : `about ${Math.round(seconds / 60)} min left`;
});
</script>

<template>
  <div class="job">
    <div class="line">
      <span>{{ stage }}</span><span class="figures">{{ Math.round(share * 100) }} %</span>
    </div>
    <v-progress-linear :model-value="share * 100" color="primary" height="6" rounded :aria-label="stage" />
    <div class="line note">
      <span>{{ left }}</span><button v-if="canCancel" type="button" @click="emit('cancel')">Stop</button>
    </div>
  </div>
</template>

<style scoped>
.job {
  display: grid;
  gap: 5px;
}
.line {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: center;
}
.line button {
  min-height: 40px;
  padding: 0 6px;
  text-decoration: underline;
  color: var(--ink);
}
</style>
