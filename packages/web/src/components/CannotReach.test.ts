import { mount } from '@vue/test-utils';
import { expect, it } from 'vitest';
import { CallError } from '../api/call-route.ts';
import CannotReach from './CannotReach.vue';

const open = (fault: unknown) =>
  mount(CannotReach, {
    props: { fault },
    global: { stubs: { VBtn: { template: '<button><slot /></button>' } } },
  });

it('says what the call told, and asks again when it is told to', async () => {
  const away = open(new CallError({ code: 'UNREACHABLE', message: 'Away.', next: 'Check the connection.' }));
  expect(away.text()).toMatch(/^Away\.\s*Check the connection\./);
  await away.get('button').trigger('click');
  expect(away.emitted('again')).toHaveLength(1);
});
it('says something of whatever else went wrong', () =>
  expect(open(new TypeError('x')).text()).toMatch(/could not be read/));
