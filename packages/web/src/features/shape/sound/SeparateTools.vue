<script setup lang="ts">
import { LEAST_OWN_DB, type RecipeSource } from '@apodix/core';
import { computed } from 'vue';
import SliderRow from '../SliderRow.vue';

/** A separate recording of the sound in place of the take’s own, or over it. */
const props = defineProps<{
  source: RecipeSource | null;
  choices: readonly { readonly id: string; readonly name: string }[];
  isLaying: boolean;
  confidence: number | null;
  /** How loud the take’s own sound is under it; null where it is not heard. */
  ownDb: number | null;
}>();
const emit = defineEmits<{
  lay: [takeId: string];
  nudge: [ms: number];
  remove: [];
  own: [ownDb: number | null, isDragging: boolean];
}>();
const name = computed(
  () => props.choices.find((each) => each.id === props.source?.takeId)?.name ?? 'a take that is gone',
);
const steps = [-10, -1, 1, 10] as const;
</script>

<template>
  <section>
    <h2>A better recording</h2>
    <template v-if="source">
      <p>
        The sound is that of <strong>{{ name }}</strong>.
      </p>
      <p class="note figures">
        {{ (source.offsetUs / 1e6).toFixed(3) }} s
        <template v-if="source.driftPpm"> · clock {{ source.driftPpm.toFixed(1) }} ppm slower</template>
        <template v-if="confidence !== null"> · {{ Math.round(confidence * 100) }} % sure</template>
      </p>
      <div class="steps" role="group" aria-label="Move it by milliseconds">
        <button v-for="step in steps" :key="step" type="button" @click="emit('nudge', step)">
          {{ step > 0 ? '+' : '−' }}{{ Math.abs(step) }} ms
        </button>
      </div>
      <SliderRow
        :model-value="ownDb ?? LEAST_OWN_DB"
        label="The camera’s own sound"
        :figure="ownDb === null ? 'not heard' : `${ownDb < 0 ? '−' : ''}${Math.abs(ownDb).toFixed(0)} dB`"
        :min="LEAST_OWN_DB"
        :max="0"
        :step="1"
        :rest="LEAST_OWN_DB"
        @update:model-value="emit('own', $event <= LEAST_OWN_DB ? null : $event, true)"
        @end="emit('own', ownDb, false)"
      />
      <p class="note">Under the better one it gives some of the room back. It is heard in the made file.</p>
      <v-btn class="quiet" @click="emit('remove')">The take’s own sound</v-btn>
    </template>
    <template v-else-if="choices.length">
      <p class="note">Recorded the sound with something better? It is laid on the picture by itself.</p>
      <v-btn
        v-for="each in choices"
        :key="each.id"
        class="quiet"
        :loading="isLaying"
        @click="emit('lay', each.id)"
        >Sound of {{ each.name }}</v-btn
      >
    </template>
    <p v-else class="note">Bring another recording in under Takes, and its sound can be heard instead.</p>
  </section>
</template>

<style scoped src="../tools.css"></style>
<style scoped>
.steps {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 4px;
}
.steps button {
  min-height: 40px;
  border: 1px solid var(--line);
  border-radius: 4px;
  font-size: 13px;
}
</style>
