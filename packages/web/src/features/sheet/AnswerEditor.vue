<script setup lang="ts">
import type { RichBlock } from '@apodix/core';
import StarterKit from '@tiptap/starter-kit';
import { EditorContent, useEditor } from '@tiptap/vue-3';
import { watch } from 'vue';
import { readDocument, writeDocument } from './rich-text.ts';

/** What is answered about a piece: letters, headings and lists. */
const props = defineProps<{ answer: readonly RichBlock[]; label: string }>();
const emit = defineEmits<{ change: [answer: RichBlock[]] }>();
let told = JSON.stringify(props.answer);
const editor = useEditor({
  extensions: [
    StarterKit.configure({
      heading: { levels: [2] },
      blockquote: false,
      code: false,
      codeBlock: false,
      horizontalRule: false,
      link: false,
      strike: false,
      underline: false,
    }),
  ],
  content: writeDocument(props.answer),
  editorProps: { attributes: { 'aria-label': props.label, role: 'textbox', 'aria-multiline': 'true' } },
  onUpdate: ({ editor: own }) => {
    const answer = readDocument(own.getJSON());
    told = JSON.stringify(answer);
    emit('change', answer);
  },
});
/** A step back or forward of the sheet comes into the editor. */
watch(
  () => props.answer,
  (answer) => {
    if (JSON.stringify(answer) === told) return;
    told = JSON.stringify(answer);
    editor.value?.commands.setContent(writeDocument(answer), { emitUpdate: false });
  },
);
const marks = [
  ['bold', 'B', 'Bold', () => editor.value?.chain().focus().toggleBold().run()],
  ['italic', 'I', 'Italic', () => editor.value?.chain().focus().toggleItalic().run()],
  ['heading', 'H', 'Heading', () => editor.value?.chain().focus().toggleHeading({ level: 2 }).run()],
  ['bulletList', '•', 'List', () => editor.value?.chain().focus().toggleBulletList().run()],
  ['orderedList', '1.', 'Numbered list', () => editor.value?.chain().focus().toggleOrderedList().run()],
] as const;
</script>

<template>
  <div class="answer">
    <div class="marks" role="toolbar" :aria-label="`Form of the ${label}`">
      <button
        v-for="[name, sign, words, toggle] in marks"
        :key="name"
        type="button"
        :class="[name, { on: editor?.isActive(name) }]"
        :aria-label="words"
        :aria-pressed="editor?.isActive(name) ?? false"
        :title="words"
        @click="toggle"
      >
        {{ sign }}
      </button>
    </div>
    <EditorContent :editor="editor" class="page" />
  </div>
</template>

<style scoped>
.answer {
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--sheet);
}
.marks {
  display: flex;
  border-bottom: 1px solid var(--line);
}
.marks button {
  min-width: 40px;
  min-height: 40px;
}
.marks .bold,
.marks .heading {
  font-weight: 700;
}
.marks .italic {
  font-style: italic;
}
.marks .on {
  background: var(--met-soft);
  box-shadow: inset 0 -2px 0 var(--met);
}
.page :deep(.tiptap) {
  min-height: 96px;
  max-height: 260px;
  overflow-y: auto;
  padding: 8px 10px;
}
.page :deep(ul),
.page :deep(ol) {
  padding-left: 20px;
}
.page :deep(h2) {
  font-family: var(--sans);
  font-size: 16px;
}
</style>
