import { rereadLimits, type Answers, type AssignmentCard, type Limit } from '@apodix/core';
import { computed, onMounted, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { callRoute } from '../../api/call-route.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import { useUploads } from '../../stores/uploads.ts';
import { chooseAnswer } from '../brief/choose-answer.ts';
import { collectConflicts } from '../brief/collect-conflicts.ts';
import { readLocalNow } from '../../composables/local-now.ts';
import { addWords } from '../paper/add-words.ts';
import { readHere } from '../brief/read-here.ts';

const MOST_EARLIER = 5;

/** What a file has to meet, in words and limits, and the file: without account or assignment. */
export function useQuickFit() {
  const session = useSession();
  const uploads = useUploads();
  const notices = useNotices();
  const router = useRouter();
  const asks = ref('');
  const limits = ref<Limit[]>([]);
  const earlier = ref<readonly AssignmentCard[]>([]);
  const isBusy = ref(false);
  const answers = ref<Answers>({});
  const read = computed(() => readHere(asks.value, answers.value));
  watch(read, (next) => (limits.value = rereadLimits(limits.value, next.limits)));

  onMounted(async () => {
    // What was fitted before is a convenience: without it the page is whole.
    const person = await session.read().catch(() => null);
    if (!person) return;
    const { assignments } = await callRoute('readToday').catch(() => ({ assignments: [] }));
    const quick = assignments.filter((card) => card.kind === 'quick');
    earlier.value = quick.reverse().slice(0, MOST_EARLIER);
  });

  async function begin(files: readonly File[]): Promise<void> {
    const [first] = files;
    if (!first || isBusy.value) return;
    isBusy.value = true;
    try {
      if (!session.person) await session.signInAsGuest();
      const { id } = await callRoute('createAssignment', {
        body: {
          kind: 'quick',
          title: first.name.slice(0, 160).trim() || 'A file',
          instructions: asks.value,
          limits: limits.value,
          answers: answers.value,
          dueAt: null,
        },
      });
      for (const file of files) uploads.add(id, file);
      await router.push({ name: 'takes', params: { assignmentId: id } });
    } catch (error) {
      notices.tellFault(error);
    } finally {
      isBusy.value = false;
    }
  }
  return {
    asks,
    limits,
    questions: computed(() => read.value.questions),
    trial: computed(() => read.value.trial),
    settle: (id: string, answer: 0 | 1 | null) => (answers.value = chooseAnswer(answers.value, id, answer)),
    add: (words: string) => (asks.value = addWords(asks.value, words)),
    earlier,
    conflicts: computed(() => collectConflicts(read.value, limits.value, readLocalNow())),
    notUnderstood: computed(() => read.value.notUnderstood.slice(0, 4)),
    begin,
  };
}
