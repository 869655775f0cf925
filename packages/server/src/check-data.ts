// npm run check-data [-- --read-bytes]: holds database and blobs against each other, and changes nothing. It
// ends with 0 where all that is spoken of is there and sound, else with 1.
import { join, resolve } from 'node:path';
import { openDatabase } from './data/open-database.ts';
import { checkData, isSound } from './references/check-data.ts';
import { DiskBlobStore } from './storage/disk-blob-store.ts';

const dataFolder = resolve(process.env.APODIX_DATA ?? './data');
const sequelize = await openDatabase(dataFolder);
try {
  const blobs = new DiskBlobStore(join(dataFolder, 'blobs'));
  const report = await checkData(sequelize, blobs, process.argv.includes('--read-bytes'));
  process.stdout.write(`${JSON.stringify({ isSound: isSound(report), ...report }, null, 2)}\n`);
  process.exitCode = isSound(report) ? 0 : 1;
} finally {
  await sequelize.close();
}
