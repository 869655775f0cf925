<script setup lang="ts">
import type { AssignmentView } from '@apodix/core';
import { computed } from 'vue';
import { describePast } from '../../composables/describe-due.ts';

/** What has happened so far, and who can open it. */
const props = defineProps<{
  view: AssignmentView;
  isReceived: boolean;
  isSending: boolean;
  attemptsLeft: number | null;
  now: number;
}>();
const MOST_SHOWN = 9;
const happened = computed(() => props.view.events.slice(-MOST_SHOWN));
const attempt = computed(() =>
  Math.min(props.view.attemptsAllowed ?? Infinity, props.view.attemptsUsed + (props.isReceived ? 0 : 1)),
);
const judgedBy = {
  course: 'It is judged by the limits that your course set.',
  read: 'It is judged by the limits as they were read from the instructions.',
  'read-and-corrected': 'It is judged by the limits as you corrected them; the receipt says so.',
} as const;
</script>

<template>
  <aside class="side">
    <h2>What has happened</h2>
    <ol class="sheet events">
      <li v-for="(event, index) in happened" :key="index" class="past">
        <span>{{ event.what }}</span><span class="note">{{ describePast(event.at, now) }}</span>
      </li>
      <li v-if="!isReceived && !isSending"><strong>Hand in</strong><span class="note">still to do</span></li>
      <li v-if="!isReceived"><span>Received by the course site</span></li>
    </ol>
    <div class="sheet who">
      <strong>Only you and your teacher can open this.</strong>
      <p class="note">
        <template v-if="attemptsLeft !== null">Attempt {{ attempt }} of {{ view.attemptsAllowed }}.</template>
        {{ view.isLateAllowed ? 'Late work is taken.' : 'Nothing is taken after the due time.' }}
      </p>
      <p class="note">{{ judgedBy[view.limitsFrom] }}</p>
    </div>
  </aside>
</template>

<style scoped>
.side {
  display: grid;
  gap: 12px;
  align-content: start;
}
.events {
  list-style: none;
  margin: 0;
  padding: 16px;
  display: grid;
  gap: 14px;
}
.events li {
  display: grid;
  padding-left: 28px;
  position: relative;
  overflow-wrap: anywhere;
}
.events li::before {
  content: '';
  position: absolute;
  left: 2px;
  top: 4px;
  width: 12px;
  height: 12px;
  border-radius: 50%;
  border: 2px solid var(--soft-ink);
}
.events li.past::before {
  background: var(--met);
  border-color: var(--met);
}
.who {
  padding: 14px 16px;
  display: grid;
  gap: 4px;
}
</style>
