<script setup lang="ts">
import type { Limit, ParcelInput } from '@apodix/core';
import { computed } from 'vue';

/** Who took part, a note to the teacher, and the statement of own work. */
const props = defineProps<{ limits: readonly Limit[] }>();
const emit = defineEmits<{ typed: [] }>();
const text = defineModel<ParcelInput['text']>({ required: true });
const wants = computed(() => ({
  participants: props.limits.some((limit) => limit.kind === 'participants'),
  note: props.limits.some((limit) => limit.kind === 'note'),
}));
</script>

<template>
  <div class="fields">
    <div>
      <label for="participants">Who took part</label
      ><v-textarea
        id="participants"
        v-model="text.participants"
        :placeholder="wants.participants ? 'Names of everyone who took part' : ''"
        :class="{ wanted: wants.participants && !text.participants.trim() }"
        maxlength="1000"
        @update:model-value="emit('typed')"
      />
      <p v-if="wants.participants" class="note wanted-note">wanted by this assignment</p>
    </div>
    <div>
      <label for="note">Note to the teacher</label
      ><v-textarea id="note" v-model="text.note" maxlength="4000" @update:model-value="emit('typed')" />
      <p v-if="wants.note" class="note wanted-note">wanted by this assignment</p>
    </div>
  </div>
  <v-checkbox
    v-model="text.isOwnWork"
    label="This is my own work, and everyone shown has agreed to be recorded."
    @update:model-value="emit('typed')"
  />
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px;
}
label {
  font-weight: 700;
  display: block;
  padding-bottom: 4px;
}
.wanted :deep(.v-field__outline) {
  --v-field-border-width: 2px;
  color: var(--saffron-line);
  --v-field-border-opacity: 1;
}
.wanted-note {
  color: var(--saffron);
}
@media (max-width: 1000px) {
  .fields {
    grid-template-columns: 1fr;
  }
}
</style>
