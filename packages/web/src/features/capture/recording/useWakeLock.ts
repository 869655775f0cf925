import { onScopeDispose, ref, watch } from 'vue';

/** Keeps the screen awake while `isOn`; says whether it could. */
export function useWakeLock(isOn: () => boolean) {
  const isHeld = ref(false);
  let lock: WakeLockSentinel | null = null;

  async function hold(): Promise<void> {
    if (!isOn() || lock || document.visibilityState !== 'visible') return;
    const next = await navigator.wakeLock?.request('screen').catch(() => null);
    if (!next) return;
    if (!isOn()) return void next.release();
    lock = next;
    isHeld.value = true;
    // The system lets it go when the page is hidden; it is asked for again when the page is back.
    next.addEventListener('release', () => {
      lock = null;
      isHeld.value = false;
    });
  }
  function letGo(): void {
    void lock?.release();
    lock = null;
    isHeld.value = false;
  }
  const onVisible = () => void hold();
  document.addEventListener('visibilitychange', onVisible);
  watch(isOn, (isNow) => (isNow ? void hold() : letGo()), { immediate: true });
  onScopeDispose(() => {
    document.removeEventListener('visibilitychange', onVisible);
    letGo();
  });
  return isHeld;
}
