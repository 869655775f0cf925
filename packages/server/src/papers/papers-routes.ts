import { ApodixError, KeyedLock } from '@apodix/core';
import { readPaper } from '@apodix/engine';
import { randomUUID } from 'node:crypto';
import { mkdir, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { need, type Handlers } from '../routing/call.ts';

const folderOf = (dataFolder: string) => join(dataFolder, 'papers');

/** Clears away what lay there to be read when the last process ended: of papers nothing is kept. */
export const forgetPapers = (dataFolder: string): Promise<void> =>
  rm(folderOf(dataFolder), { recursive: true, force: true });

/** Recognising takes a whole core for some seconds: one paper after another. */
const lock = new KeyedLock();

export const papersRoutes: Handlers<'readPaper'> = {
  readPaper: async ({ granted, body, response, services }) => {
    need(granted.person);
    const bytes = Buffer.from(body.dataBase64, 'base64');
    const folder = folderOf(services.settings.APODIX_DATA);
    const path = join(folder, randomUUID());
    const gone = new AbortController();
    response.on('close', () => gone.abort());
    try {
      await mkdir(folder, { recursive: true });
      await writeFile(path, bytes);
      return await lock.run('paper', async () => {
        if (gone.signal.aborted) throw new ApodixError('CANCELLED');
        return readPaper(path, gone.signal);
      });
    } finally {
      await rm(path, { force: true });
    }
  },
};
