import { Announcement, DeliveryInput, type DeliveryView, type SiteFeedback } from '@apodix/core';
import { createHash, randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { mkdir, open, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';

export interface StoredDelivery {
  readonly id: string;
  /** The Apodix that it came from; deliveries of before name none. */
  readonly connection?: string;
  /** null where a key was cancelled before its delivery came. */
  readonly input: DeliveryInput | null;
  state: DeliveryView['state'];
  reason: string | null;
  receivedAt: string | null;
  isLate: boolean;
  sha256: (string | null)[];
  feedback: SiteFeedback | null;
  /** Deliveries of before have none. */
  check?: DeliveryView['check'];
}

/**
 * The stand-in's own store: one folder a delivery, a JSON file beside the bytes. Written beside and renamed.
 */
export class FolderStore {
  readonly #folder: string;

  constructor(folder: string) {
    this.#folder = folder;
  }

  async open(): Promise<void> {
    await mkdir(join(this.#folder, 'deliveries'), { recursive: true });
  }

  async readAnnouncements(): Promise<Announcement[]> {
    const text = await readFile(join(this.#folder, 'assignments.json'), 'utf8').catch(() => '[]');
    return Announcement.array().parse(JSON.parse(text));
  }

  async findByKey(connection: string, key: string): Promise<StoredDelivery | null> {
    return this.read(nameOfKey(connection, key));
  }

  async create(connection: string, input: DeliveryInput): Promise<StoredDelivery> {
    return this.#begin(connection, input.key, input, 'open');
  }

  /** Notes that a delivery of this key will not be taken, whether one was begun or not. */
  async cancel(connection: string, key: string): Promise<StoredDelivery> {
    const begun = await this.findByKey(connection, key);
    if (!begun) return this.#begin(connection, key, null, 'cancelled');
    if (begun.state !== 'open') return begun;
    begun.state = 'cancelled';
    await this.write(begun);
    return begun;
  }

  async #begin(
    connection: string,
    key: string,
    input: DeliveryInput | null,
    state: StoredDelivery['state'],
  ): Promise<StoredDelivery> {
    const id = nameOfKey(connection, key);
    await mkdir(this.#pathOf(id), { recursive: true });
    const delivery: StoredDelivery = {
      id,
      connection,
      input,
      state,
      reason: null,
      receivedAt: null,
      isLate: false,
      sha256: input?.files.map(() => null) ?? [],
      feedback: null,
    };
    await this.write(delivery);
    return delivery;
  }

  async read(id: string): Promise<StoredDelivery | null> {
    if (!/^[0-9a-f]{32}$/.test(id)) return null;
    const text = await readFile(join(this.#pathOf(id), 'delivery.json'), 'utf8').catch(() => null);
    return text === null ? null : (JSON.parse(text) as StoredDelivery);
  }

  async list(): Promise<StoredDelivery[]> {
    const names = await readdir(join(this.#folder, 'deliveries'));
    const all = await Promise.all(names.map((name) => this.read(name)));
    return all.filter((delivery) => delivery !== null);
  }

  async write(delivery: StoredDelivery): Promise<void> {
    const path = join(this.#pathOf(delivery.id), 'delivery.json');
    const beside = `${path}.${randomUUID()}`;
    await writeFile(beside, JSON.stringify(delivery));
    await rename(beside, path);
  }

  async measureOffset(id: string, index: number): Promise<number> {
    return (await stat(this.pathOfFile(id, index)).catch(() => null))?.size ?? 0;
  }

  /**
   * Appends bytes from `offset` on, never beyond `sizeBytes`; gives the new offset. What arrived before a cut
   * stays.
   */
  async append(
    id: string,
    index: number,
    bytes: AsyncIterable<Uint8Array>,
    sizeBytes: number,
    stopAfter = Infinity,
  ): Promise<number> {
    const handle = await open(this.pathOfFile(id, index), 'a');
    let offset = (await handle.stat()).size;
    try {
      for await (const chunk of bytes) {
        const room = Math.min(sizeBytes - offset, stopAfter - offset);
        const part = chunk.subarray(0, Math.max(0, room));
        await handle.appendFile(part);
        offset += part.length;
        if (part.length < chunk.length) break;
      }
      await handle.sync();
    } finally {
      await handle.close();
    }
    return offset;
  }

  async hash(id: string, index: number): Promise<string> {
    const hash = createHash('sha256');
    await pipeline(createReadStream(this.pathOfFile(id, index)), hash);
    return hash.digest('hex');
  }

  async drop(id: string, index: number): Promise<void> {
    await rm(this.pathOfFile(id, index), { force: true });
  }

  /** Files lie under numbers: names from outside never become paths. */
  pathOfFile(id: string, index: number): string {
    return join(this.#pathOf(id), `file-${index}`);
  }

  #pathOf(id: string): string {
    return join(this.#folder, 'deliveries', id);
  }
}

/** Under which name the delivery of a key is kept. */
export function nameOfKey(connection: string, key: string): string {
  return createHash('sha256')
    .update(JSON.stringify([connection, key]))
    .digest('hex')
    .slice(0, 32);
}
