import { describe, expect, it } from 'vitest';
import { RecentGrants } from './recent-grants.ts';

describe('RecentGrants', () => {
  const start = () => {
    const clock = { ms: 1000 };
    const recent = new RecentGrants(() => clock.ms);
    let asked = 0;
    const ask = (token = 'ann', path = '/a') =>
      recent.find(token, path, () => Promise.resolve({ person: null, asked: (asked += 1) } as never));
    return { clock, recent, ask, count: () => asked };
  };

  it('asks once for the parts of one file, and again once its time is over', async () => {
    const { clock, ask, count } = start();
    await ask();
    await ask();
    expect(count()).toBe(1);
    clock.ms += 3001;
    await ask();
    expect(count()).toBe(2);
  });

  it('never gives one the leave of another, nor for another file', async () => {
    const { ask, count } = start();
    await ask('ann', '/a');
    await ask('ben', '/a');
    await ask('ann', '/b');
    expect(count()).toBe(3);
  });

  it('forgets all of it once something may have changed', async () => {
    const { recent, ask, count } = start();
    await ask();
    recent.takeBack();
    await ask();
    expect(count()).toBe(2);
  });

  it('keeps no leave that was asked for before and given after something changed', async () => {
    const { recent, ask, count } = start();
    let give = () => undefined as void;
    const slow = recent.find('ann', '/a', async () => {
      await new Promise<void>((resolve) => (give = resolve));
      return { person: null };
    });
    recent.takeBack();
    give();
    await slow;
    await ask();
    expect(count()).toBe(1);
  });

  it('remembers no refusal', async () => {
    const recent = new RecentGrants();
    await expect(recent.find('ann', '/a', () => Promise.reject(new Error('no')))).rejects.toThrow('no');
    await expect(recent.find('ann', '/a', () => Promise.resolve({ person: null }))).resolves.toEqual({
      person: null,
    });
  });
});
