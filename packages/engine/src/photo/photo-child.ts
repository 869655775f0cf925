import { text } from 'node:stream/consumers';
import sharp from 'sharp';
import { comparePhoto } from './compare-photo.ts';
import { inspectPhoto } from './inspect-photo.ts';
import { mergeOpened } from './merge-photos.ts';
import { explainPhotoError } from './open-photo.ts';
import { answerAsChild } from '../process/child-answer.ts';
import { PhotoRequest } from '../still/photo-request.ts';
import { renderPhoto, renderPreviews } from './render-photo.ts';

/** One photograph task in a process of its own: request on stdin, answer on stdout, both JSON. */
sharp.concurrency(2);
sharp.cache(false);

async function answer(request: PhotoRequest): Promise<unknown> {
  if (request.task === 'inspect') return inspectPhoto(request.path, request.container, request.small);
  if (request.task === 'render') return renderPhoto(request);
  if (request.task === 'merge') return mergeOpened(request);
  if (request.task === 'compare') return comparePhoto(request);
  await renderPreviews(request);
  return null;
}

await answerAsChild(
  async () => answer(PhotoRequest.parse(JSON.parse(await text(process.stdin)))),
  explainPhotoError,
);
