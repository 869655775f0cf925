<script setup lang="ts">
import { onScopeDispose, ref } from 'vue';
import { readDroppedFiles } from './read-dropped-files.ts';

/**
 * A place to drop files and folders on, or to choose them; the whole window takes drops and pastes while it
 * is shown.
 */
const props = defineProps<{ label: string; note?: string; accept?: string }>();
const emit = defineEmits<{ files: [File[]] }>();
const input = ref<HTMLInputElement | null>(null);
const isOver = ref(false);

function take(list: FileList | null | undefined): void {
  const files = [...(list ?? [])];
  if (files.length) emit('files', files);
}
const onDrag = (event: DragEvent) => {
  if (!event.dataTransfer?.types.includes('Files')) return;
  event.preventDefault();
  isOver.value = event.type === 'dragover' || event.type === 'dragenter';
};
const give = (files: readonly File[]) => files.length && emit('files', [...files]);
const onDrop = (event: DragEvent) => {
  event.preventDefault();
  isOver.value = false;
  if (event.dataTransfer) void readDroppedFiles(event.dataTransfer).then(give);
};
const onPaste = (event: ClipboardEvent) => {
  const isTyped = event.target instanceof HTMLElement && event.target.closest('input, textarea');
  if (isTyped || !event.clipboardData?.files.length) return;
  event.preventDefault();
  void readDroppedFiles(event.clipboardData).then(give);
};
const types = ['dragenter', 'dragover', 'dragleave'] as const;
types.forEach((type) => window.addEventListener(type, onDrag));
window.addEventListener('drop', onDrop);
window.addEventListener('paste', onPaste);
onScopeDispose(() => {
  types.forEach((type) => window.removeEventListener(type, onDrag));
  window.removeEventListener('drop', onDrop);
  window.removeEventListener('paste', onPaste);
});
function onChange(): void {
  take(input.value?.files);
  if (input.value) input.value.value = '';
}
defineExpose({ choose: () => input.value?.click() });
</script>

<template>
  <button type="button" class="drop" :class="{ over: isOver }" @click="input?.click()">
    <strong>{{ props.label }}</strong><span v-if="props.note" class="note">{{ props.note }}</span>
  </button>
  <input
    ref="input"
    type="file"
    multiple
    hidden
    :accept="accept ?? 'video/*,audio/*,image/*,.heic,.heif,.mov,.mkv,.mpg,.mts,.m4a,.pdf'"
    data-testid="file-input"
    @change="onChange"
  />
</template>

<style scoped>
.drop {
  display: grid;
  gap: 4px;
  place-content: center;
  justify-items: center;
  text-align: center;
  border: 1px dashed var(--soft-ink);
  border-radius: 6px;
  padding: 18px;
  min-height: 104px;
  width: 100%;
}
.drop:hover,
.drop.over {
  border-color: var(--met);
  background: color-mix(in srgb, var(--met) 8%, transparent);
}
</style>
