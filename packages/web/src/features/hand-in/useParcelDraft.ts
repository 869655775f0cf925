import type { AssignmentView, ParcelInput } from '@apodix/core';
import { computed, onScopeDispose, reactive, ref, watch, type ComputedRef } from 'vue';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';

const SAVE_AFTER_MS = 500;

export interface ParcelDraft {
  /** Note, who took part and own work, as they are being written. */
  readonly text: ParcelInput['text'];
  /** What is being written in slots for words, by slot. */
  readonly answers: Record<string, string>;
  readonly parcel: ComputedRef<ParcelInput>;
  readonly isSaved: ComputedRef<boolean>;
  /** Saves once the writing pauses. */
  saveSoon(): void;
  /** Saves now, with other items where some are given. Gives whether it is kept. */
  save(items?: ParcelInput['items']): Promise<boolean>;
}

/**
 * The parcel as it is being filled: what is typed is kept by itself, under the assignment that it was typed
 * for, whichever is open by then.
 */
export function useParcelDraft(view: ComputedRef<AssignmentView | null>): ParcelDraft {
  const work = useWork();
  const notices = useNotices();
  const text = reactive({ note: '', participants: '', isOwnWork: false });
  const answers = reactive<Record<string, string>>({});
  const unsaved = ref(0);
  let loadedFor: string | null = null;
  let timer: ReturnType<typeof setTimeout> | null = null;

  watch(
    view,
    (next) => {
      if (!next || loadedFor === next.id) return;
      if (timer) void save();
      loadedFor = next.id;
      Object.assign(text, next.parcel.text);
      for (const slotId of Object.keys(answers)) delete answers[slotId];
      for (const answer of next.parcel.answers) answers[answer.slotId] = answer.text;
    },
    { immediate: true, flush: 'sync' },
  );

  const build = (items = view.value?.parcel.items ?? []): ParcelInput => ({
    text: { ...text },
    items,
    answers: Object.entries(answers).map(([slotId, words]) => ({ slotId, text: words })),
  });
  function saveSoon(): void {
    unsaved.value += 1;
    if (timer) clearTimeout(timer);
    timer = setTimeout(() => void save(), SAVE_AFTER_MS);
  }
  async function save(items?: ParcelInput['items']): Promise<boolean> {
    if (timer) clearTimeout(timer);
    timer = null;
    if (loadedFor === null) return true;
    const written = unsaved.value;
    try {
      await work.saveParcel(build(items), loadedFor);
      if (unsaved.value === written) unsaved.value = 0;
      return true;
    } catch (error) {
      notices.tellFault(error);
      return false;
    }
  }
  onScopeDispose(() => {
    if (timer) void save();
  });
  return {
    text,
    answers,
    parcel: computed(() => build()),
    isSaved: computed(() => unsaved.value === 0),
    saveSoon,
    save,
  };
}
