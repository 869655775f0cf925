<script setup lang="ts">
import { isAnswered, readLink, type Slot } from '@apodix/core';
import { computed } from 'vue';

/** A slot that holds a typed answer or a link; what is typed is kept by itself. */
const props = defineProps<{ slotOf: Slot; isFixed: boolean; isSaved: boolean }>();
const emit = defineEmits<{ typed: [] }>();
const words = defineModel<string>({ required: true });
const id = computed(() => `answer-${props.slotOf.id}`);
const isThere = computed(() => isAnswered(props.slotOf, [{ slotId: props.slotOf.id, text: words.value }]));
const count = computed(() => words.value.trim().split(/\s+/).filter(Boolean).length);
const address = computed(() => (props.slotOf.item === 'link' ? readLink(words.value) : null));
</script>

<template>
  <div class="sheet answer">
    <div class="line">
      <label :for="id">{{ slotOf.label }}</label>
      <span v-if="slotOf.min === 0" class="note">if you like</span>
    </div>
    <v-textarea
      v-if="slotOf.item === 'text'"
      :id="id"
      v-model="words"
      rows="5"
      auto-grow
      max-rows="18"
      maxlength="20000"
      :readonly="isFixed"
      @update:model-value="emit('typed')"
    />
    <v-text-field
      v-else
      :id="id"
      v-model="words"
      type="url"
      inputmode="url"
      placeholder="https://…"
      maxlength="2000"
      :readonly="isFixed"
      @update:model-value="emit('typed')"
    />
    <div class="line note">
      <span v-if="slotOf.item === 'text'" class="figures"
        >{{ count }} {{ count === 1 ? 'word' : 'words' }}</span
      >
      <a v-else-if="address" :href="address" target="_blank" rel="noreferrer noopener"
        >Open it in a new tab</a
      >
      <span v-else-if="words.trim()" class="wrong">This is not a whole web address yet.</span>
      <span v-else>A web address, from https:// on</span>
      <span>{{ isFixed ? '' : !isSaved ? 'Keeping…' : isThere ? 'Kept' : '' }}</span>
    </div>
  </div>
</template>

<style scoped>
.answer {
  padding: 12px 14px;
  display: grid;
  gap: 6px;
}
label {
  font-weight: 700;
}
.line {
  display: flex;
  justify-content: space-between;
  gap: 12px;
}
.wrong {
  color: var(--saffron);
  font-weight: 600;
}
</style>
