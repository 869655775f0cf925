import { containerTable } from '@apodix/core';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { Access, openAccessFile } from './access.ts';
import { createCourseSite } from './app.ts';
import type { SiteSettings } from './settings.ts';
import { FolderStore } from './store.ts';

/** Where its keys lie, in its folder. */
export const ACCESS_FILE = 'access.json';

export interface RunningSite {
  readonly url: string;
  close(): Promise<void>;
}

/** Starts the stand-in; rejects where the port is taken. */
export async function startCourseSite(settings: SiteSettings): Promise<RunningSite> {
  const folder = join(settings.APODIX_DATA, 'course-site');
  const store = new FolderStore(folder);
  await store.open();
  const file = await openAccessFile(join(folder, ACCESS_FILE));
  const app = createCourseSite({
    store,
    access: new Access(file),
    siteName: settings.APODIX_COURSE_SITE_NAME,
    maxFileBytes: settings.APODIX_COURSE_SITE_MAX_FILE_BYTES,
    acceptedTypes: Object.values(containerTable).map((row) => row.mimeType),
    delayMs: settings.APODIX_COURSE_SITE_DELAY_MS,
    readNow: () => new Date(Date.now() + settings.APODIX_COURSE_SITE_CLOCK_MS),
  });
  const server = await new Promise<Server>((resolve, reject) => {
    const starting = app.listen(
      settings.APODIX_COURSE_SITE_PORT,
      settings.APODIX_COURSE_SITE_HOST,
      (error?: Error) => (error ? reject(error) : resolve(starting)),
    );
    starting.once('error', reject);
  });
  const { port } = server.address() as AddressInfo;
  return {
    url: `http://${settings.APODIX_COURSE_SITE_HOST}:${port}`,
    close: () =>
      new Promise((resolve) => {
        server.close(() => resolve());
        server.closeAllConnections();
      }),
  };
}
