import type { Logger } from 'pino';
import { Op } from 'sequelize';
import type { BlobStore } from '../blobs/disk-blob-store.ts';
import { sweepBlobs } from '../blobs/release-blobs.ts';
import { JobRow, SessionRow } from '../data/models.ts';

const DAY_MS = 86_400_000;
/** Jobs that have ended are kept for so long: a page may still ask for them. */
const JOB_DAYS = 30;

/** Clears away what nobody needs any more: sessions that have run out, old jobs, bytes without an owner. */
export async function tidyUp(blobs: BlobStore, log: Logger, now = new Date()): Promise<void> {
  try {
    await SessionRow.destroy({ where: { expiresAt: { [Op.lt]: now } } });
    await JobRow.destroy({
      where: {
        state: { [Op.in]: ['done', 'failed', 'cancelled'] },
        createdAt: { [Op.lt]: new Date(now.getTime() - JOB_DAYS * DAY_MS) },
      },
    });
    await sweepBlobs(blobs);
  } catch (error) {
    log.error({ err: error }, 'What is not needed any more could not be cleared away');
  }
}
