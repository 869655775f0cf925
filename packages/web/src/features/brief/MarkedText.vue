<script setup lang="ts">
import type { TextPart } from './mark-text.ts';
import type { SpokenSentence } from './divide-sentences.ts';
import { computed } from 'vue';

/** Instructions with the words that were read marked; the sentence being spoken is marked as well. */
const props = defineProps<{
  parts: readonly TextPart[];
  lit?: string | null;
  spoken?: SpokenSentence | null;
}>();
const emit = defineEmits<{ light: [id: string | null] }>();

interface Piece extends TextPart {
  readonly isSpoken: boolean;
}
/** Parts divided once more where the spoken sentence begins and ends. */
const pieces = computed<Piece[]>(() => {
  const spoken = props.spoken;
  if (!spoken) return props.parts.map((part) => ({ ...part, isSpoken: false }));
  return props.parts.flatMap((part) => {
    const cuts = [
      part.start,
      Math.max(part.start, Math.min(spoken.start, part.start + part.text.length)),
      Math.max(part.start, Math.min(spoken.end, part.start + part.text.length)),
      part.start + part.text.length,
    ];
    return cuts.slice(1).flatMap((end, index) => {
      const start = cuts[index] ?? part.start;
      return end <= start
        ? []
        : [
            {
              ...part,
              start,
              text: part.text.slice(start - part.start, end - part.start),
              isSpoken: index === 1,
            },
          ];
    });
  });
});
</script>

<template>
  <p class="prose">
    <template v-for="piece in pieces" :key="piece.start"
      ><mark
        v-if="piece.limitId"
        :class="{ lit: lit === piece.limitId, spoken: piece.isSpoken }"
        :data-limit="piece.limitId"
        tabindex="0"
        @mouseenter="emit('light', piece.limitId)"
        @mouseleave="emit('light', null)"
        @focus="emit('light', piece.limitId)"
        @blur="emit('light', null)"
        >{{ piece.text }}</mark
      ><mark
        v-else-if="piece.questionId"
        class="ask"
        :class="{ lit: lit === piece.questionId, spoken: piece.isSpoken }"
        tabindex="0"
        title="Could be read in two ways"
        @mouseenter="emit('light', piece.questionId)"
        @mouseleave="emit('light', null)"
        @focus="emit('light', piece.questionId)"
        @blur="emit('light', null)"
        >{{ piece.text }}</mark
      ><mark v-else-if="piece.isWish" class="wish" :class="{ spoken: piece.isSpoken }">{{ piece.text }}</mark
      ><span v-else :class="{ spoken: piece.isSpoken }">{{ piece.text }}</span></template
    >
  </p>
</template>

<style scoped>
.prose {
  font-size: 16.5px;
  line-height: 1.65;
  white-space: pre-line;
  max-width: 68ch;
  overflow-wrap: anywhere;
}
mark {
  background: color-mix(in srgb, var(--met) 13%, transparent);
  color: inherit;
  border-bottom: 2px solid var(--met);
  padding: 1px 2px;
}
mark.lit {
  background: color-mix(in srgb, var(--met) 34%, transparent);
}
mark.ask {
  background: var(--saffron-soft);
  border-bottom: 3px solid var(--saffron-line);
}
mark.ask.lit {
  background: color-mix(in srgb, var(--saffron-line) 34%, transparent);
}
mark.wish {
  background: var(--saffron-soft);
  border-bottom: 2px dashed var(--saffron-line);
}
.spoken {
  outline: 2px solid var(--ink);
  outline-offset: 1px;
  border-radius: 2px;
}
</style>
