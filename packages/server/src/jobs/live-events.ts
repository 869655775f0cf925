import type { LiveEvent } from '@apodix/core';
import { EventEmitter } from 'node:events';

/** Tells each signed-in person's pages what changed in their own work. */
export class LiveEvents {
  readonly #emitter = new EventEmitter().setMaxListeners(0);

  tell(personId: string, event: LiveEvent): void {
    this.#emitter.emit(personId, event);
  }

  /** Gives back the function that ends the subscription. */
  follow(personId: string, onEvent: (event: LiveEvent) => void): () => void {
    this.#emitter.on(personId, onEvent);
    return () => void this.#emitter.off(personId, onEvent);
  }
}
