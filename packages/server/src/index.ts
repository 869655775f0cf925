export * from './data/models.ts';
export { openDatabase } from './data/open-database.ts';
export { DiskBlobStore, type BlobStore } from './blobs/disk-blob-store.ts';
export { isReceiptGenuine, SigningKey } from './delivery/signing-key.ts';
export { buildTakeJobHandlers } from './jobs/job-handlers.ts';
export { ServerSettings } from './settings.ts';
export { startServer, type RunningServer } from './start-server.ts';
