const NUMBERS = [
  'Nothing',
  'One thing is',
  'Two things are',
  'Three things are',
  'Four things are',
  'Five things are',
];

/** `Two things are left: write who took part, and tick the statement of own work.` */
export function describeMissing(missing: readonly string[]): string {
  if (missing.length === 0) return 'Everything is here. One press is left.';
  const list =
    missing.length === 1 ? missing[0] : `${missing.slice(0, -1).join(', ')}, and ${missing.at(-1)}`;
  return `${NUMBERS[missing.length] ?? `${missing.length} things are`} left: ${list}.`;
}
