<script setup lang="ts">
import type { AssignmentCard } from '@apodix/core';
import ProofSign from '../../components/ProofSign.vue';
import { describePast } from '../../composables/describe-due.ts';
import { findNextStop } from './useToday.ts';

/** One assignment that was handed in. */
defineProps<{ card: AssignmentCard; now: number }>();
</script>

<template>
  <div class="sheet done">
    <ProofSign measured="open" planned="open" :proven="card.proven ?? 'open'" :size="20" />
    <div class="what">
      <strong>{{ card.title }}</strong><span class="note"
        >{{ card.courseTitle }} · {{ card.receiptId ? 'received' : 'given by hand'
        }}{{ card.handedInAt ? ` ${describePast(card.handedInAt, now)}` : ''
        }}<template v-if="card.state === 'feedback-back'"> · feedback is back</template></span
      >
    </div>
    <v-btn class="quiet" :to="findNextStop(card)">{{
      card.state === 'feedback-back' ? 'Read feedback' : card.receiptId ? 'See receipt' : 'See it'
    }}</v-btn>
  </div>
</template>

<style scoped>
.done {
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 12px 14px;
  content-visibility: auto;
  contain-intrinsic-size: auto 66px;
}
.what {
  display: grid;
  gap: 1px;
  flex: 1;
  min-width: 0;
}
@media (max-width: 1000px) {
  .done {
    flex-wrap: wrap;
  }
}
</style>
