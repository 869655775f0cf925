import { answerLimits, rereadLimits, type Limit } from '@apodix/core';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { describeDue } from '../../composables/describe-due.ts';
import { useKeys } from '../../keys/useKeys.ts';
import { useNow } from '../../composables/useNow.ts';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import { chooseAnswer } from './choose-answer.ts';
import { collectConflicts } from './collect-conflicts.ts';
import { readLocalNow } from '../../composables/local-now.ts';
import { readHere } from './read-here.ts';
import { markText } from './mark-text.ts';
import { summarizeBrief } from './summarize-brief.ts';
import { useLimitEditor } from './useLimitEditor.ts';

/** The brief of the open assignment: its text, its limits, what can be done with both. */
export function useBrief() {
  const work = useWork();
  const notices = useNotices();
  const router = useRouter();
  const now = useNow();
  const view = computed(() => work.assignment);
  const draftText = ref<string | null>(null);
  const readText = (answers = view.value?.answers ?? {}) => readHere(view.value?.instructions ?? '', answers);
  const read = computed(() => {
    const found = readText();
    // What the course site announced as limits is not read out of words: there is nothing to settle.
    return view.value?.limitsFrom === 'course' ? { ...found, questions: [], trial: null } : found;
  });
  const parts = computed(() =>
    view.value ? markText(view.value.instructions, view.value.limits, read.value) : [],
  );
  const editor = useLimitEditor(
    () => view.value?.limits ?? [],
    (limits) => work.saveLimits(limits),
  );
  const facts = computed(() => {
    const each = view.value;
    if (!each) return '';
    const left = each.attemptsAllowed === null ? null : each.attemptsAllowed - each.attemptsUsed;
    return [
      each.courseTitle,
      each.subject,
      each.points === null ? '' : `${each.points} points`,
      left === null ? '' : `${left} ${left === 1 ? 'attempt' : 'attempts'} left`,
      each.isLateAllowed ? 'late work is taken' : each.kind === 'course' ? 'nothing is taken late' : '',
    ]
      .filter(Boolean)
      .join(' · ');
  });
  const tell = (doing: Promise<unknown>) => doing.catch(notices.tellFault);

  async function keepText(): Promise<void> {
    const text = draftText.value;
    if (text === null || !view.value) return;
    const answers = view.value.answers;
    const { limits } = readHere(text, answers);
    try {
      await work.saveLimits(rereadLimits(view.value.limits, limits), text);
      draftText.value = null;
      const count = `${limits.length} ${limits.length === 1 ? 'limit' : 'limits'}`;
      notices.add(`Read again: ${count} found.`, 'What you changed yourself stays as it is.');
    } catch (error) {
      notices.tellFault(error);
    }
  }
  /** Keeps which reading of doubtful words was chosen; null opens the question again. */
  async function settle(id: string, answer: 0 | 1 | null): Promise<void> {
    const before = view.value;
    if (!before) return;
    const answers = chooseAnswer(before.answers, id, answer);
    const limits = answerLimits(before.limits, readText().limits, readText(answers).limits);
    try {
      await work.saveLimits(limits, undefined, answers);
      notices.addWithUndo(answer === null ? 'It is open again.' : 'Kept as you chose.', () =>
        work.saveLimits(before.limits, undefined, before.answers),
      );
    } catch (error) {
      notices.tellFault(error);
    }
  }
  /** Takes one's own reading back; for a while it can be had again. */
  async function reset(): Promise<void> {
    const before = view.value;
    if (!before) return;
    try {
      await work.resetLimits();
      notices.addWithUndo('Your own reading is gone; the course’s counts.', () =>
        work.saveLimits(before.limits, before.instructions, before.answers),
      );
    } catch (error) {
      notices.tellFault(error);
    }
  }
  async function removeAll(): Promise<void> {
    try {
      await work.removeAssignment();
      await router.push({ name: 'today' });
    } catch (error) {
      notices.tellFault(error);
    }
  }
  const undo = () => tell(editor.undo());
  useKeys({ undo });

  return {
    view,
    draftText,
    parts,
    editor,
    facts,
    /** As the course site tells it, else as it was read. */
    rubric: computed(() => {
      const points = view.value?.limits.find((limit) => limit.kind === 'points');
      return view.value?.rubric.length ? view.value.rubric : points?.kind === 'points' ? points.rubric : [];
    }),
    questions: computed(() => read.value.questions),
    trial: computed(() => read.value.trial),
    settle,
    hasWishes: computed(() => parts.value.some((part) => part.isWish)),
    conflicts: computed(() =>
      view.value ? collectConflicts(read.value, view.value.limits, readLocalNow()) : [],
    ),
    summary: computed(() => (view.value ? summarizeBrief(view.value.limits, view.value.slots) : '')),
    due: computed(() => (view.value ? describeDue(view.value.dueAt, view.value.setAt, now.value) : null)),
    groups: computed(() =>
      (view.value?.dueByGroup ?? []).map((each) => ({
        ...each,
        words: describeDue(each.dueAt, null, now.value)?.when ?? '',
        isOwn: each.group === view.value?.group,
      })),
    ),
    change: (limits: Limit[], what: string) => tell(editor.change(limits, what)),
    undo,
    keepText,
    reset,
    removeAll,
    confirmChanges: () => tell(work.confirmChanges()),
  };
}
