import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, it, vi } from 'vitest';
import { effectScope } from 'vue';
import { useKeys } from './useKeys.ts';
import { useKeySettings } from './key-settings.ts';

beforeEach(() => {
  localStorage.clear();
  setActivePinia(createPinia());
});
const press = (key: string, options: KeyboardEventInit = {}) =>
  window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...options }));

it('keys do what they are for, until they are switched off; those with Control stay', () => {
  const settings = useKeySettings();
  const [start, undo] = [vi.fn(), vi.fn()];
  const scope = effectScope();
  scope.run(() => useKeys({ 'start-here': start, undo }));
  press('s');
  press('z', { ctrlKey: true });
  settings.setOn(false);
  press('s');
  press('z', { ctrlKey: true });
  expect([start.mock.calls.length, undo.mock.calls.length]).toEqual([1, 2]);
  scope.stop();
  settings.setOn(true);
  press('s');
  expect(start).toHaveBeenCalledTimes(1);
});

it('a key that is given to another action changes places with that action’s own, and is remembered', () => {
  const settings = useKeySettings();
  settings.change('start-here', 'f');
  expect([settings.actionOf('f'), settings.actionOf('s')]).toEqual(['start-here', 'finish-here']);
  setActivePinia(createPinia());
  expect([useKeySettings().actionOf('f'), useKeySettings().isChanged]).toEqual(['start-here', true]);
  useKeySettings().reset();
  expect(useKeySettings().actionOf('s')).toBe('start-here');
});

it('what is stored and cannot be read is the usual keys', () => {
  localStorage.setItem('apodix.keys', '{"isOn":"yes"}');
  expect([useKeySettings().isOn, useKeySettings().actionOf('?')]).toEqual([true, 'help']);
});
