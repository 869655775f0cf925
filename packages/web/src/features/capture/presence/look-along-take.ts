import { buildSeen, type Look, type Part, type Seen } from '@apodix/core';
import { LOOK_EDGE, takeFrame } from '../reading/take-frame.ts';
import { PresenceFinder } from './presence-finder.ts';

/** Time between looks along a finished take. */
const STEP_S = 0.5;
const MOST_LOOKS = 2400;
const SEEK_MS = 8000;
const PHOTO_EDGE = 1280;

export interface LookAlongOptions {
  readonly url: string;
  readonly parts: readonly Part[];
  readonly signal: AbortSignal;
  readonly onShare: (share: number) => void;
}

/**
 * Looks at a finished take from its start to its end, twice a second (every so often more rarely where it is
 * longer than twenty minutes); gives what was seen as letters. Rejects where this machine cannot look.
 */
export async function lookAlongTake({ url, parts, signal, onShare }: LookAlongOptions): Promise<Seen> {
  const video = document.createElement('video');
  Object.assign(video, { src: url, muted: true, playsInline: true, preload: 'auto' });
  const finder = new PresenceFinder();
  try {
    await Promise.all([waitFor(video, 'loadeddata', signal), finder.open(parts)]);
    const step = Math.max(STEP_S, video.duration / MOST_LOOKS);
    const looks: Look[] = [];
    for (let at = step / 2; at < video.duration || looks.length === 0; at += step) {
      signal.throwIfAborted();
      video.currentTime = Math.min(at, Math.max(0, video.duration - 0.05));
      await waitFor(video, 'seeked', signal);
      const frame = await takeFrame(video);
      looks.push(frame ? await finder.look(frame, LOOK_EDGE) : { faces: [], hands: [], body: null });
      onShare(Math.min(1, at / video.duration));
    }
    return buildSeen(looks, (step / 2) * 1e6, step * 1e6);
  } finally {
    finder.end();
    video.removeAttribute('src');
    video.load();
  }
}

/** The same for a photograph: one look. */
export async function lookAtPhoto({ url, parts, signal }: Omit<LookAlongOptions, 'onShare'>): Promise<Seen> {
  const finder = new PresenceFinder();
  try {
    await finder.open(parts);
    const answer = await fetch(url, { signal, credentials: 'same-origin' });
    const whole = await createImageBitmap(await answer.blob());
    return buildSeen([await finder.look(whole, PHOTO_EDGE)], 0, 1_000_000);
  } finally {
    finder.end();
  }
}

function waitFor(video: HTMLVideoElement, name: 'loadeddata' | 'seeked', signal: AbortSignal): Promise<void> {
  return new Promise((done, fail) => {
    const stop = new AbortController();
    const end = (work: () => void) => () => {
      clearTimeout(timer);
      stop.abort();
      work();
    };
    const timer = setTimeout(
      end(() => fail(new Error('The take could not be played.'))),
      SEEK_MS,
    );
    video.addEventListener(name, end(done), { once: true, signal: stop.signal });
    video.addEventListener(
      'error',
      end(() => fail(new Error('The take could not be played.'))),
      {
        once: true,
        signal: stop.signal,
      },
    );
    signal.addEventListener(
      'abort',
      end(() => fail(signal.reason as Error)),
      {
        once: true,
        signal: stop.signal,
      },
    );
  });
}
