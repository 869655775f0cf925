import { mount } from '@vue/test-utils';
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import App from './App.vue';
import { useNotices } from './stores/notices.ts';

beforeEach(() => {
  vi.useFakeTimers();
  setActivePinia(createPinia());
});
afterEach(() => vi.useRealTimers());
const open = () =>
  mount(App, { global: { stubs: { VApp: { template: '<div><slot /></div>' }, RouterView: true } } });

it('offers to undo, and stays as long as somebody is on it', async () => {
  const app = open();
  const undo = vi.fn(() => Promise.resolve());
  useNotices().addWithUndo('Take one is removed.', undo);
  await vi.advanceTimersByTimeAsync(0);
  const notice = app.get('.notice');
  expect(notice.text()).toMatch(/Take one is removed\. It can be brought back until tomorrow\./);
  await notice.trigger('focusin');
  await vi.advanceTimersByTimeAsync(120_000);
  expect(app.findAll('.notice')).toHaveLength(1);
  await app.get('.act').trigger('click');
  expect([undo.mock.calls.length, app.findAll('.notice').length]).toEqual([1, 0]);
});

it('a fault is marked as one, and goes when it is closed', async () => {
  const app = open();
  useNotices().add('It failed.', 'Try again.', true);
  await vi.advanceTimersByTimeAsync(3_600_000);
  expect(app.get('.notice').classes()).toContain('fault');
  await app.get('.notice button').trigger('click');
  expect(app.findAll('.notice')).toHaveLength(0);
});
