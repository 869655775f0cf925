import {
  buildNameContext,
  findSlotOf,
  FitChoice,
  joinLimits,
  joinStates,
  Recipe,
  type AssignmentCard,
  type FindingState,
  type Limits,
  type MediaKind,
} from '@apodix/core';
import { setImmediate as giveWay } from 'node:timers/promises';
import { QueryTypes } from 'sequelize';
import {
  AssignmentChangeRow,
  BriefRow,
  ChangeMarkRow,
  CourseRow,
  EnrolmentRow,
  FeedbackRow,
  HandInRow,
  MadeRow,
  ParcelRow,
  TakeRow,
  TakeUseRow,
  type AssignmentRow,
  type PersonRow,
} from '../data/models.ts';
import { findAssignmentsOf, findDueAt } from './find-assignments.ts';
import { hashMakeInputs, isMadeMet } from './judge-files.ts';
import { Remembered } from './remembered.ts';
import { EMPTY_PARCEL, viewCard, type CardWork } from './view-card.ts';
import { stateOf } from './view-take.ts';

/** Others come to their turn after so long. */
const LONGEST_TURN_MS = 8;
const MOST_REMEMBERED = 20_000;

const CARD_COLUMNS = [
  'id',
  'kind',
  'courseId',
  'ownerId',
  'title',
  'limits',
  'slots',
  'setAt',
  'dueAt',
  'dueByGroup',
  'isAnnounced',
] as const;

type Take = Pick<TakeRow, 'id' | 'state' | 'kind' | 'isShaped' | 'posterSha256' | 'sha256'>;
type Use = {
  takeId: string;
  assignmentId: string;
  isChosen: number | boolean;
  choice: string | null;
  fault: string | null;
};
type Made = Pick<
  MadeRow,
  'id' | 'takeId' | 'assignmentId' | 'fileName' | 'sizeBytes' | 'inputHash' | 'createdAt'
>;
type NewestRecipe = { takeId: string; version: number; recipe: string };

const hashes = new Remembered<string>(MOST_REMEMBERED);
const provenStates = new Remembered<FindingState>(MOST_REMEMBERED);

/**
 * The cards of all of a person's assignments. Reads nothing heavy: of takes and made files only what a card
 * tells; what follows from their insides is remembered by what it follows from.
 */
export async function loadCards(person: PersonRow): Promise<AssignmentCard[]> {
  const assignments = await findAssignmentsOf(person, CARD_COLUMNS);
  const rows = await readRows(person);
  const cards: AssignmentCard[] = [];
  let turnAt = performance.now();
  for (const assignment of assignments) {
    cards.push(viewCard(await buildCardWork(person, assignment, rows)));
    if (performance.now() - turnAt < LONGEST_TURN_MS) continue;
    await giveWay();
    turnAt = performance.now();
  }
  return cards;
}

async function readRows(person: PersonRow) {
  const where = { personId: person.id };
  const raw = { raw: true } as const;
  const [courses, enrolments, briefs, takes, uses, made, parcels, handIns, recipes, changes, marks] =
    await Promise.all([
      CourseRow.findAll(),
      EnrolmentRow.findAll({ where: { ...where, role: 'student' } }),
      BriefRow.findAll({ where, attributes: ['personId', 'assignmentId', 'limits'] }),
      TakeRow.findAll({
        where: { ...where, removedAt: null },
        attributes: ['id', 'state', 'kind', 'isShaped', 'posterSha256', 'sha256'],
        ...raw,
      }) as Promise<Take[]>,
      TakeUseRow.findAll({
        where,
        attributes: ['takeId', 'assignmentId', 'isChosen', 'choice', 'fault'],
        order: [['createdAt', 'DESC']],
        ...raw,
      }) as unknown as Promise<Use[]>,
      MadeRow.findAll({
        where: { ...where, removedAt: null },
        attributes: ['id', 'takeId', 'assignmentId', 'fileName', 'sizeBytes', 'inputHash', 'createdAt'],
        order: [['createdAt', 'DESC']],
        ...raw,
      }) as Promise<Made[]>,
      ParcelRow.findAll({ where }),
      HandInRow.findAll({
        where,
        attributes: ['id', 'assignmentId', 'state', 'createdAt', 'receivedAt', 'receiptId'],
        order: [['createdAt', 'DESC']],
      }),
      readNewestRecipes(person.id),
      AssignmentChangeRow.findAll({ attributes: ['id', 'assignmentId', 'createdAt'] }),
      ChangeMarkRow.findAll({ where }),
    ]);
  const feedbacks = await FeedbackRow.findAll({
    where: { handInId: handIns.map((row) => row.id) },
    attributes: ['handInId'],
  });
  return {
    courses: new Map(courses.map((row) => [row.id, row])),
    groups: new Map(enrolments.map((row) => [row.courseId, row.groupName])),
    briefs: new Map(briefs.map((row) => [row.assignmentId, row])),
    takes: new Map(takes.map((row) => [row.id, row])),
    uses: groupByAssignment(uses),
    made: groupByAssignment(made),
    parcels: new Map(parcels.map((row) => [row.assignmentId, row])),
    handIns: groupByAssignment(handIns),
    recipes: new Map(recipes.map((row) => [row.takeId, row])),
    feedbacks: new Set(feedbacks.map((row) => row.handInId)),
    changes: groupByAssignment(changes),
    marks: new Map(marks.map((row) => [row.assignmentId, row.seenAt])),
  };
}
type Rows = Awaited<ReturnType<typeof readRows>>;

/** Only of takes that something was made of: for others nothing follows from the recipe yet. */
function readNewestRecipes(personId: string): Promise<NewestRecipe[]> {
  const sequelize = MadeRow.sequelize;
  if (!sequelize) throw new TypeError('The tables are not bound.');
  // In SQLite other columns beside MAX are those of its row (sqlite.org/lang_select, bare columns).
  return sequelize.query<NewestRecipe>(
    `SELECT takeId, MAX(version) AS version, recipe FROM recipes
     WHERE takeId IN (SELECT takeId FROM made_files WHERE personId = :personId) GROUP BY takeId`,
    { replacements: { personId }, type: QueryTypes.SELECT },
  );
}

function groupByAssignment<T extends { assignmentId: string }>(rows: readonly T[]): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const row of rows) {
    const group = groups.get(row.assignmentId);
    if (group) group.push(row);
    else groups.set(row.assignmentId, [row]);
  }
  return groups;
}

async function buildCardWork(person: PersonRow, assignment: AssignmentRow, rows: Rows): Promise<CardWork> {
  const { id } = assignment;
  const course = rows.courses.get(assignment.courseId ?? '') ?? null;
  const group = rows.groups.get(assignment.courseId ?? '') ?? null;
  const brief = rows.briefs.get(id);
  const { limits } = joinLimits(assignment, brief?.limits ?? null);
  const parcel = rows.parcels.get(id)?.parcel ?? EMPTY_PARCEL;
  const made = rows.made.get(id) ?? [];
  const uses = rows.uses.get(id) ?? [];
  const nameContext = buildNameContext({ person, title: assignment.title, courseTitle: course?.title ?? '' });
  // The text of the columns says all that limits and names say.
  const limitsKey = JSON.stringify([
    assignment.getDataValue('limits' as never),
    brief?.getDataValue('limits' as never) ?? null,
    assignment.isAnnounced,
  ]);
  const contextKey = JSON.stringify([limitsKey, nameContext]);
  const placing = { slots: assignment.slots, items: parcel.items, made };
  const judged: CardWork['made'][number][] = [];
  for (const row of made) {
    const take = rows.takes.get(row.takeId);
    const slotId = take ? findSlotOf(placing, take) : null;
    const use = uses.find((each) => each.takeId === row.takeId);
    const inputs = { limits, limitsKey, subject: course?.subject ?? '', slotId };
    judged.push({
      id: row.id,
      fileName: row.fileName,
      sizeBytes: row.sizeBytes,
      createdAt: new Date(row.createdAt),
      isCurrent:
        take !== undefined && use !== undefined && row.inputHash === hashOf(take, use, rows.recipes, inputs),
      isEveryMustMet: await isMadeMet(row, { limits, nameContext, slotId }, contextKey),
    });
  }
  const handIns: CardWork['handIns'][number][] = [];
  for (const row of rows.handIns.get(id) ?? []) {
    const { state, createdAt, receivedAt, receiptId } = row;
    handIns.push({
      id: row.id,
      state,
      createdAt,
      receivedAt,
      receiptId,
      proven: await readProven(row.id),
      hasFeedback: rows.feedbacks.has(row.id),
    });
  }
  const newestChange = Math.max(0, ...(rows.changes.get(id) ?? []).map((row) => row.createdAt.getTime()));
  return {
    assignment,
    course,
    dueAt: findDueAt(assignment, group),
    limits,
    takes: uses.flatMap((use) => {
      const take = rows.takes.get(use.takeId);
      return take
        ? [
            {
              ...take,
              state: stateOf(take, use),
              isShaped: Boolean(take.isShaped),
              isChosen: Boolean(use.isChosen),
            },
          ]
        : [];
    }),
    made: judged,
    parcel,
    handIns,
    isChanged: newestChange > (rows.marks.get(id)?.getTime() ?? 0),
  };
}

/** The hash of what a take would be made by now; null where it cannot be made. */
function hashOf(
  take: Take,
  use: Use,
  recipes: ReadonlyMap<string, NewestRecipe>,
  inputs: { limits: Limits; limitsKey: string; subject: string; slotId: string | null },
): string | null {
  const newest = recipes.get(take.id);
  const kind = take.kind as MediaKind | null;
  if (!newest || kind === null) return null;
  const { limits, limitsKey, subject, slotId } = inputs;
  const key = JSON.stringify([take.id, newest.version, use.choice, limitsKey, subject, slotId]);
  return (
    hashes.get(key) ??
    hashes.set(
      key,
      hashMakeInputs({
        sha256: take.sha256,
        kind,
        recipe: Recipe.parse(JSON.parse(newest.recipe)),
        choice: use.choice === null ? null : FitChoice.parse(JSON.parse(use.choice)),
        limits,
        subject,
        slotId,
      }),
    )
  );
}

/** How a hand-in stands by the findings that were frozen with it; they never change. */
async function readProven(handInId: string): Promise<FindingState> {
  const known = provenStates.get(handInId);
  if (known !== undefined) return known;
  const row = await HandInRow.findByPk(handInId, { attributes: ['id', 'frozen'] });
  return provenStates.set(handInId, judgeFrozen(row));
}

export function judgeFrozen(row: Pick<HandInRow, 'frozen'> | null): FindingState {
  const findings = row?.frozen.files.flatMap((file) => file.findings) ?? [];
  return joinStates(findings.filter((finding) => finding.severity === 'must'));
}
