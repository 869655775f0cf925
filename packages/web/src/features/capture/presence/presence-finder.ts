import type { Look, Part } from '@apodix/core';
import type { Frame } from '../reading/take-frame.ts';
import type { PresenceAnswer, PresenceRequest } from './presence.worker.ts';

export const VISION_FOLDER = `${import.meta.env.BASE_URL}assets/vision-0.10.35`;

/**
 * Faces, hands and bodies in pictures, found in a worker. Everything rejects where this machine cannot do it
 * (no WebAssembly, no WebGL): then a person has to look.
 */
export class PresenceFinder {
  readonly #worker: Worker;
  #waiting: { done: (answer: PresenceAnswer) => void; fail: (error: Error) => void } | null = null;

  constructor(worker: Worker = startWorker()) {
    this.#worker = worker;
    worker.onmessage = ({ data }: MessageEvent<PresenceAnswer>) => {
      const waiting = this.#waiting;
      this.#waiting = null;
      if (data.told === 'fault') waiting?.fail(new Error(data.fault));
      else waiting?.done(data);
    };
    worker.onerror = (event) => {
      this.#waiting?.fail(new Error(event.message));
      this.#waiting = null;
    };
  }

  async open(parts: readonly Part[]): Promise<void> {
    await this.#ask({ do: 'open', folder: VISION_FOLDER, parts: [...parts] });
  }

  /** Takes the picture over, and looks at it with its long edge at most `longEdge`. */
  async look(frame: Frame, longEdge: number): Promise<Look> {
    const answer = await this.#ask({ do: 'look', frame, longEdge }, [frame]);
    if (answer.told !== 'look') throw new Error('Another answer was expected.');
    return answer.look;
  }

  /** The only way by which all its memory is given back. */
  end(): void {
    this.#worker.terminate();
    this.#waiting?.fail(new Error('It was ended.'));
    this.#waiting = null;
  }

  #ask(request: PresenceRequest, transfer: Transferable[] = []): Promise<PresenceAnswer> {
    if (this.#waiting) return Promise.reject(new Error('It is still busy.'));
    return new Promise((done, fail) => {
      this.#waiting = { done, fail };
      this.#worker.postMessage(request, transfer);
    });
  }
}

function startWorker(): Worker {
  return new Worker(new URL('./presence.worker.ts', import.meta.url), { type: 'module' });
}
