export * from './data/models.ts';
export { openDatabase } from './data/open-database.ts';
export { BlobReferences } from './references/blob-references.ts';
export { checkData, isSound, type DataReport } from './references/check-data.ts';
export { DiskBlobStore } from './storage/disk-blob-store.ts';
export type { BlobStore } from './storage/blob-store.ts';
export { SigningKey } from './signing/signing-key.ts';
export { ServerSettings } from './services/settings.ts';
export { startServer, type RunningServer } from './start-server.ts';
