import { ApodixError, formatBytes } from '@apodix/core';
import { MadeRow, TakeRow, type PersonRow } from '../data/models.ts';
import type { ServerSettings } from '../services/settings.ts';

/** Bytes of all recordings and made files of a person, those too that can still be brought back. */
export async function sumUsedBytes(personId: string): Promise<number> {
  const where = { personId };
  const [takes, made] = await Promise.all([
    TakeRow.sum('sizeBytes', { where }),
    MadeRow.sum('sizeBytes', { where }),
  ]);
  return (takes ?? 0) + (made ?? 0);
}

export function findQuota(person: Pick<PersonRow, 'role'>, settings: ServerSettings): number {
  return person.role === 'guest' ? settings.APODIX_GUEST_QUOTA_BYTES : settings.APODIX_QUOTA_BYTES;
}

/** Throws `QUOTA_FULL` where so many more bytes are more than the person has room for. */
export async function requireRoom(
  person: PersonRow,
  moreBytes: number,
  settings: ServerSettings,
): Promise<void> {
  const [used, quota] = [await sumUsedBytes(person.id), findQuota(person, settings)];
  if (used + moreBytes <= quota) return;
  const left = formatBytes(Math.max(0, quota - used));
  throw new ApodixError('QUOTA_FULL', {
    detail: `${formatBytes(moreBytes)} are to come in, and there is room for ${left}.`,
  });
}
