<script setup lang="ts">
import type { Material } from '@apodix/core';
import { ref } from 'vue';
import BriefText from './BriefText.vue';
import ChangeSheet from './ChangeSheet.vue';
import LimitList from './LimitList.vue';
import ListenBar from './ListenBar.vue';
import MarkedText from './MarkedText.vue';
import MaterialDialog from './MaterialDialog.vue';
import QuestionList from './QuestionList.vue';
import { useBrief } from './useBrief.ts';
import { useReadAloud } from './useReadAloud.ts';

const brief = useBrief();
const {
  view,
  draftText,
  parts,
  editor,
  facts,
  hasWishes,
  conflicts,
  summary,
  due,
  groups,
  questions,
  rubric,
  trial,
} = brief;
const voice = useReadAloud();
const lit = ref<string | null>(null);
const shownMaterial = ref<Material | null>(null);
const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
</script>

<template>
  <div v-if="view" class="brief">
    <div class="text">
      <p class="note">{{ facts }}</p>
      <h1>{{ view.title }}</h1>
      <p v-if="due" class="due">
        <strong :class="{ urgent: due.isUrgent }">{{ due.left }}</strong>{{ ' ' }}
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
      <ChangeSheet v-if="view.changes.length" :changes="view.changes" @seen="brief.confirmChanges" />
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
          <ListenBar v-if="view.instructions" :voice="voice" :text="view.instructions" />
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
        ><span v-if="questions.some(({ answer }) => answer === null)" class="sample ask"
          >could be read in two ways: settle it</span
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
      <template v-if="rubric.length">
        <h2>How it is marked</h2>
        <p class="rubric">
          <span v-for="row in rubric" :key="row.label"
            >{{ row.label }} <strong class="figures">{{ row.points }}</strong></span
          >
        </p>
      </template>
      <p v-if="view.isMine" class="end">
        <button type="button" class="remove" @click="brief.removeAll">Remove this assignment</button>
      </p>
    </div>
    <aside class="limits" aria-label="Limits">
      <div class="scroll">
        <QuestionList
          :questions="questions"
          :trial="trial"
          :lit="lit"
          @answer="brief.settle"
          @light="lit = $event"
        />
        <LimitList
          :limits="view.limits"
          :lit="lit"
          :conflicts="conflicts"
          :own-ids="view.ownLimitIds"
          :title="
            view.limitsFrom === 'course' && view.kind === 'course'
              ? 'Limits of your course'
              : view.instructions
                ? 'Limits read from it'
                : 'Limits'
          "
          @change="brief.change"
          @light="lit = $event"
        />
        <p v-if="view.ownLimitIds.length" class="note own-words">
          What you read yourself is aimed at, and marked as yours. Your hand-in is judged by the limits of
          your course.
        </p>
        <div v-if="editor.canUndo.value || view.isBriefChanged" class="undo">
          <button v-if="editor.canUndo.value" type="button" @click="brief.undo">
            Undo<span class="note"> · {{ editor.last.value }}</span>
          </button>
          <button v-if="view.isBriefChanged" type="button" @click="brief.reset">
            Use the course’s limits again
          </button>
        </div>
      </div>
      <div class="foot">
        <v-btn class="go" block height="46" :to="{ name: 'takes', params: { assignmentId: view.id } }">{{
          view.takes.length ? 'Go on to the takes' : 'These are right. Start with a take'
        }}</v-btn>
      </div>
    </aside>
    <MaterialDialog :material="shownMaterial" @close="shownMaterial = null" />
    <BriefText v-model="draftText" @keep="brief.keepText" />
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
.legend {
  display: flex;
  gap: 8px 18px;
  flex-wrap: wrap;
}
.sample {
  border-bottom: 2px solid var(--met);
}
.sample.ask {
  border-bottom: 3px solid var(--saffron-line);
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
.own-words {
  padding: 4px 14px 10px;
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
