import { ApodixError, isHeld } from '@apodix/core';
import { HandInRow } from '../data/models.ts';

/** Throws `IN_USE` where one of the made files was handed in or is on its way. */
export async function requireNotHandedIn(personId: string, madeIds: readonly string[]): Promise<void> {
  if (madeIds.length === 0) return;
  const handIns = await HandInRow.findAll({ where: { personId } });
  const isInUse = handIns.some(
    (row) =>
      (row.state === 'on-its-way' || isHeld(row.state)) &&
      row.frozen.files.some((file) => madeIds.includes(file.madeId)),
  );
  if (isInUse) throw new ApodixError('IN_USE');
}
