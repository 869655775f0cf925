import { sortRecordings, type KeptRecording, type ListedRecording, type PieceStore } from './piece-store.ts';
import type { PieceAnswer, PieceRequest } from './private-files.worker.ts';

/** Recordings in the browser's private file system (OPFS), written by a worker. */
export class PrivateFileStore implements PieceStore {
  readonly #worker: Worker;
  readonly #waiting = new Map<number, { done: (value: unknown) => void; fail: (error: Error) => void }>();
  #calls = 0;

  constructor(worker: Worker) {
    this.#worker = worker;
    worker.onmessage = ({ data }: MessageEvent<PieceAnswer>) => {
      const waiting = this.#waiting.get(data.call);
      this.#waiting.delete(data.call);
      if ('fault' in data) waiting?.fail(new Error(data.fault));
      else waiting?.done(data.value);
    };
    worker.onerror = (event) => {
      for (const { fail } of this.#waiting.values()) fail(new Error(event.message));
      this.#waiting.clear();
    };
  }

  begin(recording: KeptRecording): Promise<void> {
    return this.#ask({ do: 'begin', recording });
  }

  async append(id: string, piece: Blob): Promise<void> {
    const bytes = await piece.arrayBuffer();
    await this.#ask({ do: 'append', id, bytes }, [bytes]);
  }

  update(recording: KeptRecording, isClosed: boolean): Promise<void> {
    return this.#ask({ do: 'update', recording, isClosed });
  }

  async list(personId: string): Promise<ListedRecording[]> {
    return sortRecordings(await this.#ask<ListedRecording[]>({ do: 'list', personId }));
  }

  async read(recording: KeptRecording): Promise<File> {
    const file = await this.#ask<File>({ do: 'read', recording });
    return new File([file], recording.name, { type: recording.mimeType });
  }

  remove(recording: KeptRecording): Promise<void> {
    return this.#ask({ do: 'remove', recording });
  }

  #ask<T = void>(request: PieceRequest, transfer: Transferable[] = []): Promise<T> {
    const call = (this.#calls += 1);
    return new Promise<T>((done, fail) => {
      this.#waiting.set(call, { done: done as (value: unknown) => void, fail });
      this.#worker.postMessage({ ...request, call }, transfer);
    });
  }
}
