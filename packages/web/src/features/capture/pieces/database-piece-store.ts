import { sortRecordings, type KeptRecording, type ListedRecording, type PieceStore } from './piece-store.ts';

const NAME = 'apodix-takes';
const FACTS = 'recordings';
const PIECES = 'pieces';

const finish = <T>(request: IDBRequest<T>): Promise<T> =>
  new Promise((done, fail) => {
    request.onsuccess = () => done(request.result);
    request.onerror = () => fail(request.error ?? new Error('The database refused.'));
  });

/** Recordings in IndexedDB, one row a piece, for browsers without a private file system. */
export class DatabasePieceStore implements PieceStore {
  readonly #factory: IDBFactory;
  #database: Promise<IDBDatabase> | null = null;

  constructor(factory: IDBFactory) {
    this.#factory = factory;
  }

  async begin(recording: KeptRecording): Promise<void> {
    await this.#write((facts) => facts.put(recording));
  }

  async append(id: string, piece: Blob): Promise<void> {
    const bytes = await piece.arrayBuffer();
    await this.#write((_facts, pieces) => pieces.add({ id, bytes }));
  }

  async update(recording: KeptRecording): Promise<void> {
    await this.#write((facts) => facts.put(recording));
  }

  async list(personId: string): Promise<ListedRecording[]> {
    const transaction = (await this.#open()).transaction([FACTS, PIECES], 'readonly');
    const all = (await finish(transaction.objectStore(FACTS).getAll())) as KeptRecording[];
    const listed: ListedRecording[] = [];
    for (const recording of all.filter((each) => each.personId === personId)) {
      const pieces = await this.#readPieces(recording.id, transaction);
      const sizeBytes = pieces.reduce((sum, bytes) => sum + bytes.byteLength, 0);
      if (sizeBytes > 0) listed.push({ ...recording, sizeBytes });
    }
    return sortRecordings(listed);
  }

  async read(recording: KeptRecording): Promise<File> {
    const transaction = (await this.#open()).transaction(PIECES, 'readonly');
    const pieces = await this.#readPieces(recording.id, transaction);
    return new File(pieces, recording.name, { type: recording.mimeType });
  }

  async remove(recording: KeptRecording): Promise<void> {
    const transaction = (await this.#open()).transaction(PIECES, 'readonly');
    const keys = await finish(transaction.objectStore(PIECES).index('id').getAllKeys(recording.id));
    await this.#write((facts, pieces) => {
      for (const key of keys) pieces.delete(key);
      facts.delete(recording.id);
    });
  }

  async #readPieces(id: string, transaction: IDBTransaction): Promise<ArrayBuffer[]> {
    const rows = await finish(transaction.objectStore(PIECES).index('id').getAll(id));
    return (rows as { bytes: ArrayBuffer }[]).map((row) => row.bytes);
  }

  /** Resolves once it is on the disk, not only in memory. */
  async #write(change: (facts: IDBObjectStore, pieces: IDBObjectStore) => unknown): Promise<void> {
    const database = await this.#open();
    const transaction = database.transaction([FACTS, PIECES], 'readwrite', { durability: 'strict' });
    change(transaction.objectStore(FACTS), transaction.objectStore(PIECES));
    await new Promise<void>((done, fail) => {
      transaction.oncomplete = () => done();
      transaction.onabort = () => fail(transaction.error ?? new Error('The database refused.'));
    });
  }

  #open(): Promise<IDBDatabase> {
    this.#database ??= new Promise((done, fail) => {
      const request = this.#factory.open(NAME, 1);
      request.onupgradeneeded = () => {
        request.result.createObjectStore(FACTS, { keyPath: 'id' });
        request.result.createObjectStore(PIECES, { autoIncrement: true }).createIndex('id', 'id');
      };
      request.onsuccess = () => done(request.result);
      request.onerror = () => fail(request.error ?? new Error('The database could not be opened.'));
    });
    return this.#database;
  }
}
