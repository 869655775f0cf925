import type { LiveEvent } from '@apodix/core';
import { EventEmitter } from 'node:events';

/** Tells each signed-in person's pages what changed in their own work. Adapters pass `describeLiveEvents`. */
export interface LiveEvents {
  /** What is told to nobody who follows is lost: pages read anew when they begin to follow. */
  tell(personId: string, event: LiveEvent): void;
  /** Gives back the function that ends the subscription. */
  follow(personId: string, onEvent: (event: LiveEvent) => void): () => void;
}

/** Events within this process. */
export class MemoryLiveEvents implements LiveEvents {
  readonly #emitter = new EventEmitter().setMaxListeners(0);

  tell(personId: string, event: LiveEvent): void {
    this.#emitter.emit(`person:${personId}`, event);
  }

  follow(personId: string, onEvent: (event: LiveEvent) => void): () => void {
    this.#emitter.on(`person:${personId}`, onEvent);
    return () => void this.#emitter.off(`person:${personId}`, onEvent);
  }
}
