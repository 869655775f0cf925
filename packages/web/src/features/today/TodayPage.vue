<script setup lang="ts">
import type { AssignmentCard } from '@apodix/core';
import { computed, onMounted, onScopeDispose, ref } from 'vue';
import { callRoute } from '../../api/call-route.ts';
import { followLiveEvents } from '../../api/live-events.ts';
import ProofSign from '../../components/ProofSign.vue';
import { describeDue, describePast } from '../../composables/describe-due.ts';
import { useKeys } from '../../composables/useKeys.ts';
import { useNow } from '../../composables/useNow.ts';
import AppBar from '../../layout/AppBar.vue';
import { useNotices } from '../../stores/notices.ts';
import CalendarLinks from './CalendarLinks.vue';
import MonthCalendar from './MonthCalendar.vue';
import { filterCards, findReminders, groupToday, listCourses } from './today-groups.ts';

const cards = ref<readonly AssignmentCard[]>([]);
const isLoaded = ref(false);
const words = ref('');
const course = ref('');
const search = ref<HTMLInputElement | null>(null);
const now = useNow();
const notices = useNotices();
const courses = computed(() => listCourses(cards.value));
const shown = computed(() => filterCards(cards.value, { words: words.value, course: course.value }));
const groups = computed(() => groupToday(shown.value));
const reminders = computed(() => findReminders(cards.value, now.value));
const isFiltered = computed(() => words.value.trim() !== '' || course.value !== '');
const heading = computed(() =>
  new Intl.DateTimeFormat(undefined, { weekday: 'long', day: 'numeric', month: 'long' })
    .format(now.value)
    .replace(',', ''),
);

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
onScopeDispose(
  followLiveEvents((event) => {
    if (event.type === 'work') void load();
  }),
);
useKeys({ '/': () => search.value?.focus() });

const due = (card: AssignmentCard) => describeDue(card.dueAt, card.setAt, now.value);
const to = (card: AssignmentCard) => ({ name: card.nextStop, params: { assignmentId: card.id } });
function clear(): void {
  words.value = '';
  course.value = '';
}
</script>

<template>
  <AppBar />
  <main id="main" class="page">
    <div class="list">
      <div class="top">
        <h1>{{ heading }}</h1>
        <v-btn class="quiet" :to="{ name: 'new-assignment' }" height="40">Make my own assignment</v-btn>
      </div>
      <p v-for="card in reminders" :key="`m${card.id}`" class="reminder" role="status">
        <strong>Due within a day:</strong> <router-link :to="to(card)">{{ card.title }}</router-link>,
        {{ due(card)?.left }} <span class="note">{{ due(card)?.when }}</span>
      </p>
      <section v-for="card in groups.ready" :key="`r${card.id}`" class="band">
        <div>
          <strong class="loud">Ready, but not handed in</strong>
          <span
            >{{ card.title }}:
            {{
              card.state === 'sending'
                ? 'it is on its way.'
                : 'the file is made, and nothing falls short. One press is left.'
            }}</span
          >
        </div>
        <v-btn class="go" :to="{ name: 'hand-in', params: { assignmentId: card.id } }" height="42"
          >Go to hand in</v-btn
        >
      </section>
      <div v-if="cards.length > 3" class="filter">
        <input
          ref="search"
          v-model="words"
          type="search"
          placeholder="Search (press /)"
          aria-label="Search assignments"
        />
        <div class="courses" role="group" aria-label="Courses">
          <button
            type="button"
            :class="{ on: course === '' }"
            :aria-pressed="course === ''"
            @click="course = ''"
          >
            All</button
          ><button
            v-for="each in courses"
            :key="each"
            type="button"
            :class="{ on: course === each }"
            :aria-pressed="course === each"
            @click="course = course === each ? '' : each"
          >
            {{ each }}
          </button>
        </div>
      </div>
      <h2>To make</h2>
      <p v-if="isLoaded && groups.toMake.length === 0" class="sheet empty">
        <template v-if="isFiltered"
          >Nothing to make fits that. <button type="button" @click="clear">Show all</button></template
        ><template v-else
          >Nothing is waiting. Fix a single file in
          <router-link :to="{ name: 'quick-fit' }">Quick fit</router-link>, or
          <router-link :to="{ name: 'new-assignment' }">make an assignment of your own</router-link
          >.</template
        >
      </p>
      <router-link v-for="card in groups.toMake" :key="card.id" :to="to(card)" class="sheet card">
        <img v-if="card.coverUrl" :src="card.coverUrl" alt="" loading="lazy" />
        <span v-else class="blank" aria-hidden="true"
          ><ProofSign measured="open" planned="open" proven="open" :size="26"
        /></span>
        <span class="what"
          ><span class="note"
            >{{ card.courseTitle }}<template v-if="card.subject"> · {{ card.subject }}</template></span
          ><strong class="title">{{ card.title }}</strong
          ><span
            >{{ card.situation }} <strong>{{ card.nextStep }}</strong></span
          ></span
        >
        <span v-if="due(card)" class="time" :class="{ urgent: due(card)?.isUrgent }"
          ><strong>{{ due(card)?.left }}</strong
          ><span class="track" aria-hidden="true"
            ><span :style="{ width: `${Math.max(3, 100 - 100 * (due(card)?.passed ?? 0))}%` }" /></span
          ><span class="note">{{ due(card)?.when }}</span></span
        >
        <span v-else class="time note">no due time</span>
      </router-link>
      <template v-if="groups.feedback.length">
        <h2>Feedback is back</h2>
        <div v-for="card in groups.feedback" :key="card.id" class="sheet done">
          <ProofSign measured="open" planned="open" :proven="card.proven ?? 'open'" :size="20" />
          <div class="what">
            <strong>{{ card.title }}</strong><span class="note"
              >{{ card.courseTitle }} · received
              {{ card.handedInAt ? describePast(card.handedInAt, now) : '' }} · feedback is back</span
            >
          </div>
          <v-btn class="quiet" :to="to(card)">Read feedback</v-btn>
        </div>
      </template>
      <h2>Handed in</h2>
      <p v-if="isLoaded && groups.handedIn.length === 0" class="sheet empty">
        {{
          isFiltered
            ? 'Nothing handed in fits that.'
            : 'Nothing more has been handed in. It shows here with its receipt as soon as the course site has it.'
        }}
      </p>
      <div v-for="card in groups.handedIn" :key="card.id" class="sheet done">
        <ProofSign measured="open" planned="open" :proven="card.proven ?? 'open'" :size="20" />
        <div class="what">
          <strong>{{ card.title }}</strong><span class="note"
            >{{ card.courseTitle }} · received
            {{ card.handedInAt ? describePast(card.handedInAt, now) : '' }}</span
          >
        </div>
        <v-btn class="quiet" :to="to(card)">See receipt</v-btn>
      </div>
    </div>
    <div class="side">
      <MonthCalendar :cards="cards" :now="now" />
      <CalendarLinks />
      <section class="quick">
        <h2>Quick fit</h2>
        <p class="note">
          Drop any recording or photograph, paste what the teacher wrote, and get a file that fits.
        </p>
        <v-btn class="plain" :to="{ name: 'quick-fit' }">Choose a file</v-btn>
      </section>
    </div>
  </main>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 332px;
  gap: 26px;
  padding: 22px 28px 40px;
  max-width: 1360px;
  margin: 0 auto;
  width: 100%;
  align-items: start;
}
.list {
  display: grid;
  gap: 10px;
}
.top {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
}
.list h1 {
  font-size: 27px;
}
.list h2 {
  font-size: 16px;
  margin-top: 14px;
}
.reminder {
  border-left: 3px solid var(--madder);
  padding: 4px 0 4px 12px;
}
.band {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 16px;
  background: var(--saffron-soft);
  border: 1px solid var(--saffron-line);
  border-radius: 6px;
  padding: 12px 14px;
}
.loud {
  font: 700 17px var(--display);
  margin-right: 10px;
}
.filter {
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
  margin-top: 6px;
}
.filter input {
  flex: 0 1 220px;
  min-height: 40px;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--sheet);
  color: var(--ink);
  padding: 0 12px;
  font: inherit;
}
.courses {
  display: flex;
  gap: 4px;
  flex-wrap: wrap;
}
.courses button {
  min-height: 40px;
  padding: 0 12px;
  border-radius: 6px;
  color: var(--soft-ink);
  font-weight: 600;
}
.courses button.on {
  background: var(--ink);
  color: var(--paper);
}
.empty {
  padding: 16px;
  color: var(--soft-ink);
}
.empty button {
  text-decoration: underline;
  min-height: 32px;
}
.card {
  display: flex;
  gap: 16px;
  padding: 12px;
  text-decoration: none;
  align-items: center;
  content-visibility: auto;
  contain-intrinsic-size: auto 102px;
}
.card:hover {
  border-color: var(--ink);
}
.card img,
.blank {
  width: 132px;
  height: 76px;
  object-fit: cover;
  border-radius: 3px;
  flex: none;
  background: var(--track);
}
.blank {
  display: grid;
  place-items: center;
}
.what {
  display: grid;
  gap: 1px;
  flex: 1;
  min-width: 0;
}
.title {
  font: 700 17px var(--display);
  overflow-wrap: anywhere;
}
.time {
  width: 190px;
  flex: none;
  display: grid;
  gap: 5px;
}
.time.urgent strong {
  color: var(--madder);
}
.track {
  display: block;
  height: 6px;
  border-radius: 3px;
  background: var(--track);
  overflow: hidden;
}
.track span {
  display: block;
  height: 100%;
  background: var(--ink);
  border-radius: 3px;
}
.urgent .track span {
  background: var(--madder);
}
.done {
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 12px 14px;
  content-visibility: auto;
  contain-intrinsic-size: auto 66px;
}
.side {
  display: grid;
  gap: 16px;
}
.quick {
  border: 1px dashed var(--soft-ink);
  border-radius: 6px;
  padding: 20px;
  display: grid;
  gap: 10px;
  justify-items: center;
  text-align: center;
}
@media (max-width: 1000px) {
  .page {
    grid-template-columns: minmax(0, 1fr);
    padding: 16px 14px 40px;
  }
  .band {
    flex-direction: column;
    align-items: stretch;
  }
  .loud {
    display: block;
  }
  .filter input {
    flex: 1 1 100%;
  }
  .card {
    flex-wrap: wrap;
    gap: 10px 12px;
  }
  .card img,
  .blank {
    width: 84px;
    height: 60px;
  }
  .card .what {
    flex-basis: calc(100% - 100px);
  }
  .time {
    width: 100%;
  }
  .time .note {
    display: none;
  }
  .done {
    flex-wrap: wrap;
  }
}
</style>
