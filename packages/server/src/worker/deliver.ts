import { Announcements, ApodixError, DeliveryView, type DeliveryInput } from '@apodix/core';
import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { setTimeout as wait } from 'node:timers/promises';
import { z } from 'zod';
import type { DeliverDone } from './messages.ts';

export interface Delivery {
  readonly siteUrl: string;
  readonly delivery: DeliveryInput;
  readonly paths: readonly string[];
  readonly signal: AbortSignal;
  readonly onProgress: (stage: string, share: number) => void;
}

const MAX_TRIES = 6;
const FIRST_WAIT_MS = 300;
const Reason = z.looseObject({ reason: z.string().optional() });

/**
 * Delivers frozen files to a course site and waits until it has confirmed their digests. Safe to run again at
 * any point: the key finds the delivery that was begun, and each file goes on from the offset that the site
 * tells. Throws `DELIVERY_REFUSED` where the site says no, `DELIVERY_FAILED` where it cannot be reached.
 */
export async function deliver(input: Delivery): Promise<z.infer<typeof DeliverDone>> {
  const { delivery, signal, onProgress } = input;
  const sentAt = new Date().toISOString();
  onProgress('Calling the course site', 0);
  const announced = Announcements.safeParse(await callJson(input, 'GET', '/api/assignments'));
  let view = DeliveryView.parse(await callJson(input, 'POST', '/api/deliveries', delivery));
  refuseWhereClosed(view);
  const total = delivery.files.reduce((sum, file) => sum + file.sizeBytes, 0);
  for (let round = 0; view.state === 'open' && round < MAX_TRIES; round += 1) {
    for (const [index, file] of delivery.files.entries()) {
      const before = delivery.files.slice(0, index).reduce((sum, each) => sum + each.sizeBytes, 0);
      await sendFile(input, view.deliveryId, index, file.sizeBytes, (offset) =>
        onProgress(`Sending ${file.fileName}`, (0.95 * (before + offset)) / total),
      );
    }
    onProgress('Waiting for the course site to confirm', 0.96);
    const answer = await call(input, 'POST', `/api/deliveries/${view.deliveryId}/complete`, {
      body: '{}',
      headers: { 'content-type': 'application/json' },
    });
    if (answer.status === 409) {
      await wait(FIRST_WAIT_MS, undefined, { signal });
      continue;
    }
    view = DeliveryView.parse(await answer.json());
    refuseWhereClosed(view);
  }
  const sha256 = view.files.map((file) => file.sha256 ?? '');
  if (view.state !== 'received' || view.receivedAt === null)
    throw new ApodixError('DELIVERY_FAILED', { detail: 'It did not confirm that everything arrived.' });
  const isSame = delivery.files.every((file, index) => file.sha256 === sha256[index]);
  if (!isSame) throw new ApodixError('DELIVERY_FAILED', { detail: 'What arrived is not what was sent.' });
  return {
    deliveryId: view.deliveryId,
    siteName: announced.success ? announced.data.siteName : 'course site',
    receivedAt: view.receivedAt,
    isLate: view.isLate,
    sentAt,
    sha256,
  };
}

function refuseWhereClosed(view: DeliveryView): void {
  if (view.state === 'refused')
    throw new ApodixError('DELIVERY_REFUSED', { detail: view.reason ?? 'It gave no reason.' });
}

async function sendFile(
  input: Delivery,
  deliveryId: string,
  index: number,
  sizeBytes: number,
  onOffset: (offset: number) => void,
): Promise<void> {
  const path = input.paths[index];
  if (path === undefined) throw new TypeError('Every file of a delivery needs its bytes.');
  for (let attempt = 0; attempt < MAX_TRIES; attempt += 1) {
    const view = DeliveryView.parse(await callJson(input, 'GET', `/api/deliveries/${deliveryId}`));
    const offset = view.files[index]?.offset ?? 0;
    onOffset(offset);
    if (offset >= sizeBytes || view.state === 'received') return;
    try {
      const body = Readable.toWeb(createReadStream(path, { start: offset })) as ReadableStream;
      const answer = await fetch(new URL(`/api/deliveries/${deliveryId}/files/${index}`, input.siteUrl), {
        method: 'PATCH',
        headers: {
          'content-type': 'application/octet-stream',
          'upload-offset': String(offset),
          'content-length': String(sizeBytes - offset),
        },
        body,
        duplex: 'half',
        signal: input.signal,
      } as RequestInit);
      if (answer.ok) continue;
    } catch (error) {
      if (input.signal.aborted) throw new ApodixError('CANCELLED', { cause: error });
    }
    await wait(FIRST_WAIT_MS * 2 ** attempt, undefined, { signal: input.signal });
  }
  const view = DeliveryView.parse(await callJson(input, 'GET', `/api/deliveries/${deliveryId}`));
  if ((view.files[index]?.offset ?? 0) < sizeBytes)
    throw new ApodixError('DELIVERY_FAILED', { detail: 'The connection was cut again and again.' });
}

async function callJson(input: Delivery, method: string, path: string, body?: unknown): Promise<unknown> {
  const answer = await call(
    input,
    method,
    path,
    body === undefined ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } },
  );
  if (answer.ok) return answer.json();
  const reason = Reason.safeParse(await answer.json().catch(() => ({})));
  throw new ApodixError('DELIVERY_REFUSED', {
    detail: (reason.success ? reason.data.reason : undefined) ?? `It answered ${answer.status}.`,
  });
}

/** Calls the site; tries again where it is closed for a moment or cannot be reached. */
async function call(
  input: Delivery,
  method: string,
  path: string,
  options: { body?: string; headers?: Record<string, string> },
): Promise<Response> {
  let last: unknown;
  for (let attempt = 0; attempt < MAX_TRIES; attempt += 1) {
    try {
      const answer = await fetch(new URL(path, input.siteUrl), {
        method,
        ...options,
        signal: AbortSignal.any([input.signal, AbortSignal.timeout(120_000)]),
      });
      if (answer.status < 500) return answer;
      last = new Error(`${answer.status}`);
    } catch (error) {
      if (input.signal.aborted) throw new ApodixError('CANCELLED', { cause: error });
      last = error;
    }
    await wait(FIRST_WAIT_MS * 2 ** attempt, undefined, { signal: input.signal });
  }
  throw new ApodixError('DELIVERY_FAILED', { cause: last });
}
