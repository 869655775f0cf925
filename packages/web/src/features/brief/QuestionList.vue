<script setup lang="ts">
import type { Question } from '@apodix/core';
import { computed } from 'vue';

/** Words that can be read in two ways, for a person to choose; what was chosen can be chosen anew. */
const props = defineProps<{
  questions: readonly Question[];
  /** Name of the language on trial that the text was read as. */
  trial?: string | null;
  lit?: string | null;
}>();
const emit = defineEmits<{ answer: [id: string, answer: 0 | 1 | null]; light: [id: string | null] }>();
const open = computed(() => props.questions.filter(({ answer }) => answer === null));
const answered = computed(() =>
  props.questions.flatMap((each) =>
    each.answer === null ? [] : [{ ...each, chosen: each.readings[each.answer].label }],
  ),
);
</script>

<template>
  <p v-if="trial" class="trial">
    <strong>Read as {{ trial }}: this is a trial.</strong> Check every limit against the text.
  </p>
  <section v-if="questions.length" class="questions" aria-label="What could be read in two ways">
    <h2 v-if="open.length">
      {{ open.length === 1 ? 'One thing to settle' : `${open.length} things to settle` }}
    </h2>
    <div
      v-for="question in open"
      :key="question.id"
      class="ask"
      :class="{ lit: lit === question.id }"
      role="group"
      :aria-label="question.asks"
      @mouseenter="emit('light', question.id)"
      @mouseleave="emit('light', null)"
    >
      <p>
        <strong>{{ question.asks }}</strong> <span class="note">“{{ question.words }}”</span>
      </p>
      <div class="choices">
        <button
          v-for="(reading, at) in question.readings"
          :key="reading.label"
          type="button"
          @click="emit('answer', question.id, at as 0 | 1)"
          @focus="emit('light', question.id)"
          @blur="emit('light', null)"
        >
          {{ reading.label }}
        </button>
      </div>
      <p v-if="question.isCounted" class="note">Until then the first one counts.</p>
    </div>
    <p v-for="question in answered" :key="question.id" class="note settled">
      <span>“{{ question.words }}”: {{ question.chosen }}</span
      ><button type="button" @click="emit('answer', question.id, null)">Choose again</button>
    </p>
  </section>
</template>

<style scoped>
.questions {
  display: grid;
  border-bottom: 1px solid var(--line);
}
h2 {
  font-size: 17px;
  margin: 0;
  padding: 14px 14px 6px;
}
.ask {
  display: grid;
  gap: 8px;
  padding: 10px 14px 12px;
  border-left: 3px solid var(--saffron-line);
  background: var(--saffron-soft);
}
.ask + .ask {
  border-top: 1px solid var(--line);
}
.ask p {
  margin: 0;
  overflow-wrap: anywhere;
}
.ask.lit {
  box-shadow: inset 0 0 0 1px var(--saffron-line);
}
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.choices button {
  min-height: 40px;
  padding: 6px 12px;
  border: 1px solid var(--soft-ink);
  border-radius: 6px;
  background: var(--sheet);
  text-align: left;
}
.choices button:hover {
  border-color: var(--met);
}
.trial {
  margin: 0;
  padding: 10px 14px;
  border-bottom: 1px solid var(--line);
  background: var(--saffron-soft);
}
.settled {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  margin: 0;
  padding: 2px 14px;
  overflow-wrap: anywhere;
}
.settled button {
  flex: none;
  min-height: 40px;
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>
