import type { AssignmentCard } from '@apodix/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { callRoute } from '../../api/call-route.ts';
import { queryClient, queryKeys } from '../../api/query-client.ts';
import { describeDue } from '../../composables/describe-due.ts';
import { useNow } from '../../composables/useNow.ts';
import { filterCards, findReminders, groupToday, listCourses } from './today-groups.ts';

/** All assignments of the person, grouped as Today shows them, with what they are filtered by. */
export function useToday() {
  const now = useNow();
  const words = ref('');
  const course = ref('');
  const query = useQuery(
    { queryKey: queryKeys.today, queryFn: ({ signal }) => callRoute('readToday', { signal }) },
    queryClient,
  );
  const cards = computed<readonly AssignmentCard[]>(() => query.data.value?.assignments ?? []);
  const shown = computed(() => filterCards(cards.value, { words: words.value, course: course.value }));
  return {
    now,
    words,
    course,
    cards,
    courses: computed(() => listCourses(cards.value)),
    groups: computed(() => groupToday(shown.value)),
    reminders: computed(() => findReminders(cards.value, now.value)),
    isFiltered: computed(() => words.value.trim() !== '' || course.value !== ''),
    isLoaded: computed(() => query.data.value !== undefined),
    fault: computed(() => (query.isError.value && !query.data.value ? query.error.value : null)),
    readAgain: () => query.refetch(),
    describeDue: (card: AssignmentCard) => describeDue(card.dueAt, card.setAt, now.value),
    clear: () => {
      words.value = '';
      course.value = '';
    },
  };
}

/** Where the next step of a card is. */
export const findNextStop = (card: AssignmentCard) => ({
  name: card.nextStop,
  params: { assignmentId: card.id },
});
