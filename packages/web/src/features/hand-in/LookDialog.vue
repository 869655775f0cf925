<script setup lang="ts">
import type { MadeView } from '@apodix/core';

/** The finished file itself, as it is handed in. */
defineProps<{ made: MadeView | null }>();
const emit = defineEmits<{ close: [] }>();
</script>

<template>
  <v-dialog :model-value="made !== null" max-width="900" @update:model-value="emit('close')">
    <div v-if="made" class="sheet look">
      <h2>{{ made.fileName }}</h2>
      <video v-if="made.facts.kind === 'video'" :src="made.fileUrl" controls playsinline /><audio
        v-else-if="made.facts.kind === 'sound'"
        :src="made.fileUrl"
        controls
      /><img v-else :src="made.fileUrl" :alt="made.fileName" /><v-btn class="quiet" @click="emit('close')"
        >Close</v-btn
      >
    </div>
  </v-dialog>
</template>

<style scoped>
.look {
  padding: 16px;
  display: grid;
  gap: 12px;
  justify-items: start;
}
h2 {
  overflow-wrap: anywhere;
}
video,
img {
  max-width: 100%;
  max-height: 70vh;
}
</style>
