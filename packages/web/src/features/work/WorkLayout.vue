<script setup lang="ts">
import { computed, onScopeDispose, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import CannotReach from '../../components/CannotReach.vue';
import { useKeys } from '../../keys/useKeys.ts';
import KeysDialog from '../../layout/KeysDialog.vue';
import { useUploads } from '../../stores/uploads.ts';
import { useWork } from '../../stores/work.ts';
import RouteBar from './RouteBar.vue';
import { buildStops } from './stop-states.ts';

const route = useRoute();
const router = useRouter();
const work = useWork();
const uploads = useUploads();
const assignmentId = computed(() => String(route.params.assignmentId));
const isHelpOpen = ref(false);

watch(
  assignmentId,
  (id) => {
    work.open(id);
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
  'stop-1': () => go(0),
  'stop-2': () => go(1),
  'stop-3': () => go(2),
  'stop-4': () => go(3),
  'stop-5': () => go(4),
  help: () => (isHelpOpen.value = true),
});
const isBand = computed(
  () => work.assignment?.kind === 'course' && work.assignment.state === 'ready' && route.name !== 'hand-in',
);
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
      <p>
        It may belong to someone else, or have been removed.
        <router-link :to="{ name: 'today' }">Go to Today</router-link>
      </p>
    </main>
    <main v-else-if="work.fault" id="main" class="missing">
      <CannotReach :fault="work.fault" @again="work.reload()" />
    </main>
    <main v-else id="main" class="missing" aria-busy="true">
      <v-progress-linear indeterminate color="primary" />
      <p class="note">Opening…</p>
    </main>
    <KeysDialog v-model="isHelpOpen" />
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
