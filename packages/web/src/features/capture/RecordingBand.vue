<script setup lang="ts">
import { formatDuration, type TimeLeft } from '@apodix/core';

/** That it runs, for how long, and how that stands against the limit; to be read from across a room. */
defineProps<{ elapsedMs: number; time: TimeLeft }>();
</script>

<template>
  <div class="band" role="status" aria-live="off">
    <span class="lamp" aria-hidden="true" />
    <span class="time figures" data-testid="elapsed">{{ formatDuration(elapsedMs * 1000, 0) }}</span>
    <span class="left" :class="time.state">Recording · {{ time.text }}</span>
  </div>
</template>

<style scoped>
.band {
  position: absolute;
  inset: auto 0 0;
  display: flex;
  align-items: center;
  gap: 16px;
  flex-wrap: wrap;
  padding: 10px 18px;
  background: rgb(0 0 0 / 62%);
  color: #fff;
}
.lamp {
  width: clamp(24px, 4vw, 44px);
  aspect-ratio: 1;
  background: #ff5a4d;
  border-radius: 50%;
  animation: beat 1.2s ease-in-out infinite;
}
.time {
  font-size: clamp(40px, 7vw, 84px);
  font-weight: 700;
  line-height: 1;
}
.left {
  font-size: clamp(16px, 2vw, 24px);
  font-weight: 700;
}
.left.over,
.left.ending {
  color: #f0be58;
}
@keyframes beat {
  50% {
    opacity: 0.35;
  }
}
@media (prefers-reduced-motion: reduce) {
  .lamp {
    animation: none;
  }
}
</style>
