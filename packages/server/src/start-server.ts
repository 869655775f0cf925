import { mkdir } from 'node:fs/promises';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join, resolve } from 'node:path';
import { pino } from 'pino';
import { DiskBlobStore } from './blobs/disk-blob-store.ts';
import { SeriesCache } from './blobs/series-cache.ts';
import { importPeople } from './data/import-people.ts';
import { openDatabase } from './data/open-database.ts';
import { SigningKey } from './delivery/signing-key.ts';
import { tidyUp } from './jobs/tidy-up.ts';
import { syncAnnouncements } from './delivery/sync-announcements.ts';
import { syncFeedback } from './delivery/sync-feedback.ts';
import { createApp } from './http/app.ts';
import { createUploads } from './http/uploads.ts';
import { buildDeliverHandler } from './hand-in/deliver-job.ts';
import { resumeHandIns } from './hand-in/press-hand-in.ts';
import { buildTakeJobHandlers } from './jobs/job-handlers.ts';
import { JobRunner } from './jobs/job-runner.ts';
import { LiveEvents } from './jobs/live-events.ts';
import type { Services } from './services.ts';
import type { ServerSettings } from './settings.ts';

export interface RunningServer {
  readonly url: string;
  readonly services: Services;
  close(): Promise<void>;
}

const SYNC_MS = 60_000;
const TIDY_MS = 3_600_000;

/**
 * Opens data folder, database and key, takes up interrupted work, and listens. Rejects where the port is
 * taken.
 */
export async function startServer(rawSettings: ServerSettings): Promise<RunningServer> {
  const settings = { ...rawSettings, APODIX_DATA: resolve(rawSettings.APODIX_DATA) };
  const log = pino({ level: settings.APODIX_LOG_LEVEL }, pino.destination(2));
  const dataFolder = settings.APODIX_DATA;
  for (const name of ['blobs', 'uploads']) await mkdir(join(dataFolder, name), { recursive: true });
  const sequelize = await openDatabase(dataFolder);
  await importPeople(sequelize, join(dataFolder, 'people.json'));
  const blobs = new DiskBlobStore(join(dataFolder, 'blobs'));
  const series = new SeriesCache(blobs);
  const live = new LiveEvents();
  const signingKey = await SigningKey.open(dataFolder);
  const courseSite = {
    url: settings.APODIX_COURSE_SITE_URL,
    key: settings.APODIX_COURSE_SITE_KEY ?? null,
  };
  const handlers = {
    ...buildTakeJobHandlers({ sequelize, blobs, series }),
    deliver: buildDeliverHandler({
      sequelize,
      blobs,
      signingKey,
      courseSite,
      retryMs: settings.APODIX_DELIVERY_RETRY_MS,
    }),
  };
  const jobs = new JobRunner({
    handlers,
    live,
    workFolder: join(dataFolder, 'work'),
    concurrency: settings.APODIX_JOB_COUNT,
    log,
    sequelize,
  });
  const services: Services = { settings, sequelize, blobs, series, live, jobs, signingKey, log };
  const uploads = createUploads(services);
  const app = createApp(services, uploads);
  const server = await new Promise<Server>((resolveListening, reject) => {
    const starting = app.listen(settings.APODIX_PORT, settings.APODIX_HOST, (error?: Error) =>
      error ? reject(error) : resolveListening(starting),
    );
    starting.once('error', reject);
  }).catch(async (error: unknown) => {
    await sequelize.close();
    throw error;
  });
  server.requestTimeout = 0;
  const sync = async () => {
    await syncAnnouncements(courseSite, log);
    await syncFeedback(sequelize, courseSite, live, log);
  };
  await tidyUp(blobs, log);
  const tidyTimer = setInterval(() => void tidyUp(blobs, log), TIDY_MS);
  await sync();
  const syncTimer = setInterval(() => void sync(), SYNC_MS);
  await jobs.start();
  await resumeHandIns(services);
  await uploads.recover();
  const { port } = server.address() as AddressInfo;
  return {
    url: `http://${settings.APODIX_HOST}:${port}`,
    services,
    close: async () => {
      clearInterval(syncTimer);
      clearInterval(tidyTimer);
      const closed = new Promise<void>((done) => server.close(() => done()));
      server.closeAllConnections();
      await closed;
      await jobs.stop();
      await sequelize.close();
    },
  };
}
