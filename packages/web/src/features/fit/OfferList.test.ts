import type { Offer } from '@apodix/core';
import { mount } from '@vue/test-utils';
import { expect, it } from 'vitest';
import OfferList from './OfferList.vue';

const choices = [
  null,
  { lines: 720, rateDivisor: 1, maxBytes: null, soundBps: null },
  { lines: 480, rateDivisor: 1, maxBytes: null, soundBps: null },
] as const;
const offers = choices.map((choice, index) => ({
  id: `offer-${index}`,
  title: `Offer ${index}`,
  why: 'Because.',
  choice,
  plan: {
    sound: null,
    method: 'code',
    cut: { widthPx: 1280, heightPx: 720, frameCount: 30, frameRate: { numerator: 30, denominator: 1 } },
    prediction: { bytes: 1_000_000, ssim: null },
  },
})) as unknown as Offer[];

const open = (choice: Offer['choice'], isDisabled = false) =>
  mount(OfferList, {
    props: { offers, choice, samples: null, megabits: 10, isDisabled },
    attachTo: document.body,
  });

it('is one stop for Tab, at the chosen one', () => {
  const list = open(choices[1]);
  expect(list.findAll('[role=radio]').map((radio) => radio.attributes('tabindex'))).toEqual([
    '-1',
    '0',
    '-1',
  ]);
  expect(list.findAll('[aria-checked=true]').map((radio) => radio.text())).toEqual([
    expect.stringContaining('Offer 1'),
  ]);
});

it('arrow keys choose the next one, around the ends, and go there', async () => {
  const list = open(choices[2]);
  const [first, , last] = list.findAll('[role=radio]');
  await last?.trigger('keydown', { key: 'ArrowDown' });
  expect([list.emitted('choose')?.at(-1), document.activeElement]).toEqual([[null], first?.element]);
  await first?.trigger('keydown', { key: 'End' });
  expect(list.emitted('choose')?.at(-1)).toEqual([choices[2]]);
});

it('other keys, and keys while a file is being made, choose nothing', async () => {
  const list = open(null);
  await list.get('[role=radio]').trigger('keydown', { key: 'a' });
  const busy = open(null, true);
  await busy.get('[role=radio]').trigger('keydown', { key: 'ArrowDown' });
  expect([list.emitted('choose'), busy.emitted('choose')]).toEqual([undefined, undefined]);
});
