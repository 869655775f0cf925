import type { DoubtfulWord } from '@apodix/core';
import { mount } from '@vue/test-utils';
import { expect, it } from 'vitest';
import PaperWords from './PaperWords.vue';

const TEXT = 'Hand in a vide0 of 2 minuts.\nNot over 4O MB.';
const word = (text: string): DoubtfulWord => {
  const start = TEXT.indexOf(text);
  return { start, end: start + text.length, text, confidence: 41 };
};
/** As the parent does: what is settled is doubtful no more. */
const open = (doubtful: readonly DoubtfulWord[]) =>
  mount(PaperWords, {
    attachTo: document.body,
    props: {
      text: TEXT,
      doubtful,
      onSettle: (settled: DoubtfulWord) => {
        doubtful = doubtful.filter((each) => each !== settled);
      },
    },
  });
type Opened = ReturnType<typeof open>;
const press = async (words: Opened, name: string) => {
  const found = words.findAll('button').find((button) => button.text() === name);
  if (!found) throw new Error(`There is no button "${name}".`);
  await found.trigger('click');
};
const readSelected = (words: Opened) => {
  const { value, selectionStart, selectionEnd } = words.get('textarea').element as HTMLTextAreaElement;
  return value.slice(selectionStart, selectionEnd);
};

it('marks doubtful words where they stand, and visits them in turn, the first again after the last', async () => {
  const words = open([word('4O'), word('vide0'), word('minuts')]);
  (words.get('textarea').element as HTMLTextAreaElement).setSelectionRange(0, 0);
  expect(words.findAll('mark').map((mark) => mark.text())).toEqual(['vide0', 'minuts', '4O']);
  expect(words.get('.behind').text()).toBe(TEXT);
  expect(words.get('.say').text()).toContain('3 words are doubtful');
  const visited = [];
  for (const name of ['Show the first', 'Next one', 'Next one', 'Next one']) {
    await press(words, name);
    visited.push(readSelected(words));
  }
  expect(visited).toEqual(['vide0', 'minuts', '4O', 'vide0']);
  words.unmount();
});

it('goes on to the next one when a word is said to be right', async () => {
  const doubtful = [word('vide0'), word('minuts')];
  const words = open(doubtful);
  (words.get('textarea').element as HTMLTextAreaElement).setSelectionRange(0, 0);
  await press(words, 'Show the first');
  await press(words, 'It is right');
  expect(words.emitted('settle')).toEqual([[doubtful[0]]]);
  expect(readSelected(words)).toBe('minuts');
  await words.setProps({ doubtful: doubtful.slice(1) });
  expect(words.get('.say').text()).toContain('1 word is doubtful');
  await words.setProps({ doubtful: [] });
  expect(words.findAll('button')).toEqual([]);
  expect(words.get('.say').text()).toBe('Compare with the picture, and correct what is wrong.');
  words.unmount();
});
