import { UPLOAD_PATH } from '@apodix/core';
import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import * as tus from 'tus-js-client';
import { keepMeasuredSpeed } from '../features/fit/useSendSpeed.ts';
import { useNotices } from './notices.ts';

export interface UploadItem {
  readonly key: string;
  readonly assignmentId: string;
  readonly name: string;
  readonly sizeBytes: number;
  sentBytes: number;
  state: 'sending' | 'paused' | 'waiting-for-file' | 'failed' | 'done';
}

interface StoredUpload {
  readonly assignmentId?: string;
  readonly name?: string;
}

/**
 * Uploads in progress; they go on while the person walks through the pages, and can be taken up again after a
 * reload.
 */
export const useUploads = defineStore('uploads', () => {
  const items = ref<UploadItem[]>([]);
  const running = new Map<string, tus.Upload>();

  const isSending = computed(() => items.value.some((item) => item.state === 'sending'));

  function buildKey(
    assignmentId: string,
    file: { name: string; size: number; lastModified: number },
  ): string {
    return `apodix:${assignmentId}:${file.name}:${file.size}:${file.lastModified}`;
  }

  function find(key: string): UploadItem | undefined {
    return items.value.find((item) => item.key === key);
  }

  /** Starts or goes on with the upload of a file; gives its key. */
  async function add(assignmentId: string, file: File): Promise<string> {
    const key = buildKey(assignmentId, file);
    if (find(key)?.state === 'sending') return key;
    items.value = [
      ...items.value.filter((item) => item.key !== key),
      { key, assignmentId, name: file.name, sizeBytes: file.size, sentBytes: 0, state: 'sending' },
    ];
    const startedAt = performance.now();
    let resumedAt: number | null = null;
    const upload = new tus.Upload(file, {
      endpoint: UPLOAD_PATH,
      chunkSize: 8 * 1024 * 1024,
      retryDelays: [0, 500, 1500, 3000, 6000, 12_000],
      removeFingerprintOnSuccess: true,
      metadata: { name: file.name, assignmentId },
      fingerprint: () => Promise.resolve(key),
      onProgress: (sent) => {
        resumedAt ??= sent;
        patch(key, { sentBytes: sent });
      },
      onError: (error) => {
        patch(key, { state: 'failed' });
        useNotices().add(`${file.name} could not be sent.`, explain(error), true);
      },
      onSuccess: () => {
        patch(key, { state: 'done', sentBytes: file.size });
        keepMeasuredSpeed(file.size - (resumedAt ?? 0), (performance.now() - startedAt) / 1000);
        running.delete(key);
        setTimeout(() => (items.value = items.value.filter((item) => item.key !== key)), 1200);
      },
    });
    running.set(key, upload);
    const [previous] = await upload.findPreviousUploads();
    if (previous) upload.resumeFromPreviousUpload(previous);
    upload.start();
    return key;
  }

  function patch(key: string, change: Partial<UploadItem>): void {
    items.value = items.value.map((item) => (item.key === key ? { ...item, ...change } : item));
  }

  async function pause(key: string): Promise<void> {
    await running.get(key)?.abort();
    patch(key, { state: 'paused' });
  }
  function resume(key: string): void {
    running.get(key)?.start();
    patch(key, { state: 'sending' });
  }
  async function cancel(key: string): Promise<void> {
    await running
      .get(key)
      ?.abort(true)
      .catch(() => undefined);
    running.delete(key);
    forget(key);
    items.value = items.value.filter((item) => item.key !== key);
  }

  function forget(key: string): void {
    for (const stored of Object.keys(localStorage))
      if (stored.startsWith('tus::') && stored.includes(key)) localStorage.removeItem(stored);
  }

  /** Uploads that a reload interrupted: the same file, chosen again, goes on where it stopped. */
  function recall(assignmentId: string): void {
    for (const stored of Object.keys(localStorage).filter((name) => name.startsWith('tus::apodix:'))) {
      const key = stored.slice('tus::'.length).replace(/::\d+$/, '');
      const parsed = JSON.parse(localStorage.getItem(stored) ?? '{}') as {
        size?: number;
        metadata?: StoredUpload;
      };
      if (parsed.metadata?.assignmentId !== assignmentId || find(key)) continue;
      items.value = [
        ...items.value,
        {
          key,
          assignmentId,
          name: parsed.metadata.name ?? 'a file',
          sizeBytes: parsed.size ?? 0,
          sentBytes: 0,
          state: 'waiting-for-file',
        },
      ];
    }
  }

  return { items, isSending, add, pause, resume, cancel, recall };
});

function explain(error: Error | tus.DetailedError): string {
  const body = 'originalResponse' in error ? error.originalResponse?.getBody() : undefined;
  try {
    const fault = JSON.parse(body ?? '') as { message?: string; next?: string };
    return [fault.message, fault.next].filter(Boolean).join(' ') || 'Try again.';
  } catch {
    return 'Check the connection, then choose the same file again: it goes on where it stopped.';
  }
}
