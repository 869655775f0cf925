import { readInstructions, type Question } from '@apodix/core';
import { mount } from '@vue/test-utils';
import { expect, it } from 'vitest';
import QuestionList from './QuestionList.vue';

const question = (id: string, answer: 0 | 1 | null, isCounted = false): Question => ({
  ...{ id, start: 0, end: 11, words: '12 February', asks: 'Is this when it is due?' },
  readings: [
    { label: 'Due 12 February', limit: null },
    { label: 'Not about what is handed in', limit: null },
  ],
  ...{ answer, isCounted },
});
const open = (questions: readonly Question[], more: { trial?: string; lit?: string } = {}) =>
  mount(QuestionList, { props: { questions, ...more } });

it('shows nothing where nothing can be read in two ways', () => {
  expect(open([]).text()).toBe('');
});

it('asks what is open, and gives back which reading was chosen and which words to light up', async () => {
  const list = open([question('a', null, true), question('b', null)], { lit: 'b' });
  expect(list.get('h2').text()).toBe('2 things to settle');
  const asks = list.findAll('.ask');
  expect(asks.map((ask) => ask.text().includes('Until then the first one counts'))).toEqual([true, false]);
  expect(asks.map((ask) => ask.classes('lit'))).toEqual([false, true]);
  const second = asks[1]?.findAll('button')[1];
  expect(second?.text()).toBe('Not about what is handed in');
  await second?.trigger('focus');
  await second?.trigger('click');
  await second?.trigger('blur');
  expect(list.emitted('answer')).toEqual([['b', 1]]);
  expect(list.emitted('light')).toEqual([['b'], [null]]);
});

it('lets what was chosen be chosen again', async () => {
  const list = open([question('a', 0)]);
  expect(list.find('h2').exists()).toBe(false);
  expect(list.get('.settled').text()).toContain('“12 February”: Due 12 February');
  await list.get('.settled button').trigger('click');
  expect(list.emitted('answer')).toEqual([['a', null]]);
});

it('says that a language is on trial', () => {
  expect(open([], { trial: 'Dutch' }).get('.trial').text()).toContain('Read as Dutch: this is a trial.');
});

it('asks about a real text with words of its own', () => {
  const text = 'Film the dress run, MP4. The small hall closes on 12 February.';
  const { questions } = readInstructions(text, { now: '2026-11-26T09:00', locale: 'en-GB', answers: {} });
  const list = open(questions);
  expect(list.findAll('.ask')).toHaveLength(1);
  expect(list.get('.ask .note').text()).toContain('12 February');
});
