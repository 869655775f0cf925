import { computed, watch, type Ref } from 'vue';
import type { ToolGroup } from './tool-group.ts';
import type { useShape } from './useShape.ts';

/** The groups of tools that a take has; the one that is worked on is always among them. */
export function useToolGroups(shape: ReturnType<typeof useShape>, group: Ref<ToolGroup>) {
  const { take, isTimed, hasPicture, frame, sound, recording } = shape;
  const groups = computed<ToolGroup[]>(() => [
    ...(isTimed.value ? (['cut'] as const) : []),
    ...(hasPicture.value || frame.flat.isPossible.value ? (['frame', 'color'] as const) : []),
    ...(take.value?.facts?.photo ? (['about', 'check'] as const) : []),
    ...(sound.hasSound.value || recording.choices.value.length > 0 ? (['sound'] as const) : []),
  ]);
  watch(
    groups,
    ([first]) => {
      if (first && !groups.value.includes(group.value)) group.value = first;
    },
    { immediate: true },
  );
  return groups;
}
