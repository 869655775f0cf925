import { cleanDisplayName, PARTS, type Part, type TakeView } from '@apodix/core';
import { computed, onScopeDispose, ref, watch } from 'vue';
import { callRoute } from '../../../api/call-route.ts';
import { useWork } from '../../../stores/work.ts';
import { lookAlongTake, lookAtPhoto } from './look-along-take.ts';

/**
 * Looks along takes for what the limits want to see of the person, one after the other, while the page is
 * open; what was seen is kept with the take, and no take is looked at twice.
 */
export function useSeenTakes(isIdle: () => boolean) {
  const work = useWork();
  const running = ref<{ readonly takeId: string; readonly name: string; readonly share: number } | null>(
    null,
  );
  const cannot = ref(false);
  let stop: AbortController | null = null;
  const skipped = ref<ReadonlySet<string>>(new Set());
  let isHalted = false;

  const isAsked = computed(() => work.assignment?.limits.some((limit) => limit.kind === 'in-view') ?? false);
  const next = computed(() =>
    isAsked.value && !cannot.value && isIdle()
      ? (work.takes.find(
          (take) => isWanted(take) && take.facts?.seen === null && !skipped.value.has(take.id),
        ) ?? null)
      : null,
  );
  const isWanted = (take: TakeView) =>
    take.state === 'ready' && (take.kind === 'video' || take.kind === 'photo') && take.proxyUrl !== null;

  async function run(take: TakeView): Promise<void> {
    const own = (stop = new AbortController());
    isHalted = false;
    running.value = { takeId: take.id, name: cleanDisplayName(take.name, 40), share: 0 };
    const options = { url: take.proxyUrl ?? '', parts: [...PARTS] as Part[], signal: own.signal };
    try {
      const seen =
        take.kind === 'photo'
          ? await lookAtPhoto(options)
          : await lookAlongTake({
              ...options,
              onShare: (share) => {
                if (running.value) running.value = { ...running.value, share };
              },
            });
      await callRoute('writeSeen', { params: { takeId: take.id }, body: seen });
      await work.reload();
    } catch {
      if (!own.signal.aborted) cannot.value = true;
    } finally {
      // One that only made way for the camera is looked at again later.
      if (!isHalted) skipped.value = new Set([...skipped.value, take.id]);
      running.value = null;
      stop = null;
      begin();
    }
  }
  function begin(): void {
    if (next.value && !running.value) void run(next.value);
  }
  watch(() => next.value?.id, begin, { immediate: true });
  watch(isIdle, (isNow) => {
    if (isNow || !stop) return;
    isHalted = true;
    stop.abort();
  });
  onScopeDispose(() => stop?.abort());
  return {
    running,
    cannot,
    skip: () => stop?.abort(),
  };
}
