<script setup lang="ts">
import { cleanDisplayName } from '@apodix/core';
import { computed } from 'vue';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import { describeFacts } from '../../components/describe-take.ts';
import { useOwnTakes } from './useOwnTakes.ts';

/** Takes that are here already, to be used for this assignment too. */
const isOpen = defineModel<boolean>({ required: true });
const work = useWork();
const notices = useNotices();
const { takes, isLoaded } = useOwnTakes();
const others = computed(() =>
  takes.value.filter(
    (take) => take.state === 'ready' && !take.assignmentIds.includes(work.assignment?.id ?? ''),
  ),
);
async function use(takeId: string): Promise<void> {
  await work.useTake(takeId).catch(notices.tellFault);
  isOpen.value = false;
}
</script>

<template>
  <v-dialog v-model="isOpen" max-width="640" scrollable>
    <div class="sheet list">
      <h2>Use a take that is here already</h2>
      <p v-if="isLoaded && others.length === 0" class="note">
        There is none beside those of this assignment. Bring in a file instead.
      </p>
      <ul>
        <li v-for="take in others" :key="take.id">
          <img v-if="take.posterUrl" :src="take.posterUrl" alt="" />
          <span class="what"
            ><strong>{{ cleanDisplayName(take.name, 40) }}</strong
            ><span v-if="take.facts" class="note figures">{{ describeFacts(take.facts) }}</span
            ><span class="note">{{
              take.assignments.map((each) => each.title).join(', ') || 'for nothing yet'
            }}</span></span
          >
          <v-btn class="quiet" @click="use(take.id)">Use it here</v-btn>
        </li>
      </ul>
      <div><v-btn class="quiet" @click="isOpen = false">Close</v-btn></div>
    </div>
  </v-dialog>
</template>

<style scoped>
.list {
  padding: 18px 20px;
  display: grid;
  gap: 10px;
  overflow-y: auto;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  gap: 12px;
  align-items: center;
  border-top: 1px solid var(--line);
  padding: 8px 0;
}
img {
  width: 84px;
  height: 56px;
  object-fit: cover;
  border-radius: 3px;
  background: var(--track);
}
.what {
  flex: 1;
  min-width: 0;
  display: grid;
  overflow-wrap: anywhere;
}
</style>
