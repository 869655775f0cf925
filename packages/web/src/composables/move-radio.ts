const STEPS: Readonly<Record<string, number>> = {
  ArrowDown: 1,
  ArrowRight: 1,
  ArrowUp: -1,
  ArrowLeft: -1,
};

/**
 * Which of so many radios an arrow key goes to from the given one, around both ends (WAI-ARIA practices,
 * radio group); null where the key is none of them.
 */
export function moveRadio(key: string, from: number, count: number): number | null {
  if (count === 0) return null;
  if (key === 'Home') return 0;
  if (key === 'End') return count - 1;
  const step = STEPS[key];
  return step === undefined ? null : (from + step + count) % count;
}
