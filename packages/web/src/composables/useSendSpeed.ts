import { ref, watch, type Ref } from 'vue';

const TYPED_KEY = 'apodix.sendMegabits';
const MEASURED_KEY = 'apodix.measuredMegabits';
/** A home line's usual way up. */
const USUAL_MEGABITS = 10;
const LEAST_MEASURED_BYTES = 1_000_000;

function read(key: string): number | null {
  const value = Number(localStorage.getItem(key));
  return Number.isFinite(value) && value > 0 ? value : null;
}

/**
 * The speed at which this person's line sends, in megabits a second: typed and kept, else measured while
 * bringing in, else what is usual.
 */
export function useSendSpeed(): { megabits: Ref<number>; measured: number | null } {
  const measured = read(MEASURED_KEY);
  const megabits = ref(read(TYPED_KEY) ?? USUAL_MEGABITS);
  watch(megabits, (value) => {
    if (Number.isFinite(value) && value > 0) localStorage.setItem(TYPED_KEY, String(value));
  });
  return { megabits, measured };
}

/** Keeps how fast an upload went; short ones say nothing. */
export function keepMeasuredSpeed(sentBytes: number, seconds: number): void {
  if (sentBytes >= LEAST_MEASURED_BYTES && seconds > 0.05)
    localStorage.setItem(MEASURED_KEY, String(Math.round((sentBytes * 8) / seconds / 1e5) / 10));
}
