<script setup lang="ts">
import { cleanDisplayName, type OwnTakeView } from '@apodix/core';
import { describeFacts } from '../../components/describe-take.ts';
import { describePast } from '../../composables/describe-due.ts';
import { useNow } from '../../composables/useNow.ts';

/** One take of the person, with the assignments that it serves. */
defineProps<{ take: OwnTakeView }>();
const emit = defineEmits<{ remove: [] }>();
const now = useNow();
</script>

<template>
  <article class="sheet card">
    <img v-if="take.posterUrl" :src="take.posterUrl" alt="" loading="lazy" />
    <span v-else class="blank note" aria-hidden="true">{{ take.kind === 'sound' ? 'sound' : '' }}</span>
    <div class="body">
      <strong>{{ cleanDisplayName(take.name, 40) }}</strong>
      <p v-if="take.state === 'ready' && take.facts" class="figures note">{{ describeFacts(take.facts) }}</p>
      <p v-else-if="take.state === 'inspecting'" class="note">Being measured…</p>
      <p v-else class="fault">{{ take.fault?.message }}</p>
      <p class="note">{{ describePast(take.createdAt, now) }}</p>
      <p class="serves">
        <span v-if="take.assignments.length === 0" class="note">for nothing yet</span>
        <router-link
          v-for="each in take.assignments"
          :key="each.id"
          :to="{ name: 'takes', params: { assignmentId: each.id } }"
          >{{ each.title }}</router-link
        >
      </p>
      <button type="button" @click="emit('remove')">Remove</button>
    </div>
  </article>
</template>

<style scoped>
.card {
  display: flex;
  gap: 12px;
  padding: 10px;
}
img,
.blank {
  width: 120px;
  height: 84px;
  object-fit: cover;
  border-radius: 3px;
  background: var(--track);
  flex: none;
}
.blank {
  display: grid;
  place-items: center;
}
.body {
  flex: 1;
  min-width: 0;
  display: grid;
  gap: 2px;
  justify-items: start;
  align-content: start;
  overflow-wrap: anywhere;
}
.serves {
  display: flex;
  gap: 2px 12px;
  flex-wrap: wrap;
}
.fault {
  color: var(--madder);
}
button {
  min-height: 40px;
  font-weight: 600;
  color: var(--soft-ink);
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>
