import { mkdir, readFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import { createServer as createSecureServer } from 'node:https';
import type { AddressInfo } from 'node:net';
import { join, resolve } from 'node:path';
import { pino } from 'pino';
import { importPeople } from './accounts/import-people.ts';
import { syncAnnouncements } from './assignments/sync-announcements.ts';
import { openDatabase } from './data/open-database.ts';
import { MemoryLiveEvents } from './events/live-events.ts';
import { syncFeedback } from './feedback/sync-feedback.ts';
import { buildDeliverHandler } from './hand-in/deliver-job.ts';
import { resumeHandIns } from './hand-in/press-hand-in.ts';
import { createApp } from './http/app.ts';
import { buildAheadHandler, followLimits, planAheadJob } from './making/ahead-job.ts';
import { buildMakeHandler } from './making/make-job.ts';
import { PieceFolders } from './making/piece-folders.ts';
import { buildSheetHandler } from './sheets/sheet-job.ts';
import { buildShakeHandler } from './making/shake-job.ts';
import { buildSampleHandler } from './making/sample-job.ts';
import { DatabaseJobQueue } from './queue/database-job-queue.ts';
import type { JobQueue } from './queue/job-queue.ts';
import { BlobReferences } from './references/blob-references.ts';
import { checkData, isSound } from './references/check-data.ts';
import type { Services } from './services/services.ts';
import { forgetPapers } from './papers/papers-routes.ts';
import type { ServerSettings } from './services/settings.ts';
import { DatabaseSessionStore } from './sessions/database-session-store.ts';
import { SigningKey } from './signing/signing-key.ts';
import { DiskBlobStore } from './storage/disk-blob-store.ts';
import { SeriesCache } from './storage/series-cache.ts';
import { buildInspectHandler } from './takes/inspect-job.ts';
import { createUploads } from './takes/uploads.ts';
import { tidyUp } from './upkeep/tidy-up.ts';

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
  await forgetPapers(dataFolder);
  for (const name of ['blobs', 'uploads']) await mkdir(join(dataFolder, name), { recursive: true });
  const sequelize = await openDatabase(dataFolder);
  await importPeople(sequelize, join(dataFolder, 'people.json'));
  const blobs = new DiskBlobStore(join(dataFolder, 'blobs'));
  const references = new BlobReferences(sequelize, blobs);
  const report = await checkData(sequelize, blobs, false);
  if (!isSound(report)) log.error({ report }, 'The data folder is not whole: see npm run check-data');
  const series = new SeriesCache(blobs);
  const live = new MemoryLiveEvents();
  const sessions = new DatabaseSessionStore();
  const signingKey = await SigningKey.open(dataFolder);
  const courseSite = {
    url: settings.APODIX_COURSE_SITE_URL,
    key: settings.APODIX_COURSE_SITE_KEY ?? null,
  };
  const retryMs = settings.APODIX_DELIVERY_RETRY_MS;
  const pieces = new PieceFolders(join(dataFolder, 'pieces'), settings.APODIX_PIECES_BYTES);
  const jobs: JobQueue = new DatabaseJobQueue({
    handlers: {
      inspect: buildInspectHandler({ sequelize, blobs, series, live }),
      shake: buildShakeHandler({ blobs, live }),
      sample: buildSampleHandler({
        blobs,
        live,
        series,
        planAhead: (take, work) => planAheadJob(take, work, series, jobs),
      }),
      ahead: buildAheadHandler({ blobs, series, pieces }),
      make: buildMakeHandler({ sequelize, blobs, series, pieces }),
      sheet: buildSheetHandler({ sequelize, blobs, live, settings }),
      deliver: buildDeliverHandler({ sequelize, blobs, signingKey, courseSite, retryMs }),
    },
    live,
    workFolder: join(dataFolder, 'work'),
    concurrency: settings.APODIX_JOB_COUNT,
    log,
    sequelize,
  });
  const services: Services = {
    settings,
    sequelize,
    blobs,
    references,
    series,
    live,
    jobs,
    sessions,
    signingKey,
    courseSite,
    log,
  };
  const uploads = createUploads(services);
  const app = createApp(services, uploads);
  const tls = await readCertificate(settings);
  const starting: Server = tls ? createSecureServer(tls, app) : createServer(app);
  const server = await new Promise<Server>((resolveListening, reject) => {
    starting.once('error', reject);
    starting.listen(settings.APODIX_PORT, settings.APODIX_HOST, () => resolveListening(starting));
  }).catch(async (error: unknown) => {
    await sequelize.close();
    throw error;
  });
  server.requestTimeout = 0;
  const sync = async () => {
    await syncAnnouncements({
      ...{ sequelize, site: courseSite, live, log, locale: settings.APODIX_LOCALE },
      follow: (assignmentId) => followLimits(assignmentId, services),
    });
    await syncFeedback({ sequelize, site: courseSite, live, log });
  };
  const tidy = () => tidyUp({ sessions, jobs, references, uploads, pieces, log });
  await tidy();
  const tidyTimer = setInterval(() => void tidy(), TIDY_MS);
  await sync();
  const syncTimer = setInterval(() => void sync(), SYNC_MS);
  await jobs.start();
  await resumeHandIns(services);
  await uploads.recover();
  const { port } = server.address() as AddressInfo;
  return {
    url: `${tls ? 'https' : 'http'}://${settings.APODIX_HOST}:${port}`,
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

/** The school's certificate with its key; null where none is set. */
async function readCertificate(settings: ServerSettings): Promise<{ cert: Buffer; key: Buffer } | null> {
  const { APODIX_TLS_CERTIFICATE: certificate, APODIX_TLS_KEY: key } = settings;
  if (certificate === undefined || key === undefined) return null;
  return { cert: await readFile(certificate), key: await readFile(key) };
}
