import { HandInState, Limits, MediaKind, ParcelInput, Slot } from '@apodix/core';
import { QueryTypes } from 'sequelize';
import { z } from 'zod';
import { AssignmentRow } from '../data/models.ts';

const instant = z.string().transform((text) => new Date(text));
/** A JSON column within JSON. */
const text = <T extends z.ZodType>(schema: T) =>
  z
    .string()
    .transform((raw) => JSON.parse(raw) as unknown)
    .pipe(schema);
const flag = z.number().transform((value) => value === 1);

const Take = z
  .tuple([
    z.string(),
    flag,
    z.string().nullable(),
    flag,
    z.enum(['inspecting', 'ready', 'refused']),
    MediaKind.nullable(),
    flag,
    z.string().nullable(),
    z.string(),
    z.number().nullable(),
    z.string().nullable(),
  ])
  .transform(
    ([id, isChosen, choice, hasFault, state, kind, isShaped, posterSha256, sha256, version, seenAt]) => ({
      ...{ id, isChosen, choice, hasFault, state, kind, isShaped, posterSha256, sha256, version, seenAt },
    }),
  );

const Made = z
  .tuple([z.string(), z.string(), z.string(), z.number(), z.string(), instant])
  .transform(([id, takeId, fileName, sizeBytes, inputHash, createdAt]) => ({
    ...{ id, takeId, fileName, sizeBytes, inputHash, createdAt },
  }));

const HandIn = z
  .tuple([z.string(), HandInState, instant, instant.nullable(), z.string().nullable(), flag])
  .transform(([id, state, createdAt, receivedAt, receiptId, hasFeedback]) => ({
    ...{ id, state, createdAt, receivedAt, receiptId, hasFeedback },
  }));

/** All that a card follows from, but for the insides of recipes and files. */
export const CardFacts = z.object({
  kind: z.enum(['course', 'own', 'quick']),
  title: z.string(),
  limits: text(Limits),
  slots: text(z.array(Slot)),
  setAt: instant,
  dueAt: instant.nullable(),
  dueByGroup: text(z.array(z.object({ group: z.string(), dueAt: z.string() }))),
  isAnnounced: flag,
  courseTitle: z.string().nullable(),
  subject: z.string().nullable(),
  groupName: z.string().nullable(),
  ownLimits: text(Limits).nullable(),
  parcel: text(ParcelInput).nullable(),
  isChanged: flag,
  takes: z.array(Take),
  made: z.array(Made),
  handIns: z.array(HandIn),
});
export type CardFacts = z.infer<typeof CardFacts>;

// One row an assignment, with what is below it as JSON: handing thousands of rows over costs more than
// reading them. What is newest comes first.
const SELECT_CARDS = `
SELECT assignments.id AS id, json_object(
  'kind', assignments.kind, 'title', assignments.title, 'limits', assignments.limits, 'slots', assignments.slots,
  'setAt', assignments.setAt, 'dueAt', assignments.dueAt, 'dueByGroup', assignments.dueByGroup,
  'isAnnounced', assignments.isAnnounced, 'courseTitle', courses.title, 'subject', courses.subject,
  'groupName', enrolments.groupName, 'ownLimits', briefs.limits, 'parcel', parcels.parcel,
  'isChanged', EXISTS (SELECT 1 FROM assignment_changes WHERE assignmentId = assignments.id
                       AND createdAt > COALESCE(change_marks.seenAt, '')),
  'takes', (SELECT json_group_array(json_array(id, isChosen, choice, hasFault, state, kind, isShaped, posterSha256, sha256, version, seenAt))
    FROM (SELECT takes.id, uses.isChosen, uses.choice, uses.fault IS NOT NULL AS hasFault, takes.state, takes.kind, takes.isShaped,
            takes.posterSha256, takes.sha256, takes.seenAt, (SELECT MAX(version) FROM recipes WHERE takeId = takes.id) AS version
          FROM take_uses AS uses JOIN takes ON takes.id = uses.takeId
          WHERE uses.personId = :personId AND uses.assignmentId = assignments.id AND takes.removedAt IS NULL
          ORDER BY uses.createdAt DESC)),
  'made', (SELECT json_group_array(json_array(id, takeId, fileName, sizeBytes, inputHash, createdAt))
    FROM (SELECT id, takeId, fileName, sizeBytes, inputHash, createdAt FROM made_files
          WHERE personId = :personId AND assignmentId = assignments.id AND removedAt IS NULL
          ORDER BY createdAt DESC)),
  'handIns', (SELECT json_group_array(json_array(id, state, createdAt, receivedAt, receiptId, hasFeedback))
    FROM (SELECT id, state, createdAt, receivedAt, receiptId,
            EXISTS (SELECT 1 FROM feedback WHERE handInId = hand_ins.id) AS hasFeedback
          FROM hand_ins WHERE personId = :personId AND assignmentId = assignments.id
          ORDER BY createdAt DESC))
) AS facts
FROM assignments
LEFT JOIN courses ON courses.id = assignments.courseId
LEFT JOIN enrolments ON enrolments.courseId = assignments.courseId AND enrolments.personId = :personId AND enrolments.role = 'student'
LEFT JOIN briefs ON briefs.assignmentId = assignments.id AND briefs.personId = :personId
LEFT JOIN parcels ON parcels.assignmentId = assignments.id AND parcels.personId = :personId
LEFT JOIN change_marks ON change_marks.assignmentId = assignments.id AND change_marks.personId = :personId
WHERE assignments.removedAt IS NULL AND (enrolments.personId IS NOT NULL OR assignments.ownerId = :personId)`;

/** The text of `CardFacts` for each assignment that a person works on: the same text, the same card. */
export function readCardFacts(personId: string): Promise<{ id: string; facts: string }[]> {
  const { sequelize } = AssignmentRow;
  if (!sequelize) throw new TypeError('The tables are not bound.');
  return sequelize.query(SELECT_CARDS, { replacements: { personId }, type: QueryTypes.SELECT });
}
