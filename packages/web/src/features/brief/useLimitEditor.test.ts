import { Limit } from '@apodix/core';
import { expect, it } from 'vitest';
import { useLimitEditor } from './useLimitEditor.ts';

const limit = (id: string) => Limit.parse({ id, kind: 'sharp' });

it('takes changes back step by step, and keeps nothing of a step that failed', async () => {
  let kept = [limit('a')];
  let isBroken = false;
  const editor = useLimitEditor(
    () => kept,
    (next) => {
      if (isBroken) return Promise.reject(new Error('offline'));
      kept = next;
      return Promise.resolve();
    },
  );
  await editor.change([limit('a'), limit('b')], 'Added: b');
  await editor.change([limit('b')], 'Removed: a');
  expect([kept.map((each) => each.id), editor.last.value]).toEqual([['b'], 'Removed: a']);
  isBroken = true;
  await expect(editor.change([], 'Removed: b')).rejects.toThrow('offline');
  expect(editor.last.value).toBe('Removed: a');
  isBroken = false;
  await editor.undo();
  await editor.undo();
  await editor.undo();
  expect([kept.map((each) => each.id), editor.canUndo.value]).toEqual([['a'], false]);
});
