import { mount } from '@vue/test-utils';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { defineComponent, nextTick } from 'vue';
import { divideSentences } from './divide-sentences.ts';
import { useReadAloud, type ReadAloud } from './useReadAloud.ts';

/** The browser's voice as a list of what it was asked to say. */
class FakeUtterance {
  rate = 1;
  lang = '';
  onend: (() => void) | null = null;
  onerror: (() => void) | null = null;
  readonly text: string;
  constructor(text: string) {
    this.text = text;
  }
}
const spoken: FakeUtterance[] = [];
const cancel = vi.fn();
beforeEach(() => {
  spoken.length = 0;
  cancel.mockClear();
  vi.stubGlobal('speechSynthesis', { speak: (utterance: FakeUtterance) => spoken.push(utterance), cancel });
  vi.stubGlobal('SpeechSynthesisUtterance', FakeUtterance);
});

function open(): { voice: ReadAloud; unmount: () => void } {
  let voice: ReadAloud | null = null;
  const wrapper = mount(defineComponent({ setup: () => ((voice = useReadAloud()), () => null) }));
  if (!voice) throw new TypeError('a voice was expected');
  return { voice, unmount: () => wrapper.unmount() };
}

describe('useReadAloud', () => {
  it('says one sentence after the other and tells which', async () => {
    const { voice } = open();
    voice.start('One take. No edits!');
    expect([spoken[0]?.text, voice.current.value?.text]).toEqual(['One take.', 'One take.']);
    spoken[0]?.onend?.();
    await nextTick();
    expect(voice.current.value).toEqual({ start: 10, end: 19, text: 'No edits!' });
    spoken[1]?.onend?.();
    expect(voice.isSpeaking.value).toBe(false);
  });

  it('begins the sentence anew at another speed, and the old one ends nothing', () => {
    const { voice } = open();
    voice.start('One take. No edits!');
    voice.setSpeed(1.4);
    expect([spoken.length, spoken[1]?.text, spoken[1]?.rate]).toEqual([2, 'One take.', 1.4]);
    spoken[0]?.onend?.();
    expect(voice.current.value?.text).toBe('One take.');
  });

  it('stops, and stops when the page is left', () => {
    const { voice, unmount } = open();
    voice.start('One take.');
    voice.stop();
    expect([voice.isSpeaking.value, cancel.mock.calls.length > 0]).toEqual([false, true]);
    cancel.mockClear();
    unmount();
    expect(cancel).toHaveBeenCalled();
  });
});

it('divides sentences with their places', () => {
  const text = 'Be on time.\n\n  At most 2.5 MB, please. ';
  for (const sentence of divideSentences(text))
    expect(text.slice(sentence.start, sentence.end)).toBe(sentence.text);
  expect(divideSentences(text).map((sentence) => sentence.text)).toEqual([
    'Be on time.',
    'At most 2.5 MB, please.',
  ]);
});
