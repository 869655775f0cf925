<script setup lang="ts">
import type { AssignmentView } from '@apodix/core';
import { computed } from 'vue';
import BarsMark from '../../components/BarsMark.vue';
import { describeDue } from '../../composables/describe-due.ts';
import { useNow } from '../../composables/useNow.ts';
import { buildStops } from './stop-states.ts';

const props = defineProps<{ assignment: AssignmentView | null; assignmentId: string }>();
const now = useNow();
const stops = computed(() => buildStops(props.assignment));
const due = computed(() =>
  props.assignment ? describeDue(props.assignment.dueAt, props.assignment.setAt, now.value) : null,
);
const back = computed(() => (props.assignment?.kind === 'quick' ? { name: 'quick-fit' } : { name: 'today' }));
</script>

<template>
  <header class="bar">
    <router-link class="brand" :to="{ name: 'today' }" aria-label="Apodix, to Today"
      ><BarsMark /> <span>Apodix</span></router-link
    >
    <router-link class="title" :to="back"
      ><span aria-hidden="true">‹</span> <span class="text">{{ assignment?.title ?? '…' }}</span></router-link
    >
    <nav aria-label="Stops">
      <router-link
        v-for="(stop, index) in stops"
        :key="stop.name"
        :to="{ name: stop.name, params: { assignmentId } }"
        :title="stop.needs ? `needs ${stop.needs}` : undefined"
        :class="{ waits: stop.needs }"
      >
        <span class="number figures">{{ index + 1 }}</span> {{ stop.label }}
        <span v-if="stop.isDone" class="dot"><span class="unseen">done</span></span>
      </router-link>
    </nav>
    <div class="due" :class="{ urgent: due?.isUrgent }">
      <template v-if="due"
        ><strong>{{ due.left }}</strong
        ><span class="note">{{ due.when }}</span></template
      >
    </div>
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: stretch;
  min-height: 56px;
  background: var(--sheet);
  border-bottom: 1px solid var(--line);
  padding: 0 20px;
  gap: 18px;
}
.brand {
  display: flex;
  align-items: center;
  gap: 10px;
  font: 700 22px var(--display);
  text-decoration: none;
}
.title {
  display: flex;
  align-items: center;
  gap: 8px;
  font-weight: 700;
  text-decoration: none;
  min-width: 0;
  flex: 1 1 0;
}
.title .text {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
nav {
  display: flex;
  flex: none;
}
nav a {
  display: flex;
  align-items: center;
  gap: 7px;
  padding: 0 14px;
  font-weight: 600;
  color: var(--soft-ink);
  text-decoration: none;
  border-bottom: 3px solid transparent;
  border-top: 3px solid transparent;
  white-space: nowrap;
}
nav a.router-link-active {
  color: var(--ink);
  font-weight: 700;
  border-bottom-color: rgb(var(--v-theme-primary));
}
.number {
  font-size: 13px;
  font-weight: 700;
}
.dot {
  width: 8px;
  height: 8px;
  border-radius: 50%;
  background: rgb(var(--v-theme-primary));
}
.due {
  flex: 1 1 0;
  display: grid;
  align-content: center;
  justify-items: end;
  line-height: 1.25;
  text-align: right;
  white-space: nowrap;
}
.due.urgent strong {
  color: var(--madder);
}
@media (max-width: 1000px) {
  .bar {
    flex-wrap: wrap;
    padding: 8px 12px 0;
    gap: 6px 12px;
  }
  .brand span {
    display: none;
  }
  .due .note {
    display: none;
  }
  .due {
    flex: none;
  }
  nav {
    order: 3;
    width: 100%;
    justify-content: space-between;
  }
  nav a {
    padding: 8px 4px;
    min-height: 42px;
    gap: 4px;
    font-size: 14px;
  }
  .number {
    display: none;
  }
}
</style>
