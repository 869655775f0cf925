<script setup lang="ts">
import { describeLimit, type Material } from '@apodix/core';
import { computed, ref } from 'vue';
import { useWork } from '../../stores/work.ts';
import { markWords } from './mark-words.ts';
import { summarizeBrief } from './summarize-brief.ts';

const work = useWork();
const view = computed(() => work.assignment);
const lit = ref<string | null>(null);
const shownMaterial = ref<Material | null>(null);
const parts = computed(() => (view.value ? markWords(view.value.instructions, view.value.limits) : []));
const summary = computed(() => (view.value ? summarizeBrief(view.value.limits, view.value.slots) : ''));
const facts = computed(() => {
  const each = view.value;
  if (!each) return '';
  const left = each.attemptsAllowed === null ? null : each.attemptsAllowed - each.attemptsUsed;
  return [each.courseTitle, each.subject, each.points === null ? '' : `${each.points} points`, left === null ? '' : `${left} ${left === 1 ? 'attempt' : 'attempts'} left`, each.isLateAllowed ? 'late work is taken' : each.kind === 'course' ? 'nothing is taken late' : ''].filter(Boolean).join(' · ');
});
</script>

<template>
  <div v-if="view" class="brief">
    <div class="text">
      <p class="note">{{ facts }}</p>
      <h1>{{ view.title }}</h1>
      <div v-if="summary" class="sheet short"><h2>In short</h2><p>{{ summary }}</p></div>
      <template v-if="view.instructions">
        <h2>{{ view.kind === 'course' ? 'What your teacher wrote' : 'What is asked for' }}</h2>
        <p class="prose"><template v-for="(part, index) in parts" :key="index"><mark v-if="part.limitId" :class="{ lit: lit === part.limitId }" tabindex="0" @mouseenter="lit = part.limitId" @mouseleave="lit = null" @focus="lit = part.limitId" @blur="lit = null">{{ part.text }}</mark><template v-else>{{ part.text }}</template></template></p>
        <p class="note"><span class="sample">read as a limit</span></p>
      </template>
      <template v-if="view.materials.length">
        <h2>Materials</h2>
        <div class="materials"><button v-for="material in view.materials" :key="material.title" type="button" class="sheet" @click="shownMaterial = material"><strong>{{ material.title }}</strong><span class="note">{{ material.note }}</span></button></div>
      </template>
      <template v-if="view.rubric.length">
        <h2>How it is marked</h2>
        <p class="rubric"><span v-for="row in view.rubric" :key="row.label">{{ row.label }} <strong class="figures">{{ row.points }}</strong></span></p>
      </template>
    </div>
    <aside class="limits" aria-label="Limits">
      <h2>Limits</h2>
      <p v-if="view.limits.length === 0" class="note none">No limits are set: any file will do.</p>
      <ul>
        <li v-for="limit in view.limits" :key="limit.id" :class="{ lit: lit === limit.id }" @mouseenter="lit = limit.id" @mouseleave="lit = null">
          <span class="line"><strong>{{ describeLimit(limit).label }}</strong><span class="figures">{{ describeLimit(limit).wanted }}</span></span>
          <span class="line note"><span>{{ limit.words ? `“${limit.words}”` : '' }}</span><span>{{ limit.severity }}</span></span>
        </li>
      </ul>
      <div class="foot"><v-btn class="go" block height="46" :to="{ name: 'takes', params: { assignmentId: view.id } }">{{ view.takes.length ? 'Go on to the takes' : 'Start with a take' }}</v-btn></div>
    </aside>
    <v-dialog :model-value="shownMaterial !== null" max-width="640" @update:model-value="shownMaterial = null">
      <div v-if="shownMaterial" class="sheet material"><h2>{{ shownMaterial.title }}</h2><p class="prose">{{ shownMaterial.text }}</p><v-btn class="quiet" @click="shownMaterial = null">Close</v-btn></div>
    </v-dialog>
  </div>
</template>

<style scoped>
.brief { display: grid; grid-template-columns: minmax(0, 1fr) 420px; flex: 1; min-height: 0; }
.text { padding: 22px 34px 40px; overflow-y: auto; display: grid; gap: 12px; align-content: start; max-width: 900px; }
.text h2 { margin-top: 8px; }
.short { display: grid; grid-template-columns: auto 1fr; gap: 14px; padding: 14px 16px; align-items: center; }
.short h2 { margin: 0; }
.prose { font-size: 16.5px; line-height: 1.6; white-space: pre-line; max-width: 68ch; overflow-wrap: anywhere; }
mark, .sample { background: color-mix(in srgb, var(--met) 13%, transparent); color: inherit; border-bottom: 2px solid var(--met); padding: 1px 3px; }
mark.lit { background: color-mix(in srgb, var(--met) 32%, transparent); }
.sample { font-size: 13px; padding: 0; background: none; }
.materials { display: flex; flex-wrap: wrap; gap: 12px; }
.materials button { display: grid; padding: 10px 14px; min-width: 220px; text-align: left; }
.rubric { display: flex; flex-wrap: wrap; gap: 6px 22px; }
.limits { background: var(--sheet); border-left: 1px solid var(--line); display: flex; flex-direction: column; min-height: 0; }
.limits h2 { padding: 18px 14px 14px; font-size: 16.5px; }
.limits ul { list-style: none; margin: 0; padding: 0; overflow-y: auto; flex: 1; border-bottom: 1px solid var(--line); }
.limits li { border-top: 1px solid var(--line); padding: 9px 12px; border-left: 3px solid transparent; display: grid; gap: 3px; }
.limits li.lit { border-left-color: var(--met); background: color-mix(in srgb, var(--met) 7%, transparent); }
.line { display: flex; justify-content: space-between; gap: 14px; }
.line .figures { text-align: right; overflow-wrap: anywhere; }
.none { padding: 0 14px 14px; }
.foot { padding: 14px; }
.material { padding: 20px; display: grid; gap: 14px; justify-items: start; }
@media (max-width: 1000px) { .brief { grid-template-columns: minmax(0, 1fr); } .text { padding: 16px 14px; } .limits { border-left: 0; border-top: 1px solid var(--line); } }
</style>
