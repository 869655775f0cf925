<script setup lang="ts">
import type { AssignmentCard } from '@apodix/core';
import ProofSign from '../../components/ProofSign.vue';
import type { DueWords } from '../../composables/describe-due.ts';
import { findNextStop } from './useToday.ts';

/** One assignment that is still to be made. */
defineProps<{ card: AssignmentCard; due: DueWords | null }>();
</script>

<template>
  <router-link :to="findNextStop(card)" class="sheet card">
    <img v-if="card.coverUrl" :src="card.coverUrl" alt="" loading="lazy" />
    <span v-else class="blank" aria-hidden="true"
      ><ProofSign measured="open" planned="open" proven="open" :size="26"
    /></span>
    <span class="what"
      ><span class="note"
        >{{ card.courseTitle }}<template v-if="card.subject"> · {{ card.subject }}</template></span
      ><strong class="title">{{ card.title }}</strong
      ><span v-if="card.isChanged" class="changed">Your teacher changed something. Look at the brief.</span
      ><span
        >{{ card.situation }} <strong>{{ card.nextStep }}</strong></span
      ></span
    >
    <span v-if="due" class="time" :class="{ urgent: due.isUrgent }"
      ><strong>{{ due.left }}</strong
      ><span class="track" aria-hidden="true"
        ><span :style="{ width: `${Math.max(3, 100 - 100 * due.passed)}%` }" /></span
      ><span class="note">{{ due.when }}</span></span
    >
    <span v-else class="time note">no due time</span>
  </router-link>
</template>

<style scoped>
.card {
  display: flex;
  gap: 16px;
  padding: 12px;
  text-decoration: none;
  align-items: center;
  content-visibility: auto;
  contain-intrinsic-size: auto 102px;
}
.card:hover {
  border-color: var(--ink);
}
img,
.blank {
  width: 132px;
  height: 76px;
  object-fit: cover;
  border-radius: 3px;
  flex: none;
  background: var(--track);
}
.blank {
  display: grid;
  place-items: center;
}
.what {
  display: grid;
  gap: 1px;
  flex: 1;
  min-width: 0;
}
.title {
  font: 700 17px var(--display);
  overflow-wrap: anywhere;
}
.changed {
  color: var(--saffron);
  font-weight: 700;
}
.time {
  width: 190px;
  flex: none;
  display: grid;
  gap: 5px;
}
.time.urgent strong {
  color: var(--madder);
}
.track {
  display: block;
  height: 6px;
  border-radius: 3px;
  background: var(--track);
  overflow: hidden;
}
.track span {
  display: block;
  height: 100%;
  background: var(--ink);
  border-radius: 3px;
}
.urgent .track span {
  background: var(--madder);
}
@media (max-width: 1000px) {
  .card {
    flex-wrap: wrap;
    gap: 10px 12px;
  }
  img,
  .blank {
    width: 84px;
    height: 60px;
  }
  .what {
    flex-basis: calc(100% - 100px);
  }
  .time {
    width: 100%;
  }
  .time .note {
    display: none;
  }
}
</style>
