<script setup lang="ts">
import { readInstructions, rereadLimits, type Limit, type Material } from '@apodix/core';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { collectConflicts } from './collect-conflicts.ts';
import LimitList from './LimitList.vue';
import { readLocalNow } from './local-now.ts';
import { markText } from './mark-text.ts';
import MarkedText from './MarkedText.vue';
import { useLimitEditor } from './useLimitEditor.ts';
import { useReadAloud } from './useReadAloud.ts';
import { describeDue } from '../../composables/describe-due.ts';
import { saveText } from '../../composables/save-text.ts';
import { useKeys } from '../../composables/useKeys.ts';
import { useNow } from '../../composables/useNow.ts';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import { summarizeBrief } from './summarize-brief.ts';

const work = useWork();
const notices = useNotices();
const router = useRouter();
const now = useNow();
const voice = useReadAloud();
const view = computed(() => work.assignment);
const lit = ref<string | null>(null);
const shownMaterial = ref<Material | null>(null);
const draftText = ref<string | null>(null);

const read = computed(() => readInstructions(view.value?.instructions ?? '', { now: readLocalNow() }));
const parts = computed(() =>
  view.value ? markText(view.value.instructions, view.value.limits, read.value) : [],
);
const hasWishes = computed(() => parts.value.some((part) => part.isWish));
const conflicts = computed(() =>
  view.value ? collectConflicts(read.value, view.value.limits, readLocalNow()) : [],
);
const summary = computed(() => (view.value ? summarizeBrief(view.value.limits, view.value.slots) : ''));
const editor = useLimitEditor(
  () => view.value?.limits ?? [],
  (limits) => work.saveLimits(limits),
);
const facts = computed(() => {
  const each = view.value;
  if (!each) return '';
  const left = each.attemptsAllowed === null ? null : each.attemptsAllowed - each.attemptsUsed;
  return [
    each.courseTitle,
    each.subject,
    each.points === null ? '' : `${each.points} points`,
    left === null ? '' : `${left} ${left === 1 ? 'attempt' : 'attempts'} left`,
    each.isLateAllowed ? 'late work is taken' : each.kind === 'course' ? 'nothing is taken late' : '',
  ]
    .filter(Boolean)
    .join(' · ');
});
const due = computed(() => (view.value ? describeDue(view.value.dueAt, view.value.setAt, now.value) : null));
const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
const groups = computed(() =>
  (view.value?.dueByGroup ?? []).map((each) => ({
    ...each,
    words: describeDue(each.dueAt, null, now.value)?.when ?? '',
    isOwn: each.group === view.value?.group,
  })),
);
const next = computed(() => {
  const each = view.value;
  if (!each) return null;
  return each.takes.length
    ? { label: 'Go on to the takes', name: 'takes' }
    : { label: 'These are right. Start with a take', name: 'takes' };
});

async function change(limits: Limit[], what: string): Promise<void> {
  await editor.change(limits, what).catch(notices.tellFault);
}
async function undo(): Promise<void> {
  await editor.undo().catch(notices.tellFault);
}
async function keepText(): Promise<void> {
  const text = draftText.value;
  if (text === null || !view.value) return;
  const fresh = readInstructions(text, { now: readLocalNow() });
  try {
    await work.saveLimits(rereadLimits(view.value.limits, fresh.limits), text);
    draftText.value = null;
    notices.add(
      `Read again: ${fresh.limits.length} ${fresh.limits.length === 1 ? 'limit' : 'limits'} found.`,
      'What you changed yourself stays as it is.',
    );
  } catch (error) {
    notices.tellFault(error);
  }
}
async function reset(): Promise<void> {
  await work.resetLimits().catch(notices.tellFault);
}
async function removeAll(): Promise<void> {
  if (!window.confirm('Remove this assignment with its takes and made files? This cannot be undone.')) return;
  try {
    await work.removeAssignment();
    await router.push({ name: 'today' });
  } catch (error) {
    notices.tellFault(error);
  }
}
function listen(): void {
  if (voice.isSpeaking.value) voice.stop();
  else if (view.value) voice.start(view.value.instructions);
}
useKeys({ 'Ctrl+z': () => void undo() });
</script>

<template>
  <div v-if="view" class="brief">
    <div class="text">
      <p class="note">{{ facts }}</p>
      <h1>{{ view.title }}</h1>
      <p v-if="due" class="due">
        <strong :class="{ urgent: due.isUrgent }">{{ due.left }}</strong>
        <span class="note"
          >{{ due.when }} ({{ zone }})<template v-if="view.group && groups.length">
            · your group: {{ view.group }}</template
          ></span
        >
      </p>
      <p v-if="groups.length" class="note groups">
        <span v-for="each in groups" :key="each.group" :class="{ own: each.isOwn }"
          >{{ each.group }}: {{ each.words }}</span
        >
      </p>
      <div v-if="summary" class="sheet short">
        <h2>In short</h2>
        <p>{{ summary }}</p>
      </div>
      <div v-for="conflict in conflicts" :key="conflict.message" class="sheet clash" role="alert">
        <strong>{{ conflict.message }}</strong> {{ conflict.possible }}
      </div>
      <div class="line">
        <h2>{{ view.kind === 'course' ? 'What your teacher wrote' : 'What is asked for' }}</h2>
        <div class="acts">
          <template v-if="view.instructions && voice.isThere">
            <label v-if="voice.isSpeaking.value" class="speed"
              >Speed
              <input
                type="range"
                min="0.6"
                max="1.6"
                step="0.1"
                :value="voice.speed.value"
                aria-label="Speed of the voice"
                @input="voice.setSpeed(Number(($event.target as HTMLInputElement).value))"
              /><span class="figures">{{ voice.speed.value.toFixed(1) }}×</span></label
            >
            <v-btn
              class="quiet"
              size="small"
              height="40"
              :aria-pressed="voice.isSpeaking.value"
              @click="listen"
              >{{ voice.isSpeaking.value ? '■ Stop' : '▶ Listen' }}</v-btn
            >
          </template>
          <v-btn class="quiet" size="small" height="40" @click="draftText = view.instructions">{{
            view.instructions ? 'Correct the text' : 'Paste the text'
          }}</v-btn>
        </div>
      </div>
      <MarkedText
        v-if="view.instructions"
        :parts="parts"
        :lit="lit"
        :spoken="voice.current.value"
        @light="lit = $event"
      />
      <p v-else class="note">There is no text. Paste what was asked for, and the limits are read from it.</p>
      <p v-if="parts.length" class="note legend">
        <span class="sample">read as a limit</span
        ><span v-if="hasWishes" class="sample wish"
          >asked for, but nothing a machine can check: left for you</span
        >
      </p>
      <template v-if="view.materials.length">
        <h2>Materials</h2>
        <div class="materials">
          <button
            v-for="material in view.materials"
            :key="material.title"
            type="button"
            class="sheet"
            @click="shownMaterial = material"
          >
            <strong>{{ material.title }}</strong><span class="note">{{ material.note }}</span>
          </button>
        </div>
      </template>
      <template v-if="view.rubric.length">
        <h2>How it is marked</h2>
        <p class="rubric">
          <span v-for="row in view.rubric" :key="row.label"
            >{{ row.label }} <strong class="figures">{{ row.points }}</strong></span
          >
        </p>
      </template>
      <p v-if="view.isMine" class="end">
        <button type="button" class="remove" @click="removeAll">Remove this assignment</button>
      </p>
    </div>
    <aside class="limits" aria-label="Limits">
      <div class="scroll">
        <LimitList
          :limits="view.limits"
          :lit="lit"
          :conflicts="conflicts"
          :title="view.instructions ? 'Limits read from it' : 'Limits'"
          @change="change"
          @light="lit = $event"
        />
        <div v-if="editor.canUndo.value || view.isBriefChanged" class="undo">
          <button v-if="editor.canUndo.value" type="button" @click="undo">
            Undo<span class="note"> · {{ editor.last.value }}</span>
          </button>
          <button v-if="view.isBriefChanged" type="button" @click="reset">
            Take back what the course announced
          </button>
        </div>
      </div>
      <div class="foot">
        <v-btn
          v-if="next"
          class="go"
          block
          height="46"
          :to="{ name: next.name, params: { assignmentId: view.id } }"
          >{{ next.label }}</v-btn
        >
      </div>
    </aside>
    <v-dialog
      :model-value="shownMaterial !== null"
      max-width="640"
      @update:model-value="shownMaterial = null"
    >
      <div v-if="shownMaterial" class="sheet material">
        <h2>{{ shownMaterial.title }}</h2>
        <p class="plain">{{ shownMaterial.text }}</p>
        <div class="acts">
          <v-btn class="plain" @click="saveText(`${shownMaterial.title}.txt`, shownMaterial.text)">Save</v-btn
          ><v-btn class="quiet" @click="shownMaterial = null">Close</v-btn>
        </div>
      </div>
    </v-dialog>
    <v-dialog :model-value="draftText !== null" max-width="760" @update:model-value="draftText = null">
      <form v-if="draftText !== null" class="sheet material" @submit.prevent="keepText">
        <h2>What was asked for</h2>
        <label for="brief-text" class="note"
          >Correct or paste the text. The limits are read from it again; what you changed yourself
          stays.</label
        ><v-textarea id="brief-text" v-model="draftText" rows="9" maxlength="200000" />
        <div class="acts">
          <v-btn class="go" type="submit">Read it again</v-btn
          ><v-btn class="quiet" @click="draftText = null">Leave it</v-btn>
        </div>
      </form>
    </v-dialog>
  </div>
</template>

<style scoped>
.brief {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 420px;
  flex: 1;
  min-height: 0;
}
.text {
  padding: 22px 34px 40px;
  overflow-y: auto;
  display: grid;
  gap: 12px;
  align-content: start;
}
.text > * {
  max-width: 800px;
}
.due strong.urgent {
  color: var(--madder);
}
.groups {
  display: flex;
  gap: 4px 18px;
  flex-wrap: wrap;
}
.groups .own {
  color: var(--ink);
  font-weight: 700;
}
.short {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 14px;
  padding: 14px 16px;
  align-items: center;
}
.short h2 {
  margin: 0;
}
.clash {
  padding: 12px 16px;
  background: var(--madder-soft);
  border-color: var(--madder);
}
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  flex-wrap: wrap;
}
.acts {
  display: flex;
  gap: 8px;
  align-items: center;
}
.speed {
  display: flex;
  gap: 8px;
  align-items: center;
  font-size: 13px;
}
.legend {
  display: flex;
  gap: 8px 18px;
  flex-wrap: wrap;
}
.sample {
  border-bottom: 2px solid var(--met);
}
.sample.wish {
  border-bottom: 2px dashed var(--saffron-line);
}
.materials {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}
.materials button {
  display: grid;
  text-align: left;
  padding: 10px 12px;
  min-width: 220px;
}
.rubric {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 22px;
}
.limits {
  background: var(--sheet);
  border-left: 1px solid var(--line);
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.scroll {
  flex: 1;
  overflow-y: auto;
  min-height: 0;
}
.undo {
  display: grid;
  justify-items: start;
  padding: 8px 14px 14px;
  border-top: 1px solid var(--line);
}
.undo button,
.remove {
  min-height: 40px;
  text-decoration: underline;
  text-underline-offset: 3px;
  text-align: left;
}
.remove {
  color: var(--madder);
}
.foot {
  padding: 14px;
  border-top: 1px solid var(--line);
}
.material {
  padding: 20px;
  display: grid;
  gap: 14px;
}
.plain {
  white-space: pre-line;
  font-size: 16px;
}
@media (max-width: 1000px) {
  .brief {
    grid-template-columns: minmax(0, 1fr);
  }
  .text {
    padding: 16px 14px;
  }
  .limits {
    border-left: 0;
    border-top: 1px solid var(--line);
  }
  .foot {
    position: sticky;
    bottom: 0;
    background: var(--sheet);
    z-index: 5;
  }
}
</style>
