<script setup lang="ts">
import { Limit, type LimitKind } from '@apodix/core';
import { computed, ref } from 'vue';
import { describeBytes } from './describe-bytes.ts';
import { limitForms, parseFields, targets, writeFields, type LimitField } from './limit-fields.ts';

/** The fields of one limit; gives it back changed by a person, or removed. */
const props = defineProps<{ limit: Limit; isNew?: boolean }>();
const emit = defineEmits<{ keep: [Limit]; remove: []; close: [] }>();
const form = computed(() => limitForms[props.limit.kind as LimitKind]);
const raw = ref(writeFields(props.limit));
const target = ref<string>(props.limit.appliesTo);
const fault = ref('');

function keep(): void {
  const { values, fault: found } = parseFields(props.limit.kind, raw.value);
  if (found) {
    fault.value = found;
    return;
  }
  const parsed = Limit.safeParse({
    ...props.limit,
    ...values,
    appliesTo: target.value,
    isChangedByPerson: true,
  });
  if (parsed.success) emit('keep', parsed.data);
  else fault.value = parsed.error.issues[0]?.message ?? 'This cannot be kept.';
}
const listOf = (field: LimitField) => (raw.value[field.key] ?? '').split(',').filter(Boolean);
</script>

<template>
  <form class="form" @submit.prevent="keep">
    <div v-for="field in form.fields" :key="field.key" class="field">
      <label :for="`${limit.id}-${field.key}`">{{ field.label }}</label>
      <v-select
        v-if="field.type === 'choice'"
        :id="`${limit.id}-${field.key}`"
        :model-value="raw[field.key]"
        :items="(field.options ?? []).map((option) => ({ title: option.title, value: String(option.value) }))"
        density="compact"
        @update:model-value="raw[field.key] = String($event)"
      />
      <v-select
        v-else-if="field.type === 'list'"
        :id="`${limit.id}-${field.key}`"
        :model-value="listOf(field)"
        :items="[...(field.options ?? [])]"
        multiple
        density="compact"
        @update:model-value="raw[field.key] = ($event as string[]).join(',')"
      />
      <v-checkbox
        v-else-if="field.type === 'flag'"
        :id="`${limit.id}-${field.key}`"
        :model-value="raw[field.key] === 'true'"
        density="compact"
        @update:model-value="raw[field.key] = String($event)"
      />
      <input
        v-else-if="field.type === 'moment'"
        :id="`${limit.id}-${field.key}`"
        v-model="raw[field.key]"
        type="datetime-local"
        class="moment"
      />
      <v-text-field
        v-else
        :id="`${limit.id}-${field.key}`"
        v-model="raw[field.key]"
        density="compact"
        :placeholder="field.hint ?? 'open'"
        autocomplete="off"
      />
    </div>
    <div v-if="form.hasTarget" class="field">
      <label :for="`${limit.id}-target`">For</label
      ><v-select :id="`${limit.id}-target`" v-model="target" :items="targets" density="compact" />
    </div>
    <p v-if="describeBytes(limit)" class="note">{{ describeBytes(limit) }}</p>
    <p v-if="form.fields.length === 0" class="note">Nothing to set: it is asked for or not.</p>
    <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
    <div class="acts">
      <v-btn class="go" type="submit" size="small" height="40">Keep</v-btn>
      <v-btn class="quiet" size="small" height="40" @click="emit('close')">{{
        isNew ? 'Leave it' : 'Close'
      }}</v-btn>
      <v-btn v-if="!isNew" class="quiet remove" size="small" height="40" @click="emit('remove')"
        >Remove</v-btn
      >
    </div>
  </form>
</template>

<style scoped>
.form {
  display: grid;
  gap: 8px;
  padding: 10px 0 12px;
}
.field {
  display: grid;
  grid-template-columns: 118px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
}
label {
  font-size: 13.5px;
  color: var(--soft-ink);
}
.moment {
  border: 1px solid var(--line);
  border-radius: 4px;
  min-height: 40px;
  padding: 0 10px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
.fault {
  color: var(--madder);
  font-weight: 600;
  font-size: 13.5px;
}
.acts {
  display: flex;
  gap: 8px;
}
.remove {
  margin-left: auto;
}
</style>
