import type { HandInView } from '@apodix/core';
import { mount } from '@vue/test-utils';
import { expect, it } from 'vitest';
import HandInBand from './HandInBand.vue';

const NOW = Date.parse('2026-11-26T16:00:00Z');
const build = (state: HandInView['state'], changes: Partial<HandInView> = {}): HandInView => ({
  id: 'h',
  attempt: 2,
  state,
  createdAt: '2026-11-26T15:00:00.000Z',
  receivedAt: '2026-11-26T15:00:00.000Z',
  receiptId: 'r-h',
  fault: null,
  note: null,
  feedback: null,
  ...changes,
});
const read = (standing: HandInView | null, changes: { isReceived?: boolean; isSending?: boolean } = {}) =>
  mount(HandInBand, {
    props: { standing, isReceived: false, isSending: false, missing: [], now: NOW, ...changes },
    global: { stubs: { RouterLink: { template: '<a><slot /></a>' } } },
  })
    .text()
    .replace(/\s+/g, ' ');

it.each([
  [null, {}, /^Not handed in yet\. Everything is here/],
  [build('not-handed-in'), {}, /^Not handed in yet\./],
  [build('on-its-way'), { isSending: true }, /^On its way\. Not received yet\.$/],
  [build('received'), { isReceived: true }, /^Handed in\. Received today .*, attempt 2\. See the receipt$/],
  [build('being-checked'), { isReceived: true }, /Your teacher is checking it\./],
  [build('accepted'), { isReceived: true }, /Your teacher has accepted it\./],
  [build('taken-back'), {}, /^You took it back\. It is not handed in\./],
  [
    build('by-hand', { receiptId: null, note: 'On paper.' }),
    { isReceived: true },
    /^Given by hand\. You noted: “On paper\.”\. There is no receipt for it\.$/,
  ],
] as const)('says of %j what is so, and nothing more', (standing, changes, words) => {
  const said = read(standing, changes);
  expect(said).toMatch(words);
  if (!('isReceived' in changes)) expect(said).not.toMatch(/Handed in\./);
});
