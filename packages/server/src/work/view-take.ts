import type { MadeView, TakeView } from '@apodix/core';
import type { MadeRow, TakeRow } from '../data/models.ts';
import type { WorkTake } from './load-work.ts';

/** Addresses of what there is to see of a take; null where it is not there. */
export function buildTakeUrls(row: TakeRow) {
  // What there is to see grows while a take is measured: each file has an address of its own.
  const url = (role: string, sha256: string | null | undefined) =>
    sha256 ? `/api/takes/${row.id}/files/${role}?of=${sha256.slice(0, 12)}` : null;
  return {
    proxyUrl: url('proxy', row.proxySha256),
    stripUrl: url('strip', row.stripSha256),
    posterUrl: url('poster', row.posterSha256),
    seriesUrl: url('series', row.seriesSha256),
    voiceUrl: url('voice', row.voiceSha256),
  };
}

/** How a take stands for an assignment: what serves another one may be of no use here. */
export const stateOf = (row: Pick<TakeRow, 'state'>, use: { readonly fault?: unknown }): TakeRow['state'] =>
  use.fault && row.state === 'ready' ? 'refused' : row.state;

export function viewTake({ row, use, recipe }: WorkTake, assignmentIds: readonly string[]): TakeView {
  const { id, name, sizeBytes, kind, facts, proposal } = row;
  return {
    id,
    name,
    origin: row.origin,
    note: row.note ?? null,
    sha256: row.sha256,
    createdAt: row.createdAt.toISOString(),
    sizeBytes,
    state: stateOf(row, use),
    assignmentIds: [...assignmentIds],
    isChosen: use.isChosen,
    kind,
    facts,
    draft: row.draft ?? null,
    filmstrip: row.filmstrip ?? null,
    choice: use.choice ?? null,
    isMadeAhead: use.isMadeAhead,
    fault: use.fault ?? row.fault,
    recipe: recipe ? { version: recipe.version, recipe: recipe.recipe } : null,
    proposal,
    samples: use.samples ?? null,
    ...buildTakeUrls(row),
  };
}

export function viewMade(row: MadeRow, isCurrent: boolean, sourceSha256: string | null): MadeView {
  const { id, takeId, fileName, sizeBytes, sha256, facts, findings, plan, comparison } = row;
  return {
    id,
    takeId,
    fileName,
    sizeBytes,
    sha256,
    sourceSha256,
    facts,
    findings,
    plan,
    comparison: comparison ?? null,
    moments: (row.moments ?? []).map(({ atUs, ssim }, index) => ({
      atUs,
      ssim,
      sourceUrl: `/api/made/${id}/files/moment-${index}-source`,
      madeUrl: `/api/made/${id}/files/moment-${index}-made`,
    })),
    isCurrent,
    createdAt: row.createdAt.toISOString(),
    fileUrl: `/api/made/${id}/files/file`,
    posterUrl: row.posterSha256 ? `/api/made/${id}/files/poster` : null,
  };
}
