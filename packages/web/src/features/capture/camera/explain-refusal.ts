export type CameraState = 'off' | 'asking' | 'on' | 'denied' | 'none' | 'taken' | 'insecure' | 'failed';

/** What became of asking for a camera, by the name of the browser's error. */
export function readRefusal(error: unknown): CameraState {
  const name = error instanceof DOMException || error instanceof Error ? error.name : '';
  if (name === 'NotAllowedError' || name === 'SecurityError') return 'denied';
  if (name === 'NotFoundError' || name === 'OverconstrainedError') return 'none';
  return name === 'NotReadableError' || name === 'AbortError' ? 'taken' : 'failed';
}

export interface Refusal {
  readonly title: string;
  readonly what: string;
}

const WORDS: Readonly<Record<Exclude<CameraState, 'off' | 'asking' | 'on'>, Refusal>> = {
  denied: {
    title: 'The camera is not allowed yet',
    what: 'Press the sign beside the address at the top of the window, allow camera and microphone for this page, then try again.',
  },
  none: {
    title: 'No camera is found',
    what: 'Plug one in, or send the recording from a phone.',
  },
  taken: {
    title: 'The camera is busy',
    what: 'Another program uses it. Close that, then try again.',
  },
  insecure: {
    title: 'This browser gives no camera here',
    what: 'It does so only over https or on the computer itself. Use the phone’s own camera, or bring in a file.',
  },
  failed: {
    title: 'The camera did not start',
    what: 'Try again, or choose another camera.',
  },
};

export const explainRefusal = (state: CameraState): Refusal | null =>
  state === 'off' || state === 'asking' || state === 'on' ? null : WORDS[state];
