import { createHash } from 'node:crypto';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { deliver } from './deliver.ts';

const bytes = Buffer.from('a proven file');
const sha256 = createHash('sha256').update(bytes).digest('hex');
let folder = '';
let server: Server;
/** What the site answers before it does its work: a status for each call, in turn. */
let refusals: number[] = [];
let calls: string[] = [];
let arrived = Buffer.alloc(0);
let isComplete = false;

beforeEach(async () => {
  [refusals, calls, arrived, isComplete] = [[], [], Buffer.alloc(0), false];
  folder = await mkdtemp(join(tmpdir(), 'apodix-deliver-'));
  await writeFile(join(folder, 'file'), bytes);
  server = createServer((request, response) => {
    const parts: Buffer[] = [];
    request.on('data', (part: Buffer) => parts.push(part));
    request.on('end', () => {
      calls.push(`${request.method} ${request.url}`);
      const status = refusals.shift() ?? 0;
      if (status > 0) {
        response.writeHead(status, { 'content-type': 'application/json', 'retry-after': '0' });
        return response.end(JSON.stringify({ reason: 'Not now.' }));
      }
      if (request.method === 'PATCH') arrived = Buffer.concat([arrived, ...parts]);
      if (request.url?.endsWith('/complete')) isComplete = true;
      response.writeHead(200, { 'content-type': 'application/json' });
      const file = { fileName: 'a.jpg', offset: arrived.length, sizeBytes: bytes.length };
      response.end(
        JSON.stringify({
          ...{ deliveryId: 'd', reason: null, isLate: false, feedback: null },
          state:
            request.url?.endsWith('/cancel') && !isComplete ? 'cancelled' : isComplete ? 'received' : 'open',
          receivedAt: isComplete ? new Date(0).toISOString() : null,
          files: [{ ...file, sha256: isComplete ? sha256 : null }],
        }),
      );
    });
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
});
afterEach(async () => {
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
  await rm(folder, { recursive: true, force: true });
});

const send = () =>
  deliver({
    site: { url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, key: 'k' },
    delivery: {
      ...{ key: 'key-12345', assignmentId: 'solo', person: 'Ann', group: null, attempt: 1 },
      ...{ note: '', participants: '', answers: [] },
      files: [{ slotId: 's', fileName: 'a.jpg', sizeBytes: bytes.length, sha256, mimeType: 'image/jpeg' }],
    },
    paths: [join(folder, 'file')],
    isRepeated: false,
    isWithdrawn: false,
    signal: new AbortController().signal,
    withdrawSignal: new AbortController().signal,
    onProgress: () => undefined,
  });

describe('a course site that does not take it at once', () => {
  it.each([408, 425, 429, 500, 502, 503])(
    '%d is no refusal: it is asked again, and receives it',
    async (status) => {
      refusals = [status];
      await expect(send()).resolves.toMatchObject({ deliveryId: 'd', sha256: [sha256] });
      expect(arrived.equals(bytes)).toBe(true);
    },
  );

  it.each([401, 403])(
    '%d says nothing about the work: it is not handed in, and not refused',
    async (status) => {
      refusals = [status, status];
      await expect(send()).rejects.toMatchObject({ code: 'DELIVERY_FAILED', detail: 'Not now.' });
      expect(calls).toEqual(['POST /api/deliveries', 'POST /api/deliveries/cancel']);
    },
  );

  it.each([409, 413, 415, 422])('%d is its last word', async (status) => {
    refusals = [status];
    await expect(send()).rejects.toMatchObject({ code: 'DELIVERY_REFUSED', detail: 'Not now.' });
    expect(calls).toEqual(['POST /api/deliveries']);
  });
});
