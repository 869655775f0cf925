import { SHA256_HEADER, UPLOAD_PATH, type TakeOrigin } from '@apodix/core';
import { defineStore } from 'pinia';
import { computed, onScopeDispose, ref, watch } from 'vue';
import * as tus from 'tus-js-client';
import { hashFile } from '../api/hash-file.ts';
import { keepMeasuredSpeed } from '../composables/useSendSpeed.ts';
import { SpeedMeter } from '../composables/speed-meter.ts';
import { useNotices } from './notices.ts';
import { useSession } from './session.ts';

export interface UploadItem {
  readonly key: string;
  readonly personId: string;
  /** null for a take that serves nothing yet. */
  readonly assignmentId: string | null;
  readonly name: string;
  readonly sizeBytes: number;
  sentBytes: number;
  /** Seconds until all is sent, at the speed of the last moments; null while nobody can tell. */
  secondsLeft: number | null;
  bytesPerS: number | null;
  state: 'queued' | 'sending' | 'paused' | 'waiting-for-file' | 'failed' | 'done';
}

export interface UploadOptions {
  readonly origin?: TakeOrigin;
  /** What to call it where the file's own name does not do. */
  readonly name?: string;
  /** The server has the same bytes. */
  readonly onDone?: () => void;
}

/** More would only make each of them slower. */
const MOST_AT_ONCE = 2;
const CHUNK_BYTES = 8 * 1024 * 1024;
const RETRY_MS = [0, 500, 1500, 3000, 6000, 12_000];
const SHOWN_WHEN_DONE_MS = 1200;
const STORED = 'tus::apodix:';
const NO_SPEED = { secondsLeft: null, bytesPerS: null } as const;

/**
 * Uploads in progress, at most two at once; they go on while the person walks through the pages, and can be
 * taken up again after a reload. Each belongs to the person who began it.
 */
export const useUploads = defineStore('uploads', () => {
  const session = useSession();
  const all = ref<readonly UploadItem[]>([]);
  const files = new Map<string, { readonly file: File; readonly options: UploadOptions }>();
  const phone = ref<string | null>(null);
  const ownerId = computed(() => session.person?.id ?? phone.value ?? '');
  const running = new Map<string, tus.Upload>();
  const items = computed(() => all.value.filter((item) => item.personId === ownerId.value));
  const isSending = computed(() => all.value.some((item) => ['sending', 'queued'].includes(item.state)));

  watch(isSending, (isNow) => {
    if (isNow) window.addEventListener('beforeunload', warn);
    else window.removeEventListener('beforeunload', warn);
  });
  onScopeDispose(() => window.removeEventListener('beforeunload', warn));
  // Whoever signs out stops what was theirs; it waits for its file when they are back.
  watch(ownerId, (_next, last) => {
    for (const item of all.value.filter((each) => each.personId === last))
      void running.get(item.key)?.abort();
    all.value = all.value.filter((item) => item.personId !== last);
  });

  const find = (key: string) => all.value.find((item) => item.key === key);
  function patch(key: string, change: Partial<UploadItem>): void {
    all.value = all.value.map((item) => (item.key === key ? { ...item, ...change } : item));
  }
  function drop(key: string): void {
    running.delete(key);
    files.delete(key);
    all.value = all.value.filter((item) => item.key !== key);
  }

  /** Queues a file, or goes on with it where it was interrupted; gives its key. */
  function add(assignmentId: string | null, file: File, options: UploadOptions = {}): string {
    const personId = ownerId.value;
    const { size, lastModified } = file;
    const name = options.name ?? file.name;
    const key = `apodix:${personId}:${assignmentId ?? ''}:${name}:${size}:${lastModified}`;
    const known = find(key)?.state;
    if (known === 'sending' || known === 'queued') return key;
    files.set(key, { file, options });
    all.value = [
      ...all.value.filter((item) => item.key !== key),
      { key, personId, assignmentId, name, sizeBytes: size, sentBytes: 0, ...NO_SPEED, state: 'queued' },
    ];
    startNext();
    return key;
  }
  function startNext(): void {
    const sending = all.value.filter((item) => item.state === 'sending').length;
    for (const item of all.value.filter((each) => each.state === 'queued').slice(0, MOST_AT_ONCE - sending)) {
      patch(item.key, { state: 'sending' });
      void send(item);
    }
  }
  async function send(item: UploadItem): Promise<void> {
    const { key, name, assignmentId } = item;
    const own = files.get(key);
    if (!own) return drop(key);
    const metadata = { name, assignmentId: assignmentId ?? '', origin: own.options.origin ?? 'file' };
    const upload = running.get(key) ?? buildUpload(key, own.file, metadata);
    running.set(key, upload);
    const [previous] = await upload.findPreviousUploads();
    // Meanwhile it may have been paused or cancelled.
    if (find(key)?.state !== 'sending') return;
    if (previous) upload.resumeFromPreviousUpload(previous);
    upload.start();
  }
  function buildUpload(key: string, file: File, metadata: Record<string, string>): tus.Upload {
    const startedAt = performance.now();
    const speed = new SpeedMeter();
    let resumedAt: number | null = null;
    let hash: Promise<string | null> | null = null;
    return new tus.Upload(file, {
      endpoint: UPLOAD_PATH,
      chunkSize: CHUNK_BYTES,
      retryDelays: RETRY_MS,
      removeFingerprintOnSuccess: true,
      metadata,
      fingerprint: () => Promise.resolve(key),
      // What was read here is told with the last bytes, so that the server can hold what arrived against it.
      onBeforeRequest: async (request) => {
        if (request.getMethod() !== 'PATCH') return;
        hash ??= hashFile(file).catch(() => null);
        const offset = Number(request.getHeader('Upload-Offset') ?? 0);
        const told = offset + CHUNK_BYTES >= file.size ? await hash : null;
        if (told !== null) request.setHeader(SHA256_HEADER, told);
      },
      onProgress: (sent) => {
        resumedAt ??= sent;
        patch(key, { sentBytes: sent, ...speed.add(performance.now() / 1000, sent, file.size) });
      },
      onError: (error) => {
        patch(key, { state: 'failed' });
        useNotices().add(`${file.name} could not be sent.`, explain(error), true);
        startNext();
      },
      onSuccess: () => {
        patch(key, { state: 'done', sentBytes: file.size, ...NO_SPEED });
        files.get(key)?.options.onDone?.();
        keepMeasuredSpeed(file.size - (resumedAt ?? 0), (performance.now() - startedAt) / 1000);
        setTimeout(() => drop(key), SHOWN_WHEN_DONE_MS);
        startNext();
      },
    });
  }
  async function pause(key: string): Promise<void> {
    patch(key, { state: 'paused', ...NO_SPEED });
    await running.get(key)?.abort();
    startNext();
  }
  function resume(key: string): void {
    patch(key, { state: 'queued' });
    startNext();
  }
  async function cancel(key: string): Promise<void> {
    const upload = running.get(key);
    drop(key);
    await upload?.abort(true).catch(() => undefined);
    for (const stored of Object.keys(localStorage))
      if (stored.startsWith('tus::') && stored.includes(key)) localStorage.removeItem(stored);
    startNext();
  }
  /** Uploads that a reload interrupted: the same file, chosen again, goes on where it stopped. */
  function recall(assignmentId: string | null): void {
    const personId = ownerId.value;
    const prefix = `${STORED}${personId}:${assignmentId ?? ''}:`;
    for (const stored of Object.keys(localStorage).filter((name) => name.startsWith(prefix))) {
      const key = stored.slice('tus::'.length).replace(/::\d+$/, '');
      if (find(key)) continue;
      const { size = 0, metadata } = readStored(stored);
      const name = metadata?.name ?? 'a file';
      all.value = [
        ...all.value,
        {
          key,
          personId,
          assignmentId,
          name,
          sizeBytes: size,
          sentBytes: 0,
          ...NO_SPEED,
          state: 'waiting-for-file',
        },
      ];
    }
  }
  /** On a phone that sends for somebody: whose uploads they are. */
  const sendFor = (personId: string | null) => (phone.value = personId);
  return { items, isSending, add, pause, resume, cancel, recall, sendFor };
});

/** The browser asks before a page with uploads under way is left. */
function warn(event: BeforeUnloadEvent): void {
  event.preventDefault();
}

function readStored(name: string): { size?: number; metadata?: { name?: string } } {
  try {
    return JSON.parse(localStorage.getItem(name) ?? '{}') as { size?: number };
  } catch {
    return {};
  }
}

function explain(error: Error | tus.DetailedError): string {
  const body = 'originalResponse' in error ? error.originalResponse?.getBody() : undefined;
  try {
    const fault = JSON.parse(body ?? '') as { message?: string; next?: string };
    return [fault.message, fault.next].filter(Boolean).join(' ') || 'Try again.';
  } catch {
    return 'Check the connection, then choose the same file again: it goes on where it stopped.';
  }
}
