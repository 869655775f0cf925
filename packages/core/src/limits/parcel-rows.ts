import { tightenMax } from './ceilings.ts';
import { byPerson, leavesOpen, neverRefuses, type LimitRow } from './row.ts';
import type { LimitKind } from './limit.ts';
import { writeBytes, writeLocalTime } from './words.ts';

const never = () => false;
const later = () => ({
  state: 'unknown' as const,
  figure: null,
  method: 'contents of the parcel',
  reason: 'told in Hand in',
});

function buildParcelRow<K extends LimitKind>(
  kind: K,
  label: LimitRow<K>['label'],
  wanted: LimitRow<K>['wanted'],
  advice: string,
): LimitRow<K> {
  return {
    kind,
    scope: 'parcel',
    judgedBy: 'machine',
    label,
    wanted,
    concerns: never,
    check: later,
    steer: leavesOpen,
    refuse: neverRefuses,
    fix: () => byPerson(advice),
  };
}

const itemLabels = {
  video: 'Performance video',
  sound: 'Sound recording',
  photo: 'Photographs',
  document: 'Document',
  text: 'Typed answer',
  link: 'Link',
} as const;

export const totalSizeRow: LimitRow<'total-size'> = {
  ...buildParcelRow(
    'total-size',
    () => 'Size of all files',
    (limit) => `at most ${writeBytes(limit.maxBytes)}`,
    'Make the files smaller, or hand in fewer.',
  ),
  // Each file gets an equal share.
  steer: (limit, ceilings, { fileCount }) => ({
    ...ceilings,
    maxBytes: tightenMax(ceilings.maxBytes, Math.floor(limit.maxBytes / Math.max(1, fileCount))),
  }),
};
export const countRow = buildParcelRow(
  'count',
  (limit) => limit.label ?? itemLabels[limit.item],
  (limit) =>
    limit.max === null
      ? `at least ${limit.min}`
      : limit.min === limit.max
        ? String(limit.min)
        : `${limit.min} to ${limit.max}`,
  'Put the missing files in.',
);
export const differentRow = buildParcelRow(
  'different',
  () => 'Different files',
  () => 'no two the same',
  'Put another one in the place of what is there twice.',
);
export const participantsRow = buildParcelRow(
  'participants',
  () => 'Who took part',
  () => 'wanted',
  'Write the names of everyone who took part.',
);
export const noteRow = buildParcelRow(
  'note',
  () => 'Note to the teacher',
  () => 'wanted',
  'Write a note.',
);
export const dueRow = buildParcelRow(
  'due',
  () => 'Due',
  (limit) => writeLocalTime(limit.at, limit.hasTime),
  'Hand it in before then.',
);
export const lateRow = buildParcelRow(
  'late',
  () => 'Late work',
  (limit) => (limit.isAllowed ? 'taken' : 'not taken'),
  'Hand it in in time.',
);
export const attemptsRow = buildParcelRow(
  'attempts',
  () => 'Attempts',
  (limit) => `at most ${limit.max}`,
  'Ask your teacher for another attempt.',
);
export const pointsRow = buildParcelRow(
  'points',
  () => 'Points',
  (limit) => [String(limit.points), ...limit.rubric.map((row) => `${row.label} ${row.points}`)].join(' · '),
  'Nothing to do: this is how it is marked.',
);
export const ownWorkRow = buildParcelRow(
  'own-work',
  () => 'Statement of own work',
  () => 'wanted',
  'Tick the statement.',
);
