<script setup lang="ts">
import { ref, watch } from 'vue';

/** Asks for another name of a file; null while nothing is asked. The ending stays. */
const props = defineProps<{ fileName: string | null }>();
const emit = defineEmits<{ name: [stem: string]; close: [] }>();
const stem = ref('');
const ending = ref('');
watch(
  () => props.fileName,
  (next) => {
    ending.value = /\.[^.]*$/.exec(next ?? '')?.[0] ?? '';
    stem.value = (next ?? '').slice(0, (next ?? '').length - ending.value.length);
  },
  { immediate: true },
);
function keep(): void {
  if (stem.value.trim() !== '') emit('name', stem.value.trim());
}
</script>

<template>
  <v-dialog :model-value="fileName !== null" max-width="520" @update:model-value="emit('close')">
    <form class="sheet ask" @submit.prevent="keep">
      <label for="file-stem">What is the file to be called?</label>
      <v-text-field id="file-stem" v-model="stem" maxlength="200" autofocus :suffix="ending" />
      <div class="acts">
        <v-btn class="go" type="submit" :disabled="stem.trim() === ''">Rename</v-btn
        ><v-btn class="quiet" @click="emit('close')">Leave it</v-btn>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.ask {
  padding: 20px;
  display: grid;
  gap: 12px;
}
label {
  font: 700 18px var(--display);
}
.acts {
  display: flex;
  gap: 10px;
}
</style>
