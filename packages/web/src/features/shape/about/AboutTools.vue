<script setup lang="ts">
import { MOST_ABOUT_SIGNS, type About } from '@apodix/core';
import { reactive, watch } from 'vue';

/** What the file tells about the piece, for whoever opens it later. */
const props = defineProps<{ about: About | null }>();
const emit = defineEmits<{ add: []; change: [changes: Partial<About>]; remove: [] }>();
const lines = [
  { name: 'title', label: 'Title of the piece' },
  { name: 'artist', label: 'Who made it' },
  { name: 'rights', label: 'Whose it is' },
] as const;
const typed = reactive({ title: '', artist: '', rights: '' });
watch(
  () => props.about,
  (about) => about && Object.assign(typed, about),
  { immediate: true },
);
</script>

<template>
  <section>
    <h2>About the piece</h2>
    <template v-if="about">
      <label v-for="line in lines" :key="line.name"
        ><span class="note">{{ line.label }}</span
        ><input
          v-model="typed[line.name]"
          class="field"
          :maxlength="MOST_ABOUT_SIGNS"
          @input="emit('change', { [line.name]: typed[line.name] })"
      /></label>
      <p class="note">
        Written inside the file, where galleries and search programs read it. Where it was taken and with
        which phone is never told.
      </p>
      <v-btn class="quiet" @click="emit('remove')">Tell nothing</v-btn>
    </template>
    <template v-else>
      <p class="note">
        Title, name and rights can travel inside the file, so that nobody has to ask whose piece it is.
      </p>
      <v-btn class="quiet" @click="emit('add')">Write it into the file</v-btn>
    </template>
  </section>
</template>

<style scoped src="../tools.css"></style>
<style scoped>
label {
  display: grid;
  gap: 4px;
}
</style>
