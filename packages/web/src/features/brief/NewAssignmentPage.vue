<script setup lang="ts">
import { rereadLimits, type Answers, type Limit } from '@apodix/core';
import { computed, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { callRoute } from '../../api/call-route.ts';
import { collectConflicts } from './collect-conflicts.ts';
import LimitList from './LimitList.vue';
import { findDueInstant, readLocalNow } from '../../composables/local-now.ts';
import { markText } from './mark-text.ts';
import MarkedText from './MarkedText.vue';
import { readHere } from './read-here.ts';
import QuestionList from './QuestionList.vue';
import { addWords } from '../paper/add-words.ts';
import PaperButton from '../paper/PaperButton.vue';
import { chooseAnswer } from './choose-answer.ts';
import AppBar from '../../layout/AppBar.vue';
import { useNotices } from '../../stores/notices.ts';

const router = useRouter();
const notices = useNotices();
const title = ref('');
const text = ref('');
const limits = ref<Limit[]>([]);
const lit = ref<string | null>(null);
const isBusy = ref(false);
const isTouched = ref(false);
const answers = ref<Answers>({});
const read = computed(() => readHere(text.value, answers.value));
const parts = computed(() => markText(text.value, limits.value, read.value));
const conflicts = computed(() => collectConflicts(read.value, limits.value, readLocalNow()));
watch(read, (next) => (limits.value = rereadLimits(limits.value, next.limits)));

async function make(): Promise<void> {
  isTouched.value = true;
  if (title.value.trim() === '' || isBusy.value) return;
  isBusy.value = true;
  try {
    const view = await callRoute('createAssignment', {
      body: {
        kind: 'own',
        title: title.value.trim(),
        instructions: text.value,
        limits: limits.value,
        answers: answers.value,
        dueAt: findDueInstant(limits.value),
      },
    });
    await router.push({ name: 'takes', params: { assignmentId: view.id } });
  } catch (error) {
    notices.tellFault(error);
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <AppBar />
  <main id="main" class="page">
    <div class="left">
      <h1>Make my own assignment</h1>
      <p class="note">
        For work that no course site announces here. Paste what was asked for; the limits are read from it
        while you type.
      </p>
      <div>
        <label for="title">What is it called?</label
        ><v-text-field id="title" v-model="title" maxlength="160" :error="isTouched && title.trim() === ''" />
        <p v-if="isTouched && title.trim() === ''" class="fault" role="alert">
          Give it a name, such as “Clarinet solo”.
        </p>
      </div>
      <div>
        <div class="line">
          <label for="text">What was asked for, in the teacher’s words</label
          ><PaperButton @words="text = addWords(text, $event)" />
        </div>
        <v-textarea
          id="text"
          v-model="text"
          rows="6"
          max-rows="14"
          maxlength="200000"
          placeholder="Film one performance, between two and three minutes, sideways. MP4, at most 100 MB. Due on Friday at 4 pm."
        />
      </div>
      <section v-if="text.trim()" class="sheet">
        <h2>How it was read</h2>
        <MarkedText :parts="parts" :lit="lit" @light="lit = $event" />
        <p v-if="parts.some((part) => part.isWish)" class="note">
          Dashed: asked for, but nothing a machine can check. Left for you.
        </p>
      </section>
    </div>
    <aside class="sheet limits" aria-label="Limits">
      <QuestionList
        :questions="read.questions"
        :trial="read.trial"
        :lit="lit"
        @answer="(id, answer) => (answers = chooseAnswer(answers, id, answer))"
        @light="lit = $event"
      />
      <LimitList
        :limits="limits"
        :lit="lit"
        :conflicts="conflicts"
        title="Limits"
        @change="(next) => (limits = next)"
        @light="lit = $event"
      />
      <div class="foot">
        <v-btn class="go" block height="46" :loading="isBusy" @click="make"
          >These are right. Start with a take</v-btn
        >
      </div>
    </aside>
  </main>
</template>

<style scoped>
.page {
  max-width: 1200px;
  margin: 0 auto;
  padding: 24px 24px 60px;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 420px;
  gap: 24px;
  align-items: start;
  width: 100%;
}
.left {
  display: grid;
  gap: 14px;
}
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  flex-wrap: wrap;
  gap: 0 12px;
  padding-bottom: 6px;
}
label {
  font-weight: 700;
  display: block;
  padding-bottom: 4px;
}
.left .sheet {
  padding: 16px;
  display: grid;
  gap: 8px;
}
.fault {
  color: var(--madder);
  font-weight: 600;
}
.foot {
  padding: 14px;
  border-top: 1px solid var(--line);
}
@media (max-width: 1000px) {
  .page {
    grid-template-columns: minmax(0, 1fr);
    padding: 16px 14px 40px;
  }
}
</style>
