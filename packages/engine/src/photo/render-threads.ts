import { renderTogether, type RenderInput } from '@apodix/core';
import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';

/** More threads wait for each other's memory. */
const MOST_THREADS = 4;
/** From sources there is this thread alone: another one would have to translate them first. */
const isSource = import.meta.url.endsWith('.ts');

/** What a helping thread is handed: the picture and the result lie in memory that both see. */
export interface SharedRender {
  readonly input: RenderInput;
  readonly made: Uint8Array;
  readonly taken: Int32Array;
}

export interface RenderThreads {
  /** The picture, as `renderPicture` gives it, rendered by all threads together. */
  readonly render: (input: RenderInput) => Promise<Uint8Array>;
  readonly close: () => Promise<void>;
}

/** Starts threads that help to render a picture; they are there by the time it has been decoded. */
export function startRenderThreads(): RenderThreads {
  const count = isSource ? 0 : Math.min(MOST_THREADS, availableParallelism()) - 1;
  const helpers = Array.from(
    { length: count },
    () => new Worker(new URL('./render-thread.js', import.meta.url)),
  );
  const gone = helpers.map((helper) => {
    // One that fails is gone too, whatever it says.
    helper.on('error', () => undefined);
    return new Promise<boolean>((resolve) => helper.once('exit', () => resolve(false)));
  });
  return {
    async render(input) {
      const { size, source } = input;
      const made = new Uint8Array(new SharedArrayBuffer(size.widthPx * size.heightPx * 3));
      const taken = new Int32Array(new SharedArrayBuffer(4));
      const levels = shareLevels(source.levels, helpers.length > 0);
      const shared: SharedRender = { input: { ...input, source: { ...source, levels } }, made, taken };
      const ends = helpers.map((helper, index) => {
        helper.postMessage(shared);
        const done = new Promise<boolean>((resolve) => helper.once('message', () => resolve(true)));
        return Promise.race([done, gone[index]]);
      });
      renderTogether(shared.input, made, taken);
      const isWhole = (await Promise.all(ends)).every(Boolean);
      // What a thread that is gone had taken is missing.
      if (!isWhole) renderTogether(shared.input, made, taken.fill(0));
      return made;
    },
    async close() {
      await Promise.all(helpers.map((helper) => helper.terminate()));
    },
  };
}

function shareLevels(levels: RenderInput['source']['levels'], isShared: boolean) {
  if (!isShared) return levels;
  const memory = new SharedArrayBuffer(levels.byteLength);
  const copy = levels instanceof Uint8Array ? new Uint8Array(memory) : new Uint16Array(memory);
  copy.set(levels);
  return copy;
}
