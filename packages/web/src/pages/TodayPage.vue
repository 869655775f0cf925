<script setup lang="ts">
import { LiveEvent, type AssignmentCard } from '@apodix/core';
import { computed, onMounted, onScopeDispose, ref } from 'vue';
import { callRoute } from '../api/call-route.ts';
import ProofSign from '../components/ProofSign.vue';
import { describeDue, describePast } from '../composables/describe-due.ts';
import { useNow } from '../composables/useNow.ts';
import AppBar from '../layout/AppBar.vue';
import { useNotices } from '../stores/notices.ts';
import MonthCalendar from './MonthCalendar.vue';
import { groupToday } from './today-groups.ts';

const cards = ref<readonly AssignmentCard[]>([]);
const isLoaded = ref(false);
const now = useNow();
const notices = useNotices();
const groups = computed(() => groupToday(cards.value));
const heading = computed(() => new Intl.DateTimeFormat(undefined, { weekday: 'long', day: 'numeric', month: 'long' }).format(now.value).replace(',', ''));

async function load(): Promise<void> {
  try {
    cards.value = (await callRoute('readToday')).assignments;
  } catch (error) {
    notices.tellFault(error);
  } finally {
    isLoaded.value = true;
  }
}
onMounted(load);
const events = new EventSource('/api/events');
events.onmessage = (message: MessageEvent<string>) => {
  const parsed = LiveEvent.safeParse(JSON.parse(message.data));
  if (parsed.success && parsed.data.type === 'work') void load();
};
onScopeDispose(() => events.close());

const due = (card: AssignmentCard) => describeDue(card.dueAt, card.setAt, now.value);
const to = (card: AssignmentCard) => ({ name: card.nextStop, params: { assignmentId: card.id } });
</script>

<template>
  <AppBar />
  <main id="main" class="page">
    <div class="list">
      <h1>{{ heading }}</h1>
      <section v-for="card in groups.ready" :key="`r${card.id}`" class="band">
        <div><strong class="loud">Ready, but not handed in</strong> <span>{{ card.title }}: {{ card.state === 'sending' ? 'it is on its way.' : 'the file is made and proven. One press is left.' }}</span></div>
        <v-btn class="go" :to="{ name: 'hand-in', params: { assignmentId: card.id } }" height="42">Go to hand in</v-btn>
      </section>
      <h2>To make</h2>
      <p v-if="isLoaded && groups.toMake.length === 0" class="sheet empty">Nothing is waiting. Fix a single file in <router-link :to="{ name: 'quick-fit' }">Quick fit</router-link> whenever you like.</p>
      <router-link v-for="card in groups.toMake" :key="card.id" :to="to(card)" class="sheet card">
        <img v-if="card.coverUrl" :src="card.coverUrl" alt="" loading="lazy" />
        <span v-else class="blank" aria-hidden="true"><ProofSign measured="open" planned="open" proven="open" :size="26" /></span>
        <span class="what"><span class="note">{{ card.courseTitle }}<template v-if="card.subject"> · {{ card.subject }}</template></span><strong class="title">{{ card.title }}</strong><span>{{ card.situation }} <strong>{{ card.nextStep }}</strong></span></span>
        <span v-if="due(card)" class="time" :class="{ urgent: due(card)?.isUrgent }"><strong>{{ due(card)?.left }}</strong><span class="track" aria-hidden="true"><span :style="{ width: `${Math.max(3, 100 - 100 * (due(card)?.passed ?? 0))}%` }" /></span><span class="note">{{ due(card)?.when }}</span></span>
      </router-link>
      <h2>Handed in</h2>
      <p v-if="isLoaded && groups.handedIn.length === 0" class="sheet empty">Nothing has been handed in yet. It shows here with its receipt as soon as the course site has it.</p>
      <div v-for="card in groups.handedIn" :key="card.id" class="sheet done">
        <ProofSign measured="met" planned="met" proven="met" :size="20" />
        <div class="what"><strong>{{ card.title }}</strong><span class="note">{{ card.courseTitle }} · received {{ card.handedInAt ? describePast(card.handedInAt, now) : '' }}<template v-if="card.state === 'feedback-back'"> · feedback is back</template></span></div>
        <v-btn class="quiet" :to="to(card)">{{ card.state === 'feedback-back' ? 'Read feedback' : 'See receipt' }}</v-btn>
      </div>
    </div>
    <div class="side">
      <MonthCalendar :cards="cards" :now="now" />
      <section class="quick">
        <h2>Quick fit</h2>
        <p class="note">Drop any recording or photograph, say what it has to meet, and get a file that fits.</p>
        <v-btn class="plain" :to="{ name: 'quick-fit' }">Choose a file</v-btn>
      </section>
    </div>
  </main>
</template>

<style scoped>
.page { display: grid; grid-template-columns: minmax(0, 1fr) 332px; gap: 26px; padding: 22px 28px 40px; max-width: 1360px; margin: 0 auto; width: 100%; align-items: start; }
.list { display: grid; gap: 10px; }
.list h1 { font-size: 27px; margin-bottom: 6px; }
.list h2 { font-size: 16px; margin-top: 14px; }
.band { display: flex; justify-content: space-between; align-items: center; gap: 16px; background: var(--saffron-soft); border: 1px solid var(--saffron-line); border-radius: 6px; padding: 12px 14px; }
.loud { font: 700 17px var(--display); margin-right: 10px; }
.empty { padding: 16px; color: var(--soft-ink); }
.card { display: flex; gap: 16px; padding: 12px; text-decoration: none; align-items: center; }
.card:hover { border-color: var(--ink); }
.card img, .blank { width: 132px; height: 76px; object-fit: cover; border-radius: 3px; flex: none; background: var(--track); }
.blank { display: grid; place-items: center; }
.what { display: grid; gap: 1px; flex: 1; min-width: 0; }
.title { font: 700 17px var(--display); }
.time { width: 190px; flex: none; display: grid; gap: 5px; }
.time.urgent strong { color: var(--madder); }
.track { display: block; height: 6px; border-radius: 3px; background: var(--track); overflow: hidden; }
.track span { display: block; height: 100%; background: var(--ink); border-radius: 3px; }
.urgent .track span { background: var(--madder); }
.done { display: flex; align-items: center; gap: 14px; padding: 12px 14px; }
.side { display: grid; gap: 16px; }
.quick { border: 1px dashed var(--soft-ink); border-radius: 6px; padding: 20px; display: grid; gap: 10px; justify-items: center; text-align: center; }
@media (max-width: 1000px) {
  .page { grid-template-columns: minmax(0, 1fr); padding: 16px 14px 40px; }
  .band { flex-direction: column; align-items: stretch; }
  .loud { display: block; }
  .card { flex-wrap: wrap; gap: 10px 12px; }
  .card img, .blank { width: 84px; height: 60px; }
  .card .what { flex-basis: calc(100% - 100px); }
  .time { width: 100%; }
  .time .note { display: none; }
  .done { flex-wrap: wrap; }
}
</style>
