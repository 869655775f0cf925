<script setup lang="ts">
import { measureShaped, PAPERS, type Paper, type SheetLayout } from '@apodix/core';
import { computed, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import JobBar from '../../components/JobBar.vue';
import { useKeys } from '../../keys/useKeys.ts';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import SheetPages from './SheetPages.vue';
import SheetPieces from './SheetPieces.vue';
import { useLaidSheet } from './useLaidSheet.ts';
import { useSheet } from './useSheet.ts';
import { useSheetPictures } from './useSheetPictures.ts';

const [route, router, work, notices] = [useRoute(), useRouter(), useWork(), useNotices()];
const assignmentId = String(route.params.assignmentId);
const page = useSheet(assignmentId);
const { sheet, pieces, others, job, made, measuring, isRead, isKept, isAnyGone, isChanged, refused } = page;
const { canUndo, canRedo } = page;
const isMade = computed(() => made.value?.state === 'ready' && !isChanged.value);
const pictures = useSheetPictures(page.takes);
const sizes = computed(() =>
  pieces.value.map(({ take }) =>
    take?.facts?.photo
      ? measureShaped(take.facts.photo, page.recipeOf(take).picture)
      : { widthPx: 4, heightPx: 3 },
  ),
);
const laid = useLaidSheet(
  computed(() => sheet.value),
  sizes,
);
const urls = computed(() => pieces.value.map(({ piece }) => pictures.value[piece.takeId] ?? ''));
const layouts: readonly (readonly [SheetLayout, string])[] = [
  ['single', 'One a page'],
  ['contact', 'All small'],
  ['response', 'With answers'],
];
const progress = computed(() => (job.value?.state === 'failed' ? null : (job.value ?? measuring.value)));
useKeys({ undo: page.undo, redo: page.redo });
watch(
  () => work.assignment !== null,
  (isHere) => isHere && void page.read(),
  { immediate: true },
);
function add(event: Event): void {
  const select = event.target as HTMLSelectElement;
  if (select.value) page.add(select.value);
  select.value = '';
}
async function goOn(): Promise<void> {
  if (!made.value) return;
  await work
    .chooseTake(made.value.id)
    .then(() => router.push({ name: 'fit', params: { assignmentId } }))
    .catch(notices.tellFault);
}
</script>

<template>
  <div class="panel">
    <router-link class="back" :to="{ name: 'takes', params: { assignmentId } }">← Takes</router-link>
    <h1>Sheet</h1>
    <section>
      <div class="choices" role="group" aria-label="Layout">
        <button
          v-for="[name, words] in layouts"
          :key="name"
          type="button"
          :aria-pressed="sheet.layout === name"
          :class="{ on: sheet.layout === name }"
          @click="page.change({ layout: name })"
        >
          {{ words }}
        </button>
      </div>
      <label class="wide"
        ><span class="note">Title of the sheet</span
        ><input
          :value="sheet.title"
          maxlength="160"
          @input="page.change({ title: ($event.target as HTMLInputElement).value })"
      /></label>
      <label class="choice"
        ><span>Paper</span
        ><select
          :value="sheet.paper"
          @change="page.change({ paper: ($event.target as HTMLSelectElement).value as Paper })"
        >
          <option v-for="(paper, name) in PAPERS" :key="name" :value="name">{{ paper.label }}</option>
        </select></label
      >
      <p v-if="refused" class="note">{{ refused }}</p>
    </section>
    <section>
      <h2>Photographs</h2>
      <p v-if="isAnyGone" class="gone" role="alert">
        A photograph is not here any more.
        <button type="button" @click="page.dropGone()">Take it off the sheet</button>
      </p>
      <SheetPieces
        v-if="isRead"
        :pieces="pieces"
        :pictures="pictures"
        :is-answered="sheet.layout === 'response'"
        @write="page.write"
        @move="page.move"
        @remove="page.remove"
      />
      <label v-if="others.length > 0" class="choice"
        ><span>Add</span
        ><select @change="add">
          <option value="">a photograph</option>
          <option v-for="take in others" :key="take.id" :value="take.id">{{ take.name }}</option>
        </select></label
      >
    </section>
    <div class="foot">
      <p class="note" role="status">{{ isKept ? 'Kept.' : 'Keeping…' }}</p>
      <button type="button" :disabled="!canUndo" @click="page.undo()">Undo</button>
      <button type="button" :disabled="!canRedo" @click="page.redo()">Redo</button>
    </div>
  </div>
  <div class="surround">
    <div class="bar">
      <JobBar
        v-if="progress"
        class="progress"
        :stage="progress.stage"
        :share="progress.share"
        :seconds-left="progress.secondsLeft"
        can-cancel
        @cancel="page.cancel()"
      />
      <p v-else-if="job?.fault" class="gone" role="alert">{{ job.fault.message }} {{ job.fault.detail }}</p>
      <p v-else-if="isMade && made" role="status">
        <strong>{{ made.name }}</strong> is one of your takes now.
      </p>
      <p v-else-if="laid" class="note">
        <span class="figures">{{ laid.pages.length }}</span>
        {{ laid.pages.length === 1 ? 'page, as it' : 'pages, as they' }} will be printed.
      </p>
      <v-btn v-if="isMade" class="go" color="primary" @click="goOn">Fit it</v-btn>
      <v-btn
        v-else
        class="go"
        color="primary"
        :disabled="!laid || isAnyGone || progress !== null"
        @click="page.make()"
        >Make the PDF</v-btn
      >
    </div>
    <SheetPages v-if="laid && isRead" :laid="laid" :pictures="urls" />
    <div v-else-if="isRead" class="empty">
      <h2>Nothing on it yet</h2>
      <p>Bring in photographs under Takes; they stand here in the order that you give them.</p>
    </div>
  </div>
</template>

<style scoped src="../shape/tools.css"></style>
<style scoped src="./sheet.css"></style>
