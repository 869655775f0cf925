import { renderTogether } from '@apodix/core';
import { parentPort } from 'node:worker_threads';
import type { SharedRender } from './render-threads.ts';

/** Helps to render one picture after the other until its process ends. */
parentPort?.on('message', ({ input, made, taken }: SharedRender) => {
  renderTogether(input, made, taken);
  parentPort?.postMessage(null);
});
