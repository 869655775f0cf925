import { onScopeDispose, ref, type Ref } from 'vue';

/** The present instant in milliseconds, renewed every half minute. */
export function useNow(everyMs = 30_000): Ref<number> {
  const now = ref(Date.now());
  const timer = setInterval(() => (now.value = Date.now()), everyMs);
  onScopeDispose(() => clearInterval(timer));
  return now;
}
