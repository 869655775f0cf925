import { Announcements, ApodixError, DeliveryView, type DeliveryInput } from '@apodix/core';
import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { setTimeout as wait } from 'node:timers/promises';
import { z } from 'zod';
import { callCourseSite, type CourseSite } from '../delivery/course-site.ts';
import type { DeliverDone } from './messages.ts';

export interface Delivery {
  readonly site: CourseSite;
  readonly delivery: DeliveryInput;
  readonly paths: readonly string[];
  /** The course site was asked for it before: it may have it already. */
  readonly isRepeated: boolean;
  /** It is to be taken back rather than sent. */
  readonly isWithdrawn: boolean;
  /** This process is to end; what happened stays open. */
  readonly signal: AbortSignal;
  /** The person has stopped it: the course site is asked to take it back. */
  readonly withdrawSignal: AbortSignal;
  readonly onProgress: (stage: string, share: number) => void;
}

type Done = z.infer<typeof DeliverDone>;

const MAX_TRIES = 6;
const WITHDRAW_TRIES = 3;
const FIRST_WAIT_MS = 300;
const LONGEST_WAIT_MS = 30_000;
/** Answers that say "not now" (RFC 9110, 15.5.9; RFC 6585, 4; RFC 8470, 5.2), beside all of 500 and more. */
const NOT_NOW = [408, 425, 429];
const NOT_KNOWN = [401, 403];
const Reason = z.looseObject({ reason: z.string().optional() });

/**
 * Delivers frozen files to a course site and waits until it has confirmed their digests. Safe to run again at
 * any point: the key finds the delivery that was begun, and each file goes on from the offset that the site
 * tells. Throws `DELIVERY_REFUSED` where the site says no, `DELIVERY_FAILED` where it is certain that it has
 * nothing, `CANCELLED` where it was taken back, `DELIVERY_UNCERTAIN` where nobody can tell yet.
 */
export async function deliver(input: Delivery): Promise<Done> {
  const course = { mayBeThere: input.isRepeated };
  const sentAt = new Date().toISOString();
  const own = { ...input, signal: AbortSignal.any([input.signal, input.withdrawSignal]) };
  let fault = new ApodixError('CANCELLED');
  if (!input.isWithdrawn)
    try {
      return await describeDone(own, await send(own, course), sentAt);
    } catch (error) {
      if (error instanceof ApodixError && error.code === 'DELIVERY_REFUSED') throw error;
      if (input.signal.aborted) throw new ApodixError('CANCELLED', { cause: error });
      if (!input.withdrawSignal.aborted) fault = toFailure(error);
    }
  return withdraw(input, fault, course.mayBeThere, sentAt);
}

const toFailure = (error: unknown) =>
  error instanceof ApodixError && error.code === 'DELIVERY_FAILED'
    ? error
    : new ApodixError('DELIVERY_FAILED', { cause: error });

/** Sends what is not there yet until the site says that it has everything. */
async function send(input: Delivery, course: { mayBeThere: boolean }): Promise<DeliveryView> {
  const { delivery, signal, onProgress } = input;
  onProgress('Calling the course site', 0);
  let view = await readView(await call(input, 'POST', '/api/deliveries', delivery));
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
    // From here on it may have everything, whatever becomes of its answer.
    course.mayBeThere = true;
    const answer = await call(input, 'POST', `/api/deliveries/${view.deliveryId}/complete`, {});
    if (answer.status === 409) {
      await wait(FIRST_WAIT_MS, undefined, { signal });
      continue;
    }
    view = await readView(answer);
    refuseWhereClosed(view);
  }
  return view;
}

async function describeDone(input: Delivery, view: DeliveryView, sentAt: string): Promise<Done> {
  const { files } = input.delivery;
  if (view.state !== 'received' || view.receivedAt === null)
    throw new ApodixError('DELIVERY_FAILED', { detail: 'It did not confirm that everything arrived.' });
  const { deliveryId, receivedAt, isLate } = view;
  const sha256 = view.files.map((file) => file.sha256 ?? '');
  if (!files.every((file, index) => file.sha256 === sha256[index]))
    throw new ApodixError('DELIVERY_FAILED', { detail: 'What arrived is not what was sent.' });
  return { deliveryId, siteName: await readSiteName(input), receivedAt, isLate, sentAt, sha256 };
}

/** What the site calls itself; it was received all the same where it does not say. */
async function readSiteName(input: Delivery): Promise<string> {
  try {
    const answer = await callCourseSite(input.site, '/api/assignments', {
      signal: AbortSignal.timeout(5000),
    });
    return Announcements.parse(await answer.json()).siteName;
  } catch {
    return 'course site';
  }
}

/** Asks the site to take nothing under this key any more; what it has received by then stays received. */
async function withdraw(
  input: Delivery,
  fault: ApodixError,
  mayBeThere: boolean,
  sentAt: string,
): Promise<Done> {
  input.onProgress('Asking the course site whether it has it', 0.98);
  let view: DeliveryView;
  try {
    const { key } = input.delivery;
    view = await readView(await call(input, 'POST', '/api/deliveries/cancel', { key }, WITHDRAW_TRIES));
  } catch (error) {
    if (input.signal.aborted) throw new ApodixError('CANCELLED', { cause: error });
    throw mayBeThere ? new ApodixError('DELIVERY_UNCERTAIN', { cause: error }) : fault;
  }
  if (view.state === 'received') return describeDone(input, view, sentAt);
  if (view.state === 'refused') refuseWhereClosed(view);
  throw fault;
}

function refuseWhereClosed(view: DeliveryView): void {
  if (view.state === 'refused')
    throw new ApodixError('DELIVERY_REFUSED', { detail: view.reason ?? 'It gave no reason.' });
  if (view.state === 'cancelled')
    throw new ApodixError('DELIVERY_FAILED', { detail: 'It was taken back before.' });
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
  let last = 0;
  for (let attempt = 0; attempt < MAX_TRIES; attempt += 1) {
    const view = await readView(await call(input, 'GET', `/api/deliveries/${deliveryId}`));
    const offset = view.files[index]?.offset ?? 0;
    onOffset(offset);
    if (offset >= sizeBytes || view.state !== 'open') return;
    // As long as it gets on, a line that is cut again and again is no reason to give up.
    if (offset > last) attempt = 0;
    last = offset;
    try {
      const body = Readable.toWeb(createReadStream(path, { start: offset })) as ReadableStream;
      const answer = await callCourseSite(input.site, `/api/deliveries/${deliveryId}/files/${index}`, {
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
  const view = await readView(await call(input, 'GET', `/api/deliveries/${deliveryId}`));
  if ((view.files[index]?.offset ?? 0) < sizeBytes)
    throw new ApodixError('DELIVERY_FAILED', { detail: 'The connection was cut again and again.' });
}

/** The delivery that an answer tells of. Throws where it tells of a refusal, or of nothing that is known. */
async function readView(answer: Response): Promise<DeliveryView> {
  const body: unknown = await answer.json().catch(() => null);
  const view = DeliveryView.safeParse(body);
  if (view.success) return view.data;
  const told = Reason.safeParse(body);
  const detail = (told.success ? told.data.reason : undefined) ?? `It answered ${answer.status}.`;
  // A site that does not know this Apodix has not said no to the hand-in.
  const isNoRefusal = answer.ok || NOT_KNOWN.includes(answer.status);
  throw new ApodixError(isNoRefusal ? 'DELIVERY_FAILED' : 'DELIVERY_REFUSED', { detail });
}

/** Calls the site; tries again where it is closed for a moment, has too much to do, or cannot be reached. */
async function call(
  input: Delivery,
  method: string,
  path: string,
  body?: unknown,
  tries = MAX_TRIES,
): Promise<Response> {
  let last: unknown;
  for (let attempt = 0; attempt < tries; attempt += 1) {
    let waitMs = FIRST_WAIT_MS * 2 ** attempt;
    try {
      const answer = await callCourseSite(input.site, path, {
        method,
        ...(body === undefined
          ? {}
          : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
        signal: AbortSignal.any([input.signal, AbortSignal.timeout(120_000)]),
      });
      if (answer.status < 500 && !NOT_NOW.includes(answer.status)) return answer;
      last = new Error(`${method} ${path}: ${answer.status}`);
      waitMs = Math.max(
        waitMs,
        Math.min(LONGEST_WAIT_MS, Number(answer.headers.get('retry-after')) * 1000 || 0),
      );
      await answer.body?.cancel();
    } catch (error) {
      if (input.signal.aborted) throw new ApodixError('CANCELLED', { cause: error });
      last = error;
    }
    if (attempt < tries - 1) await wait(waitMs, undefined, { signal: input.signal });
  }
  throw new ApodixError('DELIVERY_FAILED', { cause: last });
}
