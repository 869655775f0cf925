import { expect, it } from 'vitest';
import { settleAll } from './settle-all.ts';

it('gives all results in order', async () => {
  expect(await settleAll([Promise.resolve(1), Promise.resolve('two'), null])).toEqual([1, 'two', null]);
});

it('waits for the others before it throws', async () => {
  let isDone = false;
  const slow = new Promise((resolve) => setTimeout(resolve, 30)).then(() => (isDone = true));
  await expect(settleAll([Promise.reject(new Error('first')), slow])).rejects.toThrow('first');
  expect(isDone).toBe(true);
});
