<script setup lang="ts">
import { formatExactBytes, type MadeView, type Slot } from '@apodix/core';
import ProofSign from '../../components/ProofSign.vue';
import { readSign } from '../../components/read-sign.ts';
import { describeMade, describeProof } from './describe-made.ts';

/** One made file in its slot. */
defineProps<{ made: MadeView; slotOf: Slot; now: number; isFixed: boolean }>();
const emit = defineEmits<{ see: []; rename: []; takeOut: [] }>();
</script>

<template>
  <article class="sheet item">
    <img v-if="made.posterUrl" :src="made.posterUrl" alt="" /><span v-else class="blank" aria-hidden="true"
      ><ProofSign v-bind="readSign(made.findings)" :size="28"
    /></span>
    <div class="what">
      <span class="note">{{ slotOf.label }}</span><strong class="figures file">{{ made.fileName }}</strong
      ><span class="figures note" :title="formatExactBytes(made.sizeBytes)">{{
        describeMade(made, now)
      }}</span
      ><span class="proof"><ProofSign v-bind="readSign(made.findings)" /> {{ describeProof(made) }}</span>
    </div>
    <div class="acts">
      <v-btn class="quiet" @click="emit('see')">See it</v-btn
      ><v-btn class="quiet" :href="`${made.fileUrl}?save`">Save a copy</v-btn
      ><template v-if="!isFixed"
        ><v-btn class="quiet" @click="emit('rename')">Rename</v-btn
        ><v-btn class="quiet" @click="emit('takeOut')">Take out</v-btn></template
      >
    </div>
  </article>
</template>

<style scoped>
.item {
  display: flex;
  gap: 16px;
  padding: 12px;
  align-items: center;
}
img,
.blank {
  width: 132px;
  height: 84px;
  object-fit: cover;
  border-radius: 3px;
  background: var(--track);
  flex: none;
}
.blank {
  display: grid;
  place-items: center;
}
.what {
  flex: 1;
  min-width: 0;
  display: grid;
  gap: 2px;
}
.file {
  font-size: 16px;
  overflow-wrap: anywhere;
}
.proof {
  display: flex;
  gap: 8px;
  align-items: center;
}
.acts {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
  flex: none;
}
@media (max-width: 1000px) {
  .item {
    flex-wrap: wrap;
  }
}
</style>
