import type { Logger } from 'pino';
import type { Sequelize } from 'sequelize';
import type { DiskBlobStore } from './blobs/disk-blob-store.ts';
import type { SeriesCache } from './blobs/series-cache.ts';
import type { SigningKey } from './delivery/signing-key.ts';
import type { JobRunner } from './jobs/job-runner.ts';
import type { LiveEvents } from './jobs/live-events.ts';
import type { ServerSettings } from './settings.ts';

/** What handlers work with; built once at the start. */
export interface Services {
  readonly settings: ServerSettings;
  readonly sequelize: Sequelize;
  readonly blobs: DiskBlobStore;
  /** Series of takes, read once. */
  readonly series: SeriesCache;
  readonly live: LiveEvents;
  readonly jobs: JobRunner;
  readonly signingKey: SigningKey;
  readonly log: Logger;
}
