import type { Logger } from 'pino';
import type { Sequelize } from 'sequelize';
import type { CourseSite } from '../delivery/course-site.ts';
import type { LiveEvents } from '../events/live-events.ts';
import type { JobQueue } from '../queue/job-queue.ts';
import type { BlobReferences } from '../references/blob-references.ts';
import type { SessionStore } from '../sessions/session-store.ts';
import type { SigningKey } from '../signing/signing-key.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import type { SeriesCache } from '../storage/series-cache.ts';
import type { ServerSettings } from './settings.ts';

/** What features work with; built once at the start. */
export interface Services {
  readonly settings: ServerSettings;
  readonly sequelize: Sequelize;
  readonly blobs: BlobStore;
  readonly references: BlobReferences;
  /** Series of takes, read once. */
  readonly series: SeriesCache;
  readonly live: LiveEvents;
  readonly jobs: JobQueue;
  readonly sessions: SessionStore;
  readonly signingKey: SigningKey;
  readonly courseSite: CourseSite;
  readonly log: Logger;
}
