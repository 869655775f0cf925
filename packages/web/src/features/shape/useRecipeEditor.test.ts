import { createPlainRecipe, keepRange, type Recipe, type TakeView } from '@apodix/core';
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { computed, effectScope, shallowRef, type EffectScope } from 'vue';
import { CallError } from '../../api/call-route.ts';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import { useRecipeEditor } from './useRecipeEditor.ts';

const plain = createPlainRecipe();
const turned = (turnDegrees: Recipe['picture']['turnDegrees']): Recipe => ({
  ...plain,
  picture: { ...plain.picture, turnDegrees },
});
const buildTake = (id: string, version = 1) =>
  ({ id, recipe: { version, recipe: plain } }) as unknown as TakeView;

let scope: EffectScope;
const take = shallowRef<TakeView | null>(null);
const saves = vi.fn<(id: string, recipe: Recipe, version: number) => Promise<number>>();
beforeEach(() => {
  vi.useFakeTimers();
  setActivePinia(createPinia());
  scope = effectScope();
  take.value = buildTake('t');
  saves.mockReset();
  saves.mockImplementation((_id, _recipe, version) => Promise.resolve(version + 1));
  vi.spyOn(useWork(), 'saveRecipe').mockImplementation(saves);
});
afterEach(() => {
  scope.stop();
  vi.useRealTimers();
});
const start = () => {
  const editor = scope.run(() => useRecipeEditor(computed(() => take.value)));
  if (!editor) throw new TypeError('an editor was expected');
  return editor;
};

it('goes back and forth through every step, and forgets what was undone once something else is done', () => {
  const editor = start();
  editor.change(turned(90));
  editor.change(turned(180));
  editor.undo();
  expect([editor.recipe.value.picture.turnDegrees, editor.canUndo.value, editor.canRedo.value]).toEqual([
    90,
    true,
    true,
  ]);
  editor.redo();
  expect(editor.recipe.value.picture.turnDegrees).toBe(180);
  editor.undo();
  editor.change(turned(270));
  expect(editor.canRedo.value).toBe(false);
  editor.undo();
  editor.undo();
  editor.undo();
  expect([editor.recipe.value, editor.canUndo.value]).toEqual([plain, false]);
});

it('a drag is one step, however many changes it makes', () => {
  const editor = start();
  for (let startUs = 0; startUs < 50; startUs += 1)
    editor.change(keepRange(plain, { startUs, finishUs: 1000 }), true);
  editor.undo();
  expect([editor.recipe.value, editor.canUndo.value]).toEqual([plain, false]);
});

it('saves once a run of changes has settled, on the version that it began from', async () => {
  const editor = start();
  editor.change(turned(90));
  await vi.advanceTimersByTimeAsync(300);
  editor.change(turned(180));
  expect(saves).not.toHaveBeenCalled();
  await vi.advanceTimersByTimeAsync(700);
  expect(saves.mock.calls).toEqual([['t', turned(180), 1]]);
  editor.change(turned(270));
  await vi.advanceTimersByTimeAsync(700);
  expect(saves.mock.calls[1]).toEqual(['t', turned(270), 2]);
  expect(editor.isSaved.value).toBe(true);
});

it('a step back while the step is being kept is kept too, and not told as kept before', async () => {
  let finish: (version: number) => void = () => undefined;
  saves.mockImplementationOnce(() => new Promise((resolve) => (finish = resolve)));
  const editor = start();
  editor.change(turned(90));
  await vi.advanceTimersByTimeAsync(700);
  editor.undo();
  expect(editor.isSaved.value).toBe(false);
  take.value = { ...buildTake('t', 2), recipe: { version: 2, recipe: turned(90) } } as TakeView;
  await vi.advanceTimersByTimeAsync(0);
  expect(editor.recipe.value).toEqual(plain);
  finish(2);
  await vi.runAllTimersAsync();
  expect(saves.mock.calls.map(([, recipe, version]) => [recipe.picture.turnDegrees, version])).toEqual([
    [90, 1],
    [0, 2],
  ]);
  expect(editor.isSaved.value).toBe(true);
});

it('saves at once where the page is left', async () => {
  const editor = start();
  editor.change(turned(90));
  scope.stop();
  await vi.advanceTimersByTimeAsync(0);
  expect(saves).toHaveBeenCalledTimes(1);
});

it('keeps what was not saved, and tells of it', async () => {
  const editor = start();
  saves.mockRejectedValueOnce(
    new CallError({ code: 'UNREACHABLE', message: 'Apodix cannot be reached just now.', next: 'Try again.' }),
  );
  editor.change(turned(90));
  await vi.advanceTimersByTimeAsync(700);
  expect([editor.recipe.value.picture.turnDegrees, editor.isSaved.value]).toEqual([90, false]);
  expect(useNotices().shown.map((notice) => notice.isFault)).toEqual([true]);
  await editor.save();
  expect(editor.isSaved.value).toBe(true);
});

it('another take begins with its own recipe and nothing to undo', async () => {
  const editor = start();
  editor.change(turned(90));
  take.value = { ...buildTake('u'), recipe: { version: 4, recipe: turned(180) } };
  await vi.advanceTimersByTimeAsync(0);
  expect([editor.recipe.value.picture.turnDegrees, editor.canUndo.value]).toEqual([180, false]);
});

it('two drags are two steps, even where each ends with what it already showed', () => {
  const editor = start();
  editor.change(turned(90), true);
  editor.change(turned(180), true);
  editor.change(turned(180));
  editor.change(turned(270), true);
  editor.change(turned(270));
  editor.undo();
  expect(editor.recipe.value.picture.turnDegrees).toBe(180);
  editor.undo();
  expect([editor.recipe.value.picture.turnDegrees, editor.canUndo.value]).toEqual([0, false]);
});

describe('with two takes', () => {
  it('keeps what was edited under its own take and version, however soon another one is on screen', async () => {
    const editor = start();
    editor.change(turned(90));
    take.value = buildTake('other', 7);
    await vi.runAllTimersAsync();
    editor.change(turned(180));
    await vi.runAllTimersAsync();
    expect(
      saves.mock.calls.map(([id, recipe, version]) => [id, recipe.picture.turnDegrees, version]),
    ).toEqual([
      ['t', 90, 1],
      ['other', 180, 7],
    ]);
    expect(editor.isSaved.value).toBe(true);
  });

  it('a save that ends late marks its own take alone', async () => {
    let finish: (version: number) => void = () => undefined;
    saves.mockImplementationOnce(() => new Promise((resolve) => (finish = resolve)));
    const editor = start();
    editor.change(turned(90));
    take.value = buildTake('other', 7);
    editor.change(turned(180));
    finish(2);
    await Promise.resolve();
    expect(editor.isSaved.value).toBe(false);
    take.value = buildTake('t', 2);
    expect([editor.recipe.value.picture.turnDegrees, editor.canUndo.value]).toEqual([90, true]);
    await vi.runAllTimersAsync();
    expect(saves.mock.calls.map(([id, , version]) => [id, version])).toEqual([
      ['t', 1],
      ['other', 7],
    ]);
  });
});

it('says where keeping failed, so that nothing goes on with what was before', async () => {
  saves.mockRejectedValueOnce(new CallError({ code: 'UNREACHABLE', message: 'Away.', next: '' }));
  const editor = start();
  editor.change(turned(90));
  expect(await editor.save()).toBe(false);
  expect([editor.isSaved.value, useNotices().shown.map(({ message }) => message)]).toEqual([
    false,
    ['Away.'],
  ]);
  expect(await editor.save()).toBe(true);
  expect(editor.isSaved.value).toBe(true);
});

it('takes over what was kept elsewhere, unless something is open here', async () => {
  const editor = start();
  take.value = { ...buildTake('t', 5), recipe: { version: 5, recipe: turned(90) } } as TakeView;
  await vi.runAllTimersAsync();
  expect([editor.recipe.value.picture.turnDegrees, editor.isSaved.value]).toEqual([90, true]);
  editor.undo();
  expect(editor.recipe.value).toEqual(plain);
  take.value = { ...buildTake('t', 6), recipe: { version: 6, recipe: turned(270) } } as TakeView;
  expect(editor.recipe.value).toEqual(plain);
});

it('changed in another window too: asks which holds, and undo brings back what was here', async () => {
  const editor = start();
  const work = useWork();
  const theirs = { ...buildTake('t', 9), recipe: { version: 9, recipe: turned(270) } } as TakeView;
  vi.spyOn(work, 'reload').mockResolvedValue();
  vi.spyOn(work, 'takes', 'get').mockReturnValue([theirs]);
  saves.mockRejectedValueOnce(new CallError({ code: 'CHANGED_MEANWHILE', message: 'Changed.', next: '' }));
  editor.change(turned(90));
  expect(await editor.save()).toBe(false);
  expect(editor.recipe.value.picture.turnDegrees).toBe(90);
  const [notice] = useNotices().shown;
  if (!notice) throw new Error('It is told.');
  expect([notice.message, notice.action?.label]).toEqual([
    'This take was shaped in another window too.',
    'Take the other version',
  ]);
  await useNotices().act(notice);
  expect(editor.recipe.value.picture.turnDegrees).toBe(270);
  editor.undo();
  expect(editor.recipe.value.picture.turnDegrees).toBe(90);
  await vi.runAllTimersAsync();
  expect(saves.mock.calls.at(-1)?.slice(1)).toEqual([turned(90), 9]);
});
