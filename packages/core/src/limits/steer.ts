import type { MediaKind } from '../media/containers.ts';
import { isOpen, OPEN_CEILINGS, type Ceilings } from './ceilings.ts';
import { SLOT_TARGET, type Limit, type LimitOf } from './limit.ts';
import { findRow } from './table.ts';

export interface SteerOptions {
  /** The slot that the file is meant for; null where that is open. */
  readonly slotId?: string | null;
}

/**
 * What all limits that concern a kind of file leave open, the tightest of each. Every *must* counts; a
 * *should* counts where it leaves something open beside them.
 */
export function readCeilings(
  limits: readonly Limit[],
  kind: MediaKind,
  options: SteerOptions = {},
): Ceilings {
  const relevant = limits.filter((limit) => isLimitForKind(limit, kind, limits, options.slotId ?? null));
  const context = { fileCount: countFiles(limits) };
  const steerBy = (ceilings: Ceilings, limit: Limit) => findRow(limit).steer(limit, ceilings, context);
  const musts = relevant.filter((limit) => limit.severity === 'must').reduce(steerBy, OPEN_CEILINGS);
  return relevant
    .filter((limit) => limit.severity === 'should')
    .reduce((ceilings, limit) => {
      const next = steerBy(ceilings, limit);
      return isOpen(next) ? next : ceilings;
    }, musts);
}

/** Whether a limit speaks about files of this kind, and of this slot where it names one. */
export function isLimitForKind(
  limit: Limit,
  kind: MediaKind,
  limits: readonly Limit[],
  slotId: string | null,
): boolean {
  const target = limit.appliesTo;
  if (target.startsWith(SLOT_TARGET)) return slotId !== null && target === `${SLOT_TARGET}${slotId}`;
  if (target === 'any' || target === kind) return true;
  if (kind === 'document') return target === 'photo';
  return kind === 'photo' && target === 'document' && isDocumentWanted(limits);
}

/** How many files are handed in together, by what the limits say; 1 where they say nothing. */
export function countFiles(limits: readonly Limit[]): number {
  const counts = limits.filter(
    (limit): limit is LimitOf<'count'> =>
      limit.kind === 'count' && limit.item !== 'text' && limit.item !== 'link',
  );
  const sumOf = (of: readonly LimitOf<'count'>[]) =>
    of.reduce((sum, limit) => sum + (limit.max ?? Math.max(1, limit.min)), 0);
  const letters = new Set(counts.map((limit) => limit.alternative).filter((letter) => letter !== null));
  const ways = [...letters].map((letter) => sumOf(counts.filter((limit) => limit.alternative === letter)));
  return Math.max(1, sumOf(counts.filter((limit) => limit.alternative === null)) + Math.max(0, ...ways));
}

/**
 * Pictures go into a document where a document is the only thing that limits on pictures or documents ask
 * for.
 */
export function isDocumentWanted(limits: readonly Limit[]): boolean {
  const formats = limits.filter(
    (limit): limit is LimitOf<'format'> => limit.kind === 'format' && limit.wanted.length > 0,
  );
  const ofPictures = formats.filter((limit) => limit.appliesTo === 'any' || limit.appliesTo === 'photo');
  return (
    formats.some((limit) => limit.appliesTo === 'document' && limit.wanted.includes('pdf')) &&
    ofPictures.every((limit) => limit.wanted.includes('pdf'))
  );
}
