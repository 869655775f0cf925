<script setup lang="ts">
import type { Material } from '@apodix/core';
import { saveText } from '../../composables/save-text.ts';

/** One of the materials that came with the assignment. */
defineProps<{ material: Material | null }>();
const emit = defineEmits<{ close: [] }>();
</script>

<template>
  <v-dialog :model-value="material !== null" max-width="640" @update:model-value="emit('close')">
    <div v-if="material" class="sheet material">
      <h2>{{ material.title }}</h2>
      <p class="plain">{{ material.text }}</p>
      <div class="acts">
        <v-btn class="plain" @click="saveText(`${material.title}.txt`, material.text)">Save</v-btn
        ><v-btn class="quiet" @click="emit('close')">Close</v-btn>
      </div>
    </div>
  </v-dialog>
</template>

<style scoped>
.material {
  padding: 20px;
  display: grid;
  gap: 14px;
}
p.plain {
  white-space: pre-line;
  font-size: 16px;
}
.acts {
  display: flex;
  gap: 8px;
}
</style>
