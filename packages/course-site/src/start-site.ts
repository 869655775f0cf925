import { containerTable } from '@apodix/core';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { createCourseSite } from './app.ts';
import type { SiteSettings } from './settings.ts';
import { FolderStore } from './store.ts';

export interface RunningSite {
  readonly url: string;
  close(): Promise<void>;
}

/** Starts the stand-in; rejects where the port is taken. */
export async function startCourseSite(settings: SiteSettings): Promise<RunningSite> {
  const store = new FolderStore(join(settings.APODIX_DATA, 'course-site'));
  await store.open();
  const app = createCourseSite({
    store,
    siteName: settings.APODIX_COURSE_SITE_NAME,
    maxFileBytes: settings.APODIX_COURSE_SITE_MAX_FILE_BYTES,
    acceptedTypes: Object.values(containerTable).map((row) => row.mimeType),
    delayMs: settings.APODIX_COURSE_SITE_DELAY_MS,
    readNow: () => new Date(Date.now() + settings.APODIX_COURSE_SITE_CLOCK_MS),
  });
  const server = await new Promise<Server>((resolve, reject) => {
    const starting = app.listen(settings.APODIX_COURSE_SITE_PORT, settings.APODIX_HOST, (error?: Error) =>
      error ? reject(error) : resolve(starting),
    );
    starting.once('error', reject);
  });
  const { port } = server.address() as AddressInfo;
  return {
    url: `http://${settings.APODIX_HOST}:${port}`,
    close: () =>
      new Promise((resolve) => {
        server.close(() => resolve());
        server.closeAllConnections();
      }),
  };
}
