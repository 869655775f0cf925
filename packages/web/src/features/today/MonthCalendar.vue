<script setup lang="ts">
import type { AssignmentCard } from '@apodix/core';
import { computed, ref } from 'vue';
import { findFirstDay, findLocale, listDayNames } from '../../composables/local-dates.ts';
import { buildMonth } from './today-groups.ts';

const props = defineProps<{ cards: readonly AssignmentCard[]; now: number }>();
const offset = ref(0);
const firstDay = findFirstDay();
const dayNames = listDayNames(firstDay);
const first = computed(() => {
  const today = new Date(props.now);
  return new Date(today.getFullYear(), today.getMonth() + offset.value, 1);
});
const title = computed(() =>
  new Intl.DateTimeFormat(findLocale(), {
    month: 'long',
    ...(first.value.getFullYear() === new Date(props.now).getFullYear() ? {} : { year: 'numeric' }),
  }).format(first.value),
);
const days = computed(() =>
  buildMonth(props.cards, first.value.getFullYear(), first.value.getMonth(), new Date(props.now), firstDay),
);
const words = { 'handed-in': 'handed in', 'to-make': 'to make', 'last-day': 'the last day' } as const;
</script>

<template>
  <section class="sheet month" aria-label="Month">
    <header>
      <h2>{{ title }}</h2>
      <div>
        <button type="button" aria-label="Month before" @click="offset -= 1">‹</button
        ><button type="button" aria-label="Month after" @click="offset += 1">›</button>
      </div>
    </header>
    <div class="grid figures">
      <span
        v-for="name in dayNames"
        :key="name.long"
        class="day-name"
        :title="name.long"
        aria-hidden="true"
        >{{ name.short }}</span
      >
      <span
        v-for="(day, index) in days"
        :key="index"
        class="day"
        :class="{ today: day?.isToday }"
        :title="day?.titles.join(', ')"
      >
        <template v-if="day"
          >{{ day.day
          }}<i v-if="day.mark" :class="day.mark"
            ><span class="unseen">{{ words[day.mark] }}: {{ day.titles.join(', ') }}</span></i
          ></template
        >
      </span>
    </div>
    <p class="note key">
      <span><i class="handed-in" /> handed in</span><span><i class="to-make" /> to make</span
      ><span><i class="last-day" /> today is the last day</span>
    </p>
  </section>
</template>

<style scoped>
.month {
  padding: 14px 16px;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
header h2 {
  font-size: 16px;
}
header button {
  width: 40px;
  height: 40px;
  font-size: 18px;
}
.grid {
  display: grid;
  grid-template-columns: repeat(7, 1fr);
  text-align: center;
}
.day-name {
  color: var(--soft-ink);
  font-size: 12.5px;
  padding: 6px 0;
}
.day {
  position: relative;
  padding: 4px 0 12px;
  min-height: 40px;
  border-radius: 4px;
}
.today {
  background: var(--ink);
  color: var(--paper);
  font-weight: 700;
}
i {
  display: inline-block;
  width: 8px;
  height: 8px;
}
.day i {
  position: absolute;
  left: 50%;
  bottom: 3px;
  margin-left: -4px;
}
i.handed-in {
  background: var(--met);
  border-radius: 50%;
}
i.to-make {
  border: 2px solid var(--saffron-line);
  border-radius: 50%;
}
i.last-day {
  background: var(--madder);
}
.today i.last-day {
  background: #f0897f;
}
.key {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  padding-top: 8px;
  font-size: 12.5px;
}
.key span {
  display: inline-flex;
  align-items: center;
  gap: 5px;
}
</style>
