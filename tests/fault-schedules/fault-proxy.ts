import { createServer, request, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { setTimeout as wait } from 'node:timers/promises';

/** What becomes of one request on its way to the course site. `share` is of its bytes, 0 to 1. */
export type LineFault =
  | { readonly kind: 'pass' }
  | { readonly kind: 'slow'; readonly ms: number }
  | { readonly kind: 'cut-request'; readonly share: number }
  | { readonly kind: 'lose-answer'; readonly share: number }
  | { readonly kind: 'status'; readonly status: 408 | 425 | 429 | 500 | 503 }
  | { readonly kind: 'twice' }
  /** It arrives once more, after others that were sent later. */
  | { readonly kind: 'again-later'; readonly ms: number };

/** The line between Apodix and the course site, which does to each request what the next fault says. */
export class FaultProxy {
  readonly #siteUrl: string;
  readonly #server: Server;
  #faults: LineFault[] = [];
  #echoes = 0;

  constructor(siteUrl: string) {
    this.#siteUrl = siteUrl;
    this.#server = createServer((incoming, answer) => {
      void this.#pass(incoming, answer).catch(() => answer.destroy());
    });
  }

  async open(): Promise<string> {
    await new Promise<void>((done) => this.#server.listen(0, '127.0.0.1', done));
    return `http://127.0.0.1:${(this.#server.address() as AddressInfo).port}`;
  }

  close(): void {
    this.#server.close();
    this.#server.closeAllConnections();
  }

  /** What becomes of the next requests; of those after them nothing. */
  set(faults: readonly LineFault[]): void {
    this.#faults = [...faults];
  }

  /** Resolves once everything that was to arrive again has arrived. */
  async settle(): Promise<void> {
    while (this.#echoes > 0) await wait(20);
  }

  async #pass(incoming: IncomingMessage, answer: ServerResponse): Promise<void> {
    const isAsked = incoming.url?.startsWith('/api/deliveries');
    const fault = (isAsked ? this.#faults.shift() : undefined) ?? { kind: 'pass' };
    const parts: Buffer[] = [];
    for await (const part of incoming) parts.push(part as Buffer);
    const body = Buffer.concat(parts);
    if (fault.kind === 'slow') await wait(fault.ms);
    if (fault.kind === 'status') {
      answer.writeHead(fault.status, { 'content-type': 'application/json' });
      answer.end('{"reason":"Not now."}');
      return;
    }
    if (fault.kind === 'cut-request') {
      await this.#send(incoming, body, Math.floor(body.length * fault.share)).catch(() => null);
      answer.destroy();
      return;
    }
    if (fault.kind === 'again-later') {
      this.#echoes += 1;
      void wait(fault.ms)
        .then(() => this.#send(incoming, body))
        .catch(() => null)
        .finally(() => (this.#echoes -= 1));
    }
    const [told] = await Promise.all([
      this.#send(incoming, body),
      ...(fault.kind === 'twice' ? [this.#send(incoming, body)] : []),
    ]);
    if (fault.kind === 'lose-answer') {
      answer.writeHead(told.status, { ...told.headers, 'content-length': told.body.length });
      answer.write(told.body.subarray(0, Math.floor(told.body.length * fault.share)), () => answer.destroy());
      return;
    }
    answer.writeHead(told.status, told.headers);
    answer.end(told.body);
  }

  /** Sends a request on; of its body no more than `length` bytes, after which the line is cut. */
  #send(
    { method, url, headers }: IncomingMessage,
    body: Buffer,
    length = Infinity,
  ): Promise<{ status: number; headers: Record<string, string>; body: Buffer }> {
    return new Promise((done, fail) => {
      const kept = { ...headers };
      delete kept.host;
      delete kept['transfer-encoding'];
      const onward = request(new URL(url ?? '/', this.#siteUrl), {
        method,
        headers: { ...kept, ...(body.length > 0 ? { 'content-length': body.length } : {}) },
        agent: false,
      });
      onward.once('error', fail);
      onward.once('response', (response) => {
        const parts: Buffer[] = [];
        response.on('data', (part: Buffer) => parts.push(part));
        response.once('error', fail);
        response.once('end', () =>
          done({
            status: response.statusCode ?? 502,
            headers: { 'content-type': response.headers['content-type'] ?? 'application/json' },
            body: Buffer.concat(parts),
          }),
        );
      });
      if (length >= body.length) onward.end(body);
      else onward.write(body.subarray(0, length), () => onward.destroy(new Error('cut')));
    });
  }
}
