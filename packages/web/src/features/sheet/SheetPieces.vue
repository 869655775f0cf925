<script setup lang="ts">
import { cleanDisplayName, type SheetPiece, type TakeView } from '@apodix/core';
import { ref } from 'vue';
import AnswerEditor from './AnswerEditor.vue';

/** The photographs of a sheet in their order, what stands under each, and what is answered about it. */
const props = defineProps<{
  pieces: readonly { readonly piece: SheetPiece; readonly take: TakeView | null }[];
  pictures: Readonly<Record<string, string>>;
  isAnswered: boolean;
}>();
const emit = defineEmits<{
  write: [takeId: string, words: Partial<SheetPiece>];
  move: [from: number, to: number];
  remove: [takeId: string];
}>();
const opened = ref<string | null>(props.pieces[0]?.piece.takeId ?? null);
const fields = [
  ['title', 'Title', ''],
  ['medium', 'Medium', 'charcoal on paper'],
  ['size', 'Size', '42 × 30 cm'],
  ['date', 'Date', 'November 2026'],
] as const;
const nameOf = (piece: SheetPiece, take: TakeView | null) =>
  piece.title || (take ? cleanDisplayName(take.name, 24) : 'Not here any more');
let dragged = -1;
function drop(index: number): void {
  if (dragged >= 0 && dragged !== index) emit('move', dragged, index);
  dragged = -1;
}
</script>

<template>
  <ol>
    <li
      v-for="({ piece, take }, index) in pieces"
      :key="piece.takeId"
      :class="{ on: piece.takeId === opened }"
      @dragover.prevent
      @drop.prevent="drop(index)"
    >
      <div class="row" draggable="true" @dragstart="dragged = index">
        <button
          type="button"
          class="name"
          :aria-expanded="piece.takeId === opened"
          @click="opened = piece.takeId === opened ? null : piece.takeId"
        >
          <img v-if="pictures[piece.takeId]" :src="pictures[piece.takeId]" alt="" /><span
            v-else
            class="blank"
          />
          <span class="words"
            ><span class="figures">{{ index + 1 }}</span> {{ nameOf(piece, take) }}</span
          >
        </button>
        <button
          type="button"
          class="small"
          :disabled="index === 0"
          :aria-label="`${nameOf(piece, take)} earlier`"
          @click="emit('move', index, index - 1)"
        >
          ↑</button
        ><button
          type="button"
          class="small"
          :disabled="index === pieces.length - 1"
          :aria-label="`${nameOf(piece, take)} later`"
          @click="emit('move', index, index + 1)"
        >
          ↓</button
        ><button
          type="button"
          class="small"
          :aria-label="`Leave out ${nameOf(piece, take)}`"
          @click="emit('remove', piece.takeId)"
        >
          ×
        </button>
      </div>
      <div v-if="piece.takeId === opened" class="fields">
        <label v-for="[key, label, example] in fields" :key="key" :class="key"
          ><span class="note">{{ label }}</span
          ><input
            :value="piece[key]"
            maxlength="160"
            :placeholder="example"
            @input="emit('write', piece.takeId, { [key]: ($event.target as HTMLInputElement).value })"
        /></label>
        <div v-if="isAnswered" class="beside">
          <span class="note">Your answer, beside the picture</span>
          <AnswerEditor
            :answer="piece.answer"
            :label="`Answer about ${nameOf(piece, take)}`"
            @change="emit('write', piece.takeId, { answer: $event })"
          />
        </div>
      </div>
    </li>
  </ol>
</template>

<style scoped src="../shape/tools.css"></style>
<style scoped>
li {
  display: block;
}
.row {
  display: flex;
  align-items: center;
}
.name {
  flex: 1;
  min-width: 0;
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 52px;
  padding: 4px 8px;
  text-align: left;
}
.words {
  overflow: hidden;
  text-overflow: ellipsis;
}
img,
.blank {
  width: 44px;
  height: 44px;
  object-fit: contain;
  background: var(--track);
  border-radius: 3px;
  flex: none;
}
.small {
  width: 40px;
  min-height: 44px;
}
.small:disabled {
  opacity: 0.35;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  padding: 4px 10px 12px;
}
.fields label,
.beside {
  display: grid;
  gap: 2px;
  min-width: 0;
}
.title,
.beside {
  grid-column: 1 / -1;
}
input {
  min-height: 40px;
  min-width: 0;
  padding: 0 10px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--sheet);
  color: var(--ink);
}
input::placeholder {
  color: var(--soft-ink);
  opacity: 1;
}
</style>
