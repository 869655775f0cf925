import * as fileRows from './file-rows.ts';
import * as parcelRows from './parcel-rows.ts';
import type { Limit, LimitKind, LimitOf } from './limit.ts';
import type { LimitRow } from './row.ts';

type LimitTable = { readonly [K in LimitKind]: LimitRow<K> };

/** Every kind of limit, complete by type: a kind without a row does not compile. */
export const limitTable: LimitTable = {
  format: fileRows.formatRow,
  'video-codec': fileRows.videoCodecRow,
  'sound-codec': fileRows.soundCodecRow,
  'file-size': fileRows.fileSizeRow,
  'total-size': parcelRows.totalSizeRow,
  length: fileRows.lengthRow,
  'picture-edge': fileRows.pictureEdgeRow,
  aspect: fileRows.aspectRow,
  orientation: fileRows.orientationRow,
  'frame-rate': fileRows.frameRateRow,
  'print-resolution': fileRows.printResolutionRow,
  'sound-present': fileRows.soundPresentRow,
  channels: fileRows.channelsRow,
  'sample-rate': fileRows.sampleRateRow,
  loudness: fileRows.loudnessRow,
  'true-peak': fileRows.truePeakRow,
  'no-clipping': fileRows.noClippingRow,
  'one-take': fileRows.oneTakeRow,
  'whole-piece': fileRows.wholePieceRow,
  sharp: fileRows.sharpRow,
  'file-name': fileRows.fileNameRow,
  'location-removed': fileRows.locationRemovedRow,
  count: parcelRows.countRow,
  participants: parcelRows.participantsRow,
  note: parcelRows.noteRow,
  'own-work': parcelRows.ownWorkRow,
  due: parcelRows.dueRow,
  late: parcelRows.lateRow,
  attempts: parcelRows.attemptsRow,
  points: parcelRows.pointsRow,
};

/** The row of a limit, typed for any limit; the table guarantees that row and limit belong together. */
export function findRow<L extends Limit>(limit: L): LimitRow<L['kind']> {
  return limitTable[limit.kind as LimitKind] as unknown as LimitRow<L['kind']>;
}

export function describeLimit(limit: Limit): { label: string; wanted: string } {
  const row = findRow(limit);
  const own = limit as LimitOf<typeof limit.kind>;
  return { label: row.label(own), wanted: row.wanted(own) };
}

/** Whether a limit is checked on one file or on the hand-in as a whole. */
export function findRowScope(limit: Limit): 'file' | 'parcel' {
  return findRow(limit).scope;
}
