import { mount } from '@vue/test-utils';
import { expect, it } from 'vitest';
import ChangeSheet from './ChangeSheet.vue';

it('tells what was and what is, times as the person writes them, until it was seen', async () => {
  const sheet = mount(ChangeSheet, {
    props: {
      changes: [
        {
          at: '2026-11-26T09:00:00.000Z',
          changes: [
            { what: 'File size', before: 'at most 10 MB', after: 'at most 8 MB', as: 'words' },
            { what: 'Due', before: null, after: '2026-11-27T16:00:00.000Z', as: 'instant' },
            { what: 'The instructions have new words', before: null, after: null, as: 'words' },
          ],
        },
      ],
    },
    global: { stubs: { VBtn: { template: '<button><slot /></button>' } } },
  });
  const [size, due, words] = sheet.findAll('li').map((item) => item.text().replace(/\s+/g, ' '));
  expect(size).toBe('File size: at most 10 MB → at most 8 MB');
  expect(due).toMatch(/^Due: nothing → .*27.*/);
  expect(due).not.toContain('T16:00');
  expect(words).toBe('The instructions have new words');
  await sheet.get('button').trigger('click');
  expect(sheet.emitted('seen')).toHaveLength(1);
});
