import { MOST_PAPER_BYTES, type DoubtfulWord, type PaperText } from '@apodix/core';
import { computed, onScopeDispose, ref, shallowRef } from 'vue';
import { CallError, callRoute } from '../../api/call-route.ts';
import { useSession } from '../../stores/session.ts';
import { shiftStretches } from './shift-words.ts';

/** A page of instructions on its way from a file to words that a person has looked over. */
export function usePaper() {
  const session = useSession();
  const isOpen = ref(false);
  const isReading = ref(false);
  const fault = ref<{ readonly message: string; readonly next: string } | null>(null);
  const paper = shallowRef<PaperText | null>(null);
  const text = ref('');
  const doubtful = shallowRef<readonly DoubtfulWord[]>([]);
  const page = ref(0);
  let running: AbortController | null = null;

  async function read(file: File): Promise<void> {
    running?.abort();
    const own = new AbortController();
    running = own;
    isOpen.value = true;
    isReading.value = false;
    fault.value = null;
    paper.value = null;
    if (file.size > MOST_PAPER_BYTES) {
      fault.value = {
        message: 'This file is larger than 20 MB.',
        next: 'Photograph the page again, or save fewer pages as a PDF.',
      };
      return;
    }
    isReading.value = true;
    try {
      if (!(await session.read())) await session.signInAsGuest();
      const dataBase64 = await readBase64(file);
      const found = await callRoute('readPaper', { body: { dataBase64 }, signal: own.signal });
      paper.value = found;
      text.value = found.text;
      doubtful.value = found.doubtful;
      page.value = 0;
    } catch (error) {
      if (!own.signal.aborted)
        fault.value =
          error instanceof CallError
            ? error.fault
            : { message: 'The file could not be read.', next: 'Choose it again.' };
    } finally {
      if (running === own) isReading.value = false;
    }
  }
  function edit(next: string): void {
    doubtful.value = shiftStretches(doubtful.value, text.value, next);
    text.value = next;
  }
  function close(): void {
    running?.abort();
    isReading.value = false;
    isOpen.value = false;
    paper.value = null;
    fault.value = null;
  }
  onScopeDispose(() => running?.abort());
  return {
    isOpen,
    isReading,
    fault,
    paper,
    text,
    doubtful,
    page,
    picture: computed(() => {
      const shown = paper.value?.pages[page.value];
      return shown === undefined ? null : `data:image/jpeg;base64,${shown}`;
    }),
    read,
    edit,
    settle: (word: DoubtfulWord) => (doubtful.value = doubtful.value.filter((each) => each !== word)),
    close,
  };
}

function readBase64(file: File): Promise<string> {
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve((reader.result as string).replace(/^[^,]*,/, ''));
    reader.onerror = () => reject(reader.error ?? new Error('The file could not be read.'));
    reader.readAsDataURL(file);
  });
}
