import * as contentRows from './content-rows.ts';
import * as formatRows from './format-rows.ts';
import * as pictureRows from './picture-rows.ts';
import * as sizeRows from './size-rows.ts';
import * as soundRows from './sound-rows.ts';
import { inViewRow } from './in-view-row.ts';
import * as parcelRows from './parcel-rows.ts';
import type { Limit, LimitKind, LimitOf } from './limit.ts';
import type { LimitRow } from './row.ts';

type LimitTable = { readonly [K in LimitKind]: LimitRow<K> };

/** Every kind of limit, complete by type: a kind without a row does not compile. */
export const limitTable: LimitTable = {
  format: formatRows.formatRow,
  'video-codec': formatRows.videoCodecRow,
  'sound-codec': formatRows.soundCodecRow,
  'file-size': sizeRows.fileSizeRow,
  'total-size': parcelRows.totalSizeRow,
  length: sizeRows.lengthRow,
  'picture-edge': pictureRows.pictureEdgeRow,
  aspect: pictureRows.aspectRow,
  orientation: pictureRows.orientationRow,
  'frame-rate': pictureRows.frameRateRow,
  'print-resolution': pictureRows.printResolutionRow,
  'sound-present': soundRows.soundPresentRow,
  channels: soundRows.channelsRow,
  'sample-rate': soundRows.sampleRateRow,
  loudness: soundRows.loudnessRow,
  'true-peak': soundRows.truePeakRow,
  'no-clipping': soundRows.noClippingRow,
  'one-take': contentRows.oneTakeRow,
  'whole-piece': pictureRows.wholePieceRow,
  sharp: pictureRows.sharpRow,
  'in-view': inViewRow,
  different: parcelRows.differentRow,
  'file-name': formatRows.fileNameRow,
  'location-removed': contentRows.locationRemovedRow,
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
