<script setup lang="ts">
import FileDrop from '../../components/FileDrop.vue';
import { describePast } from '../../composables/describe-due.ts';
import { useNow } from '../../composables/useNow.ts';
import AppBar from '../../layout/AppBar.vue';
import LimitList from '../brief/LimitList.vue';
import QuestionList from '../brief/QuestionList.vue';
import PaperButton from '../paper/PaperButton.vue';
import { useQuickFit } from './useQuickFit.ts';

const now = useNow();
const { asks, limits, questions, trial, earlier, conflicts, notUnderstood, settle, add, begin } =
  useQuickFit();
</script>

<template>
  <AppBar />
  <main id="main" class="page">
    <h1>Quick fit</h1>
    <p class="lead">
      Say what the file has to meet, drop it, and get a file that fits. No account and no assignment needed.
    </p>
    <div class="columns">
      <section class="sheet">
        <h2>1 · What it has to meet</h2>
        <div>
          <div class="line"><label for="asks">In words</label><PaperButton @words="add" /></div>
          <v-textarea
            id="asks"
            v-model="asks"
            rows="3"
            max-rows="10"
            placeholder="Paste what the teacher wrote, or: MP4, at most 20 MB, no longer than 2 minutes"
            maxlength="200000"
          />
        </div>
        <p v-for="phrase in notUnderstood" :key="phrase.start" class="note unread">
          Not understood: “{{ phrase.text.slice(0, 140) }}”
        </p>
        <p v-for="conflict in conflicts" :key="conflict.message" class="clash" role="alert">
          <strong>{{ conflict.message }}</strong> {{ conflict.possible }}
        </p>
        <QuestionList :questions="questions" :trial="trial" @answer="settle" />
        <LimitList
          class="limits"
          :limits="limits"
          :conflicts="[]"
          title="Limits"
          @change="(next) => (limits = next)"
        />
      </section>
      <section class="sheet">
        <h2>2 · The file</h2>
        <FileDrop label="Drop a recording or photograph here" note="or choose it" @files="begin" />
        <p class="note">
          It is measured, a proposal is made, and you see what will happen before anything is made. The file
          itself is never changed.
        </p>
        <template v-if="earlier.length"
          ><h2>Earlier</h2>
          <ul class="earlier">
            <li v-for="card in earlier" :key="card.id">
              <router-link :to="{ name: card.nextStop, params: { assignmentId: card.id } }">{{
                card.title
              }}</router-link>
              <span class="note">{{ describePast(card.setAt, now) }} · {{ card.situation }}</span>
            </li>
          </ul></template
        >
      </section>
    </div>
  </main>
</template>

<style scoped>
.page {
  max-width: 1080px;
  margin: 0 auto;
  padding: 26px 20px 60px;
  display: grid;
  gap: 14px;
  width: 100%;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 18px;
  align-items: start;
}
.sheet {
  padding: 18px;
  display: grid;
  gap: 10px;
}
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding-bottom: 6px;
}
label {
  font-weight: 700;
  display: block;
  padding-bottom: 4px;
}
.unread {
  color: var(--saffron);
  font-weight: 600;
}
.clash {
  color: var(--madder);
}
.limits {
  margin: 0 -18px -18px;
  border-top: 1px solid var(--line);
}
.earlier {
  list-style: none;
  padding: 10px 0 0;
  margin: 0;
  border-top: 1px solid var(--line);
  display: grid;
  gap: 4px;
  overflow-wrap: anywhere;
}
@media (max-width: 800px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
