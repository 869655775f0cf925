<script setup lang="ts">
import { computed } from 'vue';
import CannotReach from '../../components/CannotReach.vue';
import ShowMore from '../../components/ShowMore.vue';
import { formatDay } from '../../composables/local-dates.ts';
import { useGradually } from '../../composables/useGradually.ts';
import AppBar from '../../layout/AppBar.vue';
import CalendarLinks from './CalendarLinks.vue';
import DoneCard from './DoneCard.vue';
import MonthCalendar from './MonthCalendar.vue';
import TodayCard from './TodayCard.vue';
import TodayFilter from './TodayFilter.vue';
import { findNextStop, useToday } from './useToday.ts';

const { now, words, course, cards, courses, groups, reminders, ...today } = useToday();
const { isFiltered, isLoaded, fault, readAgain, describeDue, clear } = today;
const ready = useGradually(
  computed(() => groups.value.ready),
  3,
  12,
);
const toMake = useGradually(
  computed(() => groups.value.toMake),
  12,
);
const handedIn = useGradually(
  computed(() => groups.value.handedIn),
  12,
);
</script>

<template>
  <AppBar />
  <main id="main" class="page">
    <div class="list">
      <div class="top">
        <h1>{{ formatDay(now) }}</h1>
        <v-btn class="quiet" :to="{ name: 'new-assignment' }" height="40">Make my own assignment</v-btn>
      </div>
      <CannotReach v-if="fault" :fault="fault" @again="readAgain" />
      <p v-for="card in reminders" :key="`m${card.id}`" class="reminder" role="status">
        <strong>Due within a day:</strong>{{ ' ' }}
        <router-link :to="findNextStop(card)">{{ card.title }}</router-link>, {{ describeDue(card)?.left }}
        <span class="note">{{ describeDue(card)?.when }}</span>
      </p>
      <section v-for="card in ready.shown.value" :key="`r${card.id}`" class="band">
        <div>
          <strong class="loud">{{
            card.state === 'sending' ? 'On its way, not received yet' : 'Ready, but not handed in'
          }}</strong>
          <span>{{ card.title }}: {{ card.situation }}</span>
        </div>
        <v-btn class="go" :to="{ name: 'hand-in', params: { assignmentId: card.id } }" height="42"
          >Go to hand in</v-btn
        >
      </section>
      <ShowMore :rest="ready.rest.value" @more="ready.showMore" />
      <TodayFilter v-if="cards.length > 3" v-model:words="words" v-model:course="course" :courses="courses" />
      <template v-if="isLoaded">
        <h2>To make</h2>
        <p v-if="groups.toMake.length === 0" class="sheet empty">
          <template v-if="isFiltered"
            >Nothing to make fits that. <button type="button" @click="clear">Show all</button></template
          ><template v-else
            >Nothing is waiting. Fix a single file in
            <router-link :to="{ name: 'quick-fit' }">Quick fit</router-link>, or
            <router-link :to="{ name: 'new-assignment' }">make an assignment of your own</router-link
            >.</template
          >
        </p>
        <TodayCard v-for="card in toMake.shown.value" :key="card.id" :card="card" :due="describeDue(card)" />
        <ShowMore :rest="toMake.rest.value" is-by-itself @more="toMake.showMore" />
        <template v-if="groups.feedback.length">
          <h2>Feedback is back</h2>
          <DoneCard v-for="card in groups.feedback" :key="card.id" :card="card" :now="now" />
        </template>
        <h2>Handed in</h2>
        <p v-if="groups.handedIn.length === 0" class="sheet empty">
          {{
            isFiltered
              ? 'Nothing handed in fits that.'
              : 'Nothing more has been handed in. It shows here with its receipt as soon as the course site has it.'
          }}
        </p>
        <DoneCard v-for="card in handedIn.shown.value" :key="card.id" :card="card" :now="now" />
        <ShowMore :rest="handedIn.rest.value" is-by-itself @more="handedIn.showMore" />
      </template>
      <p v-else-if="!fault" class="note" aria-busy="true">Opening…</p>
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
.empty {
  padding: 16px;
  color: var(--soft-ink);
}
.empty button {
  text-decoration: underline;
  min-height: 40px;
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
}
</style>
