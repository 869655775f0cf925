import { computed, onScopeDispose, ref, type ComputedRef, type Ref } from 'vue';
import { divideSentences, type SpokenSentence } from './divide-sentences.ts';

export interface ReadAloud {
  readonly isThere: boolean;
  readonly isSpeaking: Ref<boolean>;
  /** The sentence being spoken. */
  readonly current: ComputedRef<SpokenSentence | null>;
  readonly speed: Ref<number>;
  start(text: string): void;
  stop(): void;
  setSpeed(speed: number): void;
}

/**
 * Reads a text aloud sentence by sentence with the browser's own voice. A change of speed begins the sentence
 * anew.
 */
export function useReadAloud(): ReadAloud {
  const synthesis = 'speechSynthesis' in window ? window.speechSynthesis : null;
  const sentences = ref<SpokenSentence[]>([]);
  const index = ref(-1);
  const speed = ref(1);
  const isSpeaking = computed(() => index.value >= 0);
  let turn = 0;

  function speak(at: number): void {
    const sentence = sentences.value[at];
    turn += 1;
    const mine = turn;
    synthesis?.cancel();
    if (!sentence || !synthesis) {
      index.value = -1;
      return;
    }
    index.value = at;
    const utterance = new SpeechSynthesisUtterance(sentence.text);
    utterance.rate = speed.value;
    utterance.lang = findOwnEnglish();
    utterance.onend = () => {
      if (mine === turn) speak(at + 1);
    };
    utterance.onerror = () => {
      if (mine === turn) index.value = -1;
    };
    synthesis.speak(utterance);
  }
  function start(text: string): void {
    sentences.value = divideSentences(text);
    speak(0);
  }
  function stop(): void {
    turn += 1;
    synthesis?.cancel();
    index.value = -1;
  }
  function setSpeed(next: number): void {
    speed.value = next;
    if (index.value >= 0) speak(index.value);
  }
  onScopeDispose(stop);
  return {
    isThere: synthesis !== null,
    isSpeaking: isSpeaking as unknown as Ref<boolean>,
    current: computed(() => sentences.value[index.value] ?? null),
    speed,
    start,
    stop,
    setSpeed,
  };
}

/** The English of the person's own region; the browser takes the voice that was chosen for it there. */
export function findOwnEnglish(languages: readonly string[] = navigator.languages): string {
  return languages.find((language) => /^en\b/i.test(language)) ?? 'en';
}
