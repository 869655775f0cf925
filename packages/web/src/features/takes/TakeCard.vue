<script setup lang="ts">
import type { JobView, TakeView } from '@apodix/core';
import { describeFacts } from '../../components/describe-take.ts';
import JobBar from '../../components/JobBar.vue';
import { describePast } from '../../composables/describe-due.ts';
import TakeName from './TakeName.vue';
import TakeNote from './TakeNote.vue';
import TakeNoticed from './TakeNoticed.vue';

/** One take of an assignment. */
defineProps<{
  take: TakeView;
  isShown: boolean;
  /** Beside the camera there is room for no more than what it is. */
  isLow: boolean;
  job: JobView | null;
  now: number;
  /** What it is the same as, or nearly; null where nothing. */
  likeness: string | null;
  /** The name that the assignment wants, without an ending; null where it wants none. */
  wantedName: string | null;
}>();
const emit = defineEmits<{
  shape: [];
  remove: [];
  leave: [];
  flip: [];
  rename: [string];
}>();
</script>

<template>
  <article class="sheet card" :class="{ chosen: isShown, low: isLow }">
    <img v-if="take.posterUrl" :src="take.posterUrl" alt="" loading="lazy" />
    <span v-else class="blank note" aria-hidden="true">{{ take.kind === 'sound' ? 'sound' : '' }}</span>
    <div class="body">
      <TakeName :name="take.name" :wanted-name="wantedName" @rename="emit('rename', $event)" />
      <template v-if="take.state === 'ready' && take.facts">
        <p class="figures facts">{{ describeFacts(take.facts) }}</p>
        <p class="note">{{ describePast(take.createdAt, now) }}</p>
        <p v-if="likeness" class="same" data-testid="same">{{ likeness }}</p>
        <template v-if="!isLow">
          <TakeNoticed :take="take" />
          <TakeNote :take="take" />
        </template>
        <div class="acts">
          <button type="button" class="main" @click="emit('shape')">
            {{ isShown ? 'Shape this take ›' : 'Use instead' }}</button><button
            v-if="take.kind !== 'sound' && take.recipe && !isLow"
            type="button"
            :aria-pressed="take.recipe.recipe.picture.isMirrored"
            @click="emit('flip')"
          >
            {{ take.recipe.recipe.picture.isMirrored ? 'Flip back' : 'Flip left and right' }}</button
          ><button v-if="take.assignmentIds.length > 1" type="button" @click="emit('leave')">
            Not for this one</button
          ><button type="button" @click="emit('remove')">Remove</button>
        </div>
      </template>
      <template v-else-if="take.state === 'inspecting'">
        <JobBar
          :stage="job?.stage ?? 'Waiting for a free place'"
          :share="job?.share ?? 0"
          :seconds-left="job?.secondsLeft ?? null"
        />
        <img v-if="take.stripUrl" class="strip" :src="take.stripUrl" alt="" />
        <div class="acts">
          <button v-if="take.draft && take.proxyUrl" type="button" class="main" @click="emit('shape')">
            Play and cut already ›</button
          ><button type="button" @click="emit('remove')">Stop and remove</button>
        </div>
      </template>
      <template v-else>
        <p class="fault">
          <strong>Cannot be used.</strong> {{ take.fault?.message }} {{ take.fault?.detail }}
        </p>
        <p>{{ take.fault?.next }}</p>
        <div class="acts">
          <button v-if="take.assignmentIds.length > 1" type="button" @click="emit('leave')">
            Not for this one</button
          ><button type="button" @click="emit('remove')">Remove</button>
        </div>
      </template>
    </div>
  </article>
</template>

<style scoped>
.card {
  display: flex;
  gap: 12px;
  padding: 9px;
}
.card.chosen {
  border: 2px solid var(--met);
  padding: 8px;
}
@media (min-width: 1001px) {
  .low img {
    height: 84px;
    width: 120px;
  }
}
img,
.blank {
  width: 168px;
  height: 118px;
  object-fit: cover;
  border-radius: 3px;
  flex: none;
  background: var(--track);
}
.blank {
  display: grid;
  place-items: center;
}
.body {
  flex: 1;
  min-width: 0;
  display: grid;
  gap: 3px;
  align-content: start;
}
.card .strip {
  width: 100%;
  height: 40px;
}
.facts {
  font-size: 13px;
  color: var(--soft-ink);
}
.same {
  color: var(--saffron);
  font-weight: 700;
}
.fault {
  color: var(--madder);
}
.acts {
  display: flex;
  gap: 0 14px;
  flex-wrap: wrap;
}
.acts button {
  min-height: 40px;
  font-weight: 600;
  color: var(--soft-ink);
  text-decoration: underline;
  text-underline-offset: 3px;
}
.acts .main {
  color: var(--met);
  font-weight: 700;
  text-decoration: none;
}
@media (max-width: 600px) {
  img,
  .blank {
    width: 120px;
    height: 90px;
  }
}
</style>
