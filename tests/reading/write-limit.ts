import { formatDuration, type Limit } from '@apodix/core';

const bounds = (min: number | string | null, max: number | string | null) =>
  min !== null && min === max ? `=${min}` : `${min ?? ''}..${max ?? ''}`;
const list = (limit: { wanted: readonly string[]; refused: readonly string[] }) =>
  [[...limit.wanted].sort().join('|'), limit.refused.length ? `!${[...limit.refused].sort().join('|')}` : '']
    .filter(Boolean)
    .join(' ');

function writeBytes(bytes: number | null): string | null {
  if (bytes === null) return null;
  if (bytes % 2 ** 20 === 0) return `${bytes / 2 ** 20}MiB`;
  return bytes >= 1e6 ? `${bytes / 1e6}MB` : `${bytes / 1e3}kB`;
}
const writeUs = (us: number | null) => (us === null ? null : formatDuration(us));

function writeCore(limit: Limit): string {
  switch (limit.kind) {
    case 'format':
      return `format ${list(limit)}`;
    case 'video-codec':
      return `vcodec ${list(limit)}`;
    case 'sound-codec':
      return `scodec ${list(limit)}`;
    case 'file-size':
      return `size ${bounds(writeBytes(limit.minBytes), writeBytes(limit.maxBytes))}`;
    case 'total-size':
      return `total ..${writeBytes(limit.maxBytes)}`;
    case 'length':
      return limit.isAbout
        ? `length ~${writeUs(limit.minUs ?? limit.maxUs)}`
        : `length ${bounds(writeUs(limit.minUs), writeUs(limit.maxUs))}`;
    case 'picture-edge':
      return `${limit.edge} ${bounds(limit.min, limit.max)}`;
    case 'aspect':
      return `aspect ${limit.width}:${limit.height}`;
    case 'orientation':
      return `held ${limit.wanted}`;
    case 'frame-rate':
      return `fps ${bounds(limit.min, limit.max)}`;
    case 'print-resolution':
      return `dpi ${limit.minDpi} ${limit.paperWidthMm}x${limit.paperHeightMm}`;
    case 'sound-present':
      return `sound ${limit.isWanted ? 'yes' : 'no'}`;
    case 'channels':
      return `channels ${limit.wanted}`;
    case 'sample-rate':
      return `rate ${bounds(limit.min, limit.max)}`;
    case 'loudness':
      return limit.min !== null && limit.max !== null && limit.max - limit.min <= 2
        ? `loud ${(limit.min + limit.max) / 2}`
        : `loud ${limit.min ?? ''}..${limit.max ?? ''}`;
    case 'true-peak':
      return `peak ${limit.maxDbtp}`;
    case 'no-clipping':
      return 'noclip';
    case 'one-take':
      return 'onetake';
    case 'whole-piece':
      return 'whole';
    case 'sharp':
      return 'sharp';
    case 'in-view':
      return `view ${limit.parts.join('+')}`;
    case 'different':
      return 'different';
    case 'file-name':
      return `name ${limit.pattern}`;
    case 'location-removed':
      return 'noplace';
    case 'count':
      return `count ${limit.item} ${limit.min}..${limit.max ?? ''}${limit.alternative ? ` @${limit.alternative}` : ''}`;
    case 'participants':
      return 'who';
    case 'note':
      return 'note';
    case 'own-work':
      return 'own';
    case 'due':
      return `due ${limit.hasTime ? limit.at : limit.at.slice(0, 10)}`;
    case 'late':
      return `late ${limit.isAllowed ? 'yes' : 'no'}`;
    case 'attempts':
      return `attempts ${limit.max}`;
    case 'points':
      return `points ${limit.points}`;
  }
}

/**
 * A limit in the short form in which the expectations are written. The target is told where the text speaks
 * of more than one kind of item.
 */
export function writeLimit(limit: Limit): string {
  const hasTarget = limit.appliesTo !== 'any' && limit.kind !== 'count';
  return `${writeCore(limit)}${hasTarget ? ` [${limit.appliesTo}]` : ''}${limit.severity === 'should' ? '?' : ''}`;
}
