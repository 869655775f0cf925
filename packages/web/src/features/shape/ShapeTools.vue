<script setup lang="ts">
import { useTemplateRef, watch } from 'vue';
import { moveRadio } from '../../composables/move-radio.ts';
import type { SharedGroup } from './copy-group.ts';
import type { ToolGroup } from './tool-group.ts';

/** What can be done to the take on the stage, a group at a time; undo and the whole proposal stay at hand. */
const props = defineProps<{
  groups: readonly ToolGroup[];
  hasProposal: boolean;
  canUndo: boolean;
  canRedo: boolean;
  isSaved: boolean;
  /** Other takes of the assignment that a group of settings could go to. */
  otherCount: number;
}>();
const emit = defineEmits<{
  undo: [];
  redo: [];
  suggested: [];
  asRecorded: [];
  useOnAll: [group: SharedGroup];
}>();
const group = defineModel<ToolGroup>('group', { required: true });
const aside = useTemplateRef<HTMLElement>('aside');
/** Another group begins at its beginning. */
watch(
  group,
  () => {
    if (aside.value) aside.value.scrollTop = 0;
  },
  { flush: 'post' },
);
function onKey(event: KeyboardEvent): void {
  const to = moveRadio(event.key, props.groups.indexOf(group.value), props.groups.length);
  const next = to === null ? undefined : props.groups[to];
  if (!next) return;
  event.preventDefault();
  group.value = next;
  (event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('[role=radio]')[to ?? 0]?.focus();
}
const words = {
  cut: 'Cut',
  frame: 'Frame',
  color: 'Colour',
  sound: 'Sound',
  about: 'About',
  check: 'Check',
} as const;
</script>

<template>
  <aside ref="aside" class="tools" aria-label="Tools">
    <div class="tabs" role="radiogroup" aria-label="What to work on" @keydown="onKey">
      <button
        v-for="each in groups"
        :key="each"
        type="button"
        role="radio"
        :aria-checked="group === each"
        :tabindex="group === each ? 0 : -1"
        @click="group = each"
      >
        {{ words[each] }}
      </button>
    </div>
    <div class="panel">
      <slot :name="group" />
    </div>
    <section class="all">
      <div class="pair">
        <v-btn class="quiet" :disabled="!canUndo" @click="emit('undo')">Undo</v-btn
        ><v-btn class="quiet" :disabled="!canRedo" @click="emit('redo')">Redo</v-btn>
      </div>
      <div class="pair">
        <v-btn class="quiet" :disabled="!hasProposal" @click="emit('suggested')">Suggested</v-btn
        ><v-btn class="quiet" @click="emit('asRecorded')">As recorded</v-btn>
      </div>
      <v-btn
        v-if="otherCount > 0 && group !== 'cut' && group !== 'check'"
        class="quiet"
        @click="emit('useOnAll', group as SharedGroup)"
        >{{ words[group] }} on all takes</v-btn
      >
      <p class="note" role="status">
        {{ isSaved ? 'Kept. The recording itself is never changed.' : 'Keeping…' }}
      </p>
    </section>
  </aside>
</template>

<style scoped src="./tools.css"></style>
<style scoped>
.tools {
  width: 268px;
  flex: none;
  background: var(--sheet);
  border-left: 1px solid var(--line);
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.tabs {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 4px;
  padding: 12px 12px 8px;
}
.tabs button {
  min-height: 40px;
  border-radius: 4px;
  background: var(--paper);
  font-weight: 700;
  font-size: 13.5px;
}
.tabs button[aria-checked='true'] {
  background: var(--ink);
  color: var(--sheet);
}
.panel {
  flex: 1;
  min-height: 0;
  overflow-y: auto;
  padding: 8px 14px 14px;
  display: grid;
  gap: 18px;
  align-content: start;
}
.all {
  border-top: 1px solid var(--line);
  padding: 10px 14px 12px;
}
@media (max-width: 1000px) {
  .tools {
    width: auto;
    border-left: 0;
    border-top: 1px solid var(--line);
    order: 3;
  }
  .panel {
    overflow: visible;
  }
}
</style>
