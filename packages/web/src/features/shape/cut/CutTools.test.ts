import { mount } from '@vue/test-utils';
import { expect, it } from 'vitest';
import CutTools from './CutTools.vue';

const part = (finishUs: number) => ({ source: 0, startUs: 0, finishUs });
const open = () =>
  mount(CutTools, {
    props: {
      parts: [part(7_000_000)],
      chosen: 0,
      isAll: false,
      oneTakeWords: null,
      overUs: 0,
      asked: 0,
      places: [],
      underUs: 0,
      isLooping: false,
      speed: 1,
      hasPicture: true,
      isTakingStill: false,
      isOwnPart: true,
      partNames: [null],
      joinable: [],
    },
    global: { stubs: { VBtn: { template: '<button><slot /></button>' } } },
  });
const readFinish = (tools: ReturnType<typeof open>) =>
  (tools.findAll('form input')[1]?.element as HTMLInputElement).value;

it('keeps what is being typed where the same part comes from the server anew', async () => {
  const tools = open();
  const field = tools.findAll('form input')[1];
  (field?.element as HTMLInputElement).value = '0:02';
  await field?.trigger('input');
  await tools.setProps({ parts: [part(7_000_000)] });
  expect(readFinish(tools)).toBe('0:02');
  await tools.get('form').trigger('submit');
  expect(tools.emitted('times')?.at(-1)).toEqual([0, 2_000_000]);
});

it('shows the times of a part that was moved', async () => {
  const tools = open();
  await tools.setProps({ parts: [part(3_000_000)] });
  expect(readFinish(tools)).toBe('0:03.00');
});
