<script setup lang="ts">
import { computed, onScopeDispose, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useKeys } from '../../composables/useKeys.ts';
import RouteBar from './RouteBar.vue';
import { buildStops } from './stop-states.ts';
import { useUploads } from '../../stores/uploads.ts';
import { useWork } from '../../stores/work.ts';

const route = useRoute();
const router = useRouter();
const work = useWork();
const uploads = useUploads();
const assignmentId = computed(() => String(route.params.assignmentId));
const isHelpOpen = ref(false);

watch(
  assignmentId,
  (id) => {
    void work.open(id);
    uploads.recall(id);
  },
  { immediate: true },
);
onScopeDispose(() => work.close());

const go = (index: number) => {
  const stop = buildStops(work.assignment)[index];
  if (stop) void router.push({ name: stop.name, params: { assignmentId: assignmentId.value } });
};
useKeys({
  '1': () => go(0),
  '2': () => go(1),
  '3': () => go(2),
  '4': () => go(3),
  '5': () => go(4),
  '?': () => (isHelpOpen.value = true),
});

const isBand = computed(
  () =>
    work.assignment !== null &&
    work.assignment.kind === 'course' &&
    work.assignment.state === 'ready' &&
    route.name !== 'hand-in',
);
const keys = [
  ['1 to 5', 'the five stops'],
  ['S', 'start here'],
  ['F', 'finish here'],
  [', and .', 'one frame back or on'],
  ['Space', 'play what is kept'],
  ['B', 'as recorded, or as it will be handed in'],
  ['Ctrl+Z', 'undo'],
  ['Ctrl+Shift+Z', 'redo'],
  ['?', 'these keys'],
] as const;
</script>

<template>
  <div class="work">
    <RouteBar :assignment="work.assignment" :assignment-id="assignmentId" />
    <div v-if="isBand" class="band">
      <strong>Not handed in yet.</strong> The file is made, and nothing falls short; the last press is
      missing.
      <router-link :to="{ name: 'hand-in', params: { assignmentId } }">Go to hand in</router-link>
    </div>
    <main v-if="work.assignment" id="main" class="stop"><router-view /></main>
    <main v-else-if="work.isMissing" id="main" class="missing">
      <h1>This assignment is not here.</h1>
      <p>It may belong to someone else. <router-link :to="{ name: 'today' }">Go to Today</router-link></p>
    </main>
    <main v-else id="main" class="missing" aria-busy="true">
      <v-progress-linear indeterminate color="primary" />
      <p class="note">Opening…</p>
    </main>
    <v-dialog v-model="isHelpOpen" max-width="440">
      <div class="sheet help">
        <h2>Keys</h2>
        <dl>
          <template v-for="[key, what] in keys" :key="key"
            ><dt class="figures">{{ key }}</dt>
            <dd>{{ what }}</dd></template
          >
        </dl>
        <v-btn class="quiet" @click="isHelpOpen = false">Close</v-btn>
      </div>
    </v-dialog>
  </div>
</template>

<style scoped>
.work {
  display: flex;
  flex-direction: column;
  height: 100dvh;
}
.stop {
  flex: 1;
  min-height: 0;
  display: flex;
}
.missing {
  max-width: 560px;
  margin: 10vh auto;
  padding: 0 16px;
  display: grid;
  gap: 12px;
  width: 100%;
}
.band {
  background: var(--saffron-soft);
  border-bottom: 1px solid var(--saffron-line);
  padding: 7px 20px;
}
.help {
  padding: 20px;
  display: grid;
  gap: 14px;
}
.help dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 6px 18px;
  margin: 0;
}
.help dt {
  font-weight: 700;
}
.help dd {
  margin: 0;
}
@media (max-width: 1000px) {
  .work {
    height: auto;
    min-height: 100dvh;
  }
  .stop {
    flex-direction: column;
  }
}
</style>
