import { cleanDisplayName, readSoundSource, type RecipeSource, type TakeView } from '@apodix/core';
import { computed, ref, type ComputedRef } from 'vue';
import { useNotices } from '../../../stores/notices.ts';
import { useWork } from '../../../stores/work.ts';
import type { RecipeEditor } from '../useRecipeEditor.ts';

/** A separate, better recording of the sound: found by itself where it belongs, moved by hand, taken away. */
export function useSeparateRecording(editor: RecipeEditor, take: ComputedRef<TakeView | null>) {
  const work = useWork();
  const notices = useNotices();
  const isLaying = ref(false);
  const confidence = ref<number | null>(null);
  const source = computed(() => readSoundSource(editor.recipe.value));
  const others = computed(() =>
    work.takes.filter((each) => each.id !== take.value?.id && each.state === 'ready' && each.facts?.sound),
  );
  const set = (next: RecipeSource | null, isDragging = false) =>
    editor.change(
      {
        ...editor.recipe.value,
        // Spans name sources by their place: takes stay where they are, before the sound.
        sources: [
          ...editor.recipe.value.sources.filter((each) => each.role === 'take'),
          ...(next ? [next] : []),
        ],
      },
      isDragging,
    );
  async function lay(soundTakeId: string): Promise<void> {
    const own = take.value;
    if (!own) return;
    isLaying.value = true;
    confidence.value = null;
    try {
      const found = await work.alignTake(own.id, soundTakeId);
      confidence.value = found.confidence;
      if (!found.belongTogether)
        return notices.add('These do not belong together: no moment of one fits the other.', '', true);
      if (take.value?.id !== own.id) return;
      const driftPpm = Math.round(found.driftPpm * 10) / 10;
      set({ takeId: soundTakeId, role: 'sound', offsetUs: found.offsetUs, driftPpm });
    } catch (error) {
      notices.tellFault(error);
    } finally {
      isLaying.value = false;
    }
  }
  return {
    source,
    isLaying,
    confidence,
    choices: computed(() =>
      others.value.map((each) => ({ id: each.id, name: cleanDisplayName(each.name, 30), kind: each.kind })),
    ),
    lay,
    nudge: (ms: number) =>
      source.value && set({ ...source.value, offsetUs: source.value.offsetUs + Math.round(ms * 1000) }),
    setOwn: (ownDb: number | null, isDragging: boolean) =>
      editor.change({ ...editor.recipe.value, sound: { ...editor.recipe.value.sound, ownDb } }, isDragging),
    remove: () => {
      confidence.value = null;
      set(null);
    },
  };
}
