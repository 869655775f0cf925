import { expect, it } from 'vitest';
import { convertLocalToInstant, readLocalNow } from './local-now.ts';

it('a wall-clock time and its instant belong together, in winter and in summer', () => {
  for (const iso of ['2026-01-15T08:30:00.000Z', '2026-07-15T22:05:00.000Z']) {
    const local = readLocalNow(new Date(iso));
    expect(local).toMatch(/^\d{4}-\d\d-\d\dT\d\d:\d\d$/);
    expect(convertLocalToInstant(local)).toBe(iso);
  }
});
