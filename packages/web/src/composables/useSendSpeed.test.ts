import { nextTick } from 'vue';
import { beforeEach, describe, expect, it } from 'vitest';
import { keepMeasuredSpeed, useSendSpeed } from './useSendSpeed.ts';

beforeEach(() => localStorage.clear());

describe('the speed of sending', () => {
  it('is ten megabits where nothing is known', () =>
    expect(useSendSpeed()).toMatchObject({ megabits: { value: 10 }, measured: null }));

  it('is measured on uploads that are long enough: 12 MB in 4 s are 24 Mbit/s', () => {
    keepMeasuredSpeed(12_000_000, 4);
    expect(useSendSpeed().measured).toBe(24);
    keepMeasuredSpeed(20_000, 0.5);
    keepMeasuredSpeed(9_000_000, 0);
    expect(useSendSpeed().measured).toBe(24);
  });

  it('that a person typed is kept, and nonsense is not', async () => {
    const { megabits } = useSendSpeed();
    megabits.value = 3.5;
    await nextTick();
    expect(useSendSpeed().megabits.value).toBe(3.5);
    for (const nonsense of [0, -4, Number.NaN, Infinity]) {
      megabits.value = nonsense;
      await nextTick();
    }
    expect(useSendSpeed().megabits.value).toBe(3.5);
    localStorage.setItem('apodix.sendMegabits', 'fast');
    expect(useSendSpeed().megabits.value).toBe(10);
  });
});
