<script setup lang="ts">
import { cleanDisplayName } from '@apodix/core';
import { nextTick, ref, useTemplateRef } from 'vue';

/** The name of a take; it is changed where it stands, and the name that the assignment wants is offered. */
const props = defineProps<{ name: string; wantedName: string | null }>();
const emit = defineEmits<{ rename: [string] }>();
const draft = ref<string | null>(null);
const field = useTemplateRef<HTMLInputElement>('field');
const ending = () => /\.[A-Za-z0-9]{2,4}$/.exec(props.name)?.[0] ?? '';

async function begin(): Promise<void> {
  draft.value = props.name.slice(0, props.name.length - ending().length);
  await nextTick();
  field.value?.select();
}
function keep(stem: string | null = draft.value): void {
  const next = stem?.trim() ?? '';
  draft.value = null;
  if (next !== '' && next + ending() !== props.name) emit('rename', next + ending());
}
</script>

<template>
  <form v-if="draft !== null" @submit.prevent="keep()" @keydown.esc.stop="draft = null">
    <input ref="field" v-model="draft" aria-label="Name of the take" maxlength="190" @blur="keep()" />
    <button v-if="wantedName" type="button" class="note" @mousedown.prevent="keep(wantedName)">
      Call it {{ wantedName }}
    </button>
  </form>
  <button v-else type="button" class="name" title="Rename" @click="begin">
    {{ cleanDisplayName(name, 40) }}
  </button>
</template>

<style scoped>
.name {
  font-weight: 700;
  text-align: left;
  overflow-wrap: anywhere;
  min-height: 40px;
}
@media (pointer: fine) {
  .name {
    min-height: 26px;
  }
}
.name:hover {
  text-decoration: underline dotted;
  text-underline-offset: 3px;
}
input {
  width: 100%;
  border: 1px solid var(--met);
  border-radius: 4px;
  min-height: 40px;
  padding: 0 8px;
  background: var(--sheet);
  color: inherit;
}
form button {
  min-height: 40px;
  text-decoration: underline;
  text-underline-offset: 3px;
  overflow-wrap: anywhere;
  text-align: left;
}
</style>
