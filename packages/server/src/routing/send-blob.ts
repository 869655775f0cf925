import { buildSafeFileName } from '@apodix/core';
import type { Request, Response } from 'express';
import type { BlobStore } from '../storage/blob-store.ts';

export interface SendOptions {
  readonly mimeType: string;
  /** Name to save under; null shows it in the page. */
  readonly downloadName: string | null;
}

/** Sends a blob with range support; never sniffed, never run, never kept by the browser. */
export function sendBlob(
  _request: Request,
  response: Response,
  blobs: BlobStore,
  sha256: string,
  options: SendOptions,
): Promise<undefined> {
  response.set({
    'content-type': options.mimeType,
    'x-content-type-options': 'nosniff',
    'content-security-policy': "default-src 'none'; sandbox",
    // At a shared computer the next person gets nothing out of the browser's cache.
    'cache-control': 'no-store',
    'cross-origin-resource-policy': 'same-origin',
    etag: `"${sha256}"`,
  });
  if (options.downloadName !== null) {
    const ending = /\.([A-Za-z0-9]{1,5})$/.exec(options.downloadName)?.[1] ?? '';
    response.attachment(buildSafeFileName(options.downloadName.replace(/\.[A-Za-z0-9]{1,5}$/, ''), ending));
    response.set('content-type', options.mimeType);
  }
  return new Promise((resolve, reject) => {
    response.sendFile(
      blobs.pathOf(sha256),
      { acceptRanges: true, cacheControl: false, etag: false, lastModified: false, dotfiles: 'allow' },
      (error?: Error) => {
        if (error && !response.headersSent) reject(error);
        else resolve(undefined);
      },
    );
  });
}
