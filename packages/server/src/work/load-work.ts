import {
  type Answers,
  ApodixError,
  buildNameContext,
  EMPTY_SERIES,
  findSlotOf,
  isEveryMustMet,
  joinLimits,
  planTake,
  type MediaFacts,
  type Recipe,
  type JoinedLimits,
  type Limits,
  type NameContext,
  type ParcelInput,
  type PlanResult,
  type TakeSeries,
  type TakeToPlan,
  type WorkToPlan,
} from '@apodix/core';
import { Op } from 'sequelize';
import {
  AssignmentChangeRow,
  AssignmentRow,
  BriefAnswersRow,
  BriefRow,
  ChangeMarkRow,
  CourseRow,
  EnrolmentRow,
  FeedbackRow,
  HandInRow,
  MadeRow,
  ParcelRow,
  PersonRow,
  RecipeRow,
  TakeRow,
  TakeUseRow,
} from '../data/models.ts';
import type { SeriesCache } from '../storage/series-cache.ts';
import { findDueAt } from './find-due-at.ts';
import { hashMakeInputs, judgeAnew } from './judge-files.ts';
import { EMPTY_PARCEL } from './view-card.ts';

/** A take in the service of an assignment. */
export interface WorkTake {
  readonly row: TakeRow;
  readonly use: TakeUseRow;
  /** The newest version. */
  readonly recipe: RecipeRow | null;
}

/** One person's work on one assignment, as it lies in the database. */
export interface Work {
  readonly person: PersonRow;
  readonly assignment: AssignmentRow;
  readonly course: CourseRow | null;
  /** The group of the course that the person is in. */
  readonly group: string | null;
  /** What the course asks for, joined with the person's own reading. */
  readonly joined: JoinedLimits;
  readonly limits: Limits;
  readonly instructions: string;
  readonly isBriefChanged: boolean;
  /** What the person chose where the instructions can be read in two ways. */
  readonly answers: Answers;
  /** For the person's own group, where groups differ. */
  readonly dueAt: Date | null;
  readonly takes: WorkTake[];
  readonly made: MadeRow[];
  readonly parcel: ParcelInput;
  readonly handIns: HandInRow[];
  readonly feedbacks: Map<string, FeedbackRow>;
  /** What the teacher changed and the person has not confirmed; oldest first. */
  readonly changes: AssignmentChangeRow[];
}

export async function loadWork(person: PersonRow, assignment: AssignmentRow): Promise<Work> {
  const where = { personId: person.id, assignmentId: assignment.id };
  const newestFirst: [[string, string]] = [['createdAt', 'DESC']];
  const courseId = assignment.courseId ?? '';
  const [course, enrolment, brief, answersRow, uses, made, parcelRow, handIns, changes, mark] =
    await Promise.all([
      CourseRow.findByPk(courseId),
      EnrolmentRow.findOne({ where: { personId: person.id, courseId, role: 'student' } }),
      BriefRow.findOne({ where }),
      BriefAnswersRow.findOne({ where }),
      TakeUseRow.findAll({ where, order: newestFirst }),
      MadeRow.findAll({ where: { ...where, removedAt: null }, order: newestFirst }),
      ParcelRow.findOne({ where }),
      HandInRow.findAll({ where, order: newestFirst }),
      AssignmentChangeRow.findAll({ where: { assignmentId: assignment.id }, order: [['createdAt', 'ASC']] }),
      ChangeMarkRow.findOne({ where }),
    ]);
  const takeIds = uses.map((row) => row.takeId);
  const [takeRows, recipes, feedbacks] = await Promise.all([
    TakeRow.findAll({ where: { id: { [Op.in]: takeIds }, removedAt: null } }),
    RecipeRow.findAll({ where: { takeId: { [Op.in]: takeIds } }, order: [['version', 'ASC']] }),
    FeedbackRow.findAll({ where: { handInId: { [Op.in]: handIns.map((row) => row.id) } } }),
  ]);
  const newest = new Map(recipes.map((row) => [row.takeId, row]));
  const takes = uses.flatMap((use): WorkTake[] => {
    const row = takeRows.find((each) => each.id === use.takeId);
    return row ? [{ row, use, recipe: newest.get(row.id) ?? null }] : [];
  });
  const joined = joinLimits(assignment, brief?.limits ?? null);
  const group = enrolment?.groupName ?? null;
  const work: Work = {
    person,
    assignment,
    course,
    group,
    joined,
    limits: joined.limits,
    instructions: brief?.instructions ?? assignment.instructions,
    isBriefChanged: brief !== null,
    answers: answersRow?.answers ?? {},
    dueAt: findDueAt(assignment, group),
    takes,
    made,
    parcel: parcelRow?.parcel ?? EMPTY_PARCEL,
    handIns,
    feedbacks: new Map(feedbacks.map((row) => [row.handInId, row])),
    changes: changes.filter((row) => row.createdAt.getTime() > (mark?.seenAt.getTime() ?? 0)),
  };
  const nameContext = findNameContext(work);
  for (const row of made) {
    const take = takes.find((each) => each.row.id === row.takeId)?.row;
    const slotId = take ? findSlotOf(placeWork(work), take) : null;
    row.findings = judgeAnew(row, take, { limits: work.limits, nameContext, slotId });
  }
  return work;
}

/** The same by the ids that a job holds. Throws `CANCELLED` where person or assignment are there no more. */
export async function requireWork(of: { personId: string; assignmentId: string | null }): Promise<Work> {
  const [person, assignment] = await Promise.all([
    PersonRow.findByPk(of.personId),
    AssignmentRow.findByPk(of.assignmentId ?? ''),
  ]);
  if (!person || !assignment) throw new ApodixError('CANCELLED');
  return loadWork(person, assignment);
}

/** What plans and slots follow from. */
export function placeWork(work: Work): WorkToPlan {
  const { person, assignment, course, limits, parcel, made } = work;
  return {
    person,
    title: assignment.title,
    courseTitle: course?.title ?? '',
    subject: course?.subject ?? '',
    limits,
    slots: assignment.slots,
    items: parcel.items,
    made,
  };
}

export const findNameContext = (work: Work): NameContext | null => buildNameContext(placeWork(work));

export const findTake = (work: Work, takeId: string): WorkTake | null =>
  work.takes.find((each) => each.row.id === takeId) ?? null;

/** Takes of the same work that a recipe names beside its own, as far as they are there and measured. */
export function findOtherTakes(work: Work, recipe: Recipe): (WorkTake & { facts: MediaFacts })[] {
  return recipe.sources.flatMap(({ takeId }) => {
    const found = takeId === null ? null : findTake(work, takeId);
    return found?.row.facts ? [{ ...found, facts: found.row.facts }] : [];
  });
}

const describeTake = ({ row, use }: WorkTake): TakeToPlan => ({
  id: row.id,
  name: row.name,
  kind: row.kind,
  facts: row.facts,
  samples: use.samples ?? null,
  choice: use.choice ?? null,
});

/** The hash of what a take would be made by now; null while it cannot be made. */
export function hashTake(work: Work, take: WorkTake): string | null {
  const { row, use, recipe } = take;
  if (row.kind === null || !row.facts || !recipe) return null;
  return hashMakeInputs({
    sha256: row.sha256,
    kind: row.kind,
    recipe: recipe.recipe,
    choice: use.choice ?? null,
    limits: work.limits,
    subject: work.course?.subject ?? '',
    slotId: findSlotOf(placeWork(work), row),
  });
}

/** The plan of a take with the hash of what it follows from; null while it is not measured. */
export async function planWorkTake(
  work: Work,
  take: WorkTake,
  series: SeriesCache,
): Promise<{ inputHash: string; result: PlanResult } | null> {
  const inputHash = hashTake(work, take);
  const own = await readSeriesOf(take.row, series);
  const recipe = take.recipe?.recipe ?? null;
  const others = await Promise.all(
    (recipe ? findOtherTakes(work, recipe) : []).map(async ({ row, facts }) => ({
      takeId: row.id,
      facts,
      series: await readSeriesOf(row, series),
    })),
  );
  const result = planTake(placeWork(work), describeTake(take), recipe, own, others);
  return inputHash === null || result === null ? null : { inputHash, result };
}

/** The series of a take; empty ones for what stands still. */
export async function readSeriesOf(take: TakeRow, series: SeriesCache): Promise<TakeSeries> {
  return take.seriesSha256 ? series.read(take.seriesSha256) : EMPTY_SERIES;
}

/** Made files that still follow from take, recipe and limits, by their ids. */
export function findCurrentMade(work: Work): Set<string> {
  const hashes = new Map(work.takes.map((take) => [take.row.id, hashTake(work, take)]));
  return new Set(work.made.filter((row) => hashes.get(row.takeId) === row.inputHash).map((row) => row.id));
}

export const isMet = (row: MadeRow) => isEveryMustMet(row.findings);
