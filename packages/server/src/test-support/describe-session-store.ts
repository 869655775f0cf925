import { expect, it } from 'vitest';
import type { SessionStore } from '../sessions/session-store.ts';

/** What every adapter of `SessionStore` has to do. `ann` and `bob` are people that it may start one for. */
export function describeSessionStore(open: () => SessionStore): void {
  it('knows its person until it is ended', async () => {
    const store = open();
    const [ann, bob] = [await store.start('ann', 1), await store.start('bob', 1)];
    expect([await store.find(ann), await store.find(bob)]).toEqual(['ann', 'bob']);
    await store.end(ann);
    await store.end(ann);
    expect([await store.find(ann), await store.find(bob)]).toEqual([null, 'bob']);
    expect([await store.hasAny('ann'), await store.hasAny('bob')]).toEqual([false, true]);
  });

  it('runs out', async () => {
    const store = open();
    const token = await store.start('ann', 0.2 / 3600);
    expect(await store.find(token)).toBe('ann');
    await expect.poll(() => store.find(token), { timeout: 5000 }).toBeNull();
    expect(await store.hasAny('ann')).toBe(false);
    const kept = await store.start('ann', 1);
    expect(await store.removeExpired(new Date())).toBe(1);
    expect(await store.find(kept)).toBe('ann');
  });

  it('gives no token twice, and knows none that it did not give', async () => {
    const store = open();
    const tokens = await Promise.all(Array.from({ length: 50 }, () => store.start('ann', 1)));
    expect(new Set(tokens).size).toBe(50);
    expect(Math.min(...tokens.map((token) => token.length))).toBeGreaterThanOrEqual(40);
    expect([await store.find('A'.repeat(43)), await store.find('')]).toEqual([null, null]);
  });
}
