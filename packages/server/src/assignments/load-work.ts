import {
  buildPlan,
  findMissing,
  findStanding,
  isHeld,
  findPreference,
  findSoundNeed,
  isEveryMustMet,
  judgeMade,
  judgeWork,
  readCeilings,
  type AssignmentCard,
  type AssignmentView,
  type Limit,
  type MadeView,
  type NameContext,
  type ParcelInput,
  type TakeView,
  EMPTY_SERIES,
  joinStates,
  type FindingState,
  findSlotItem,
  readPlanRecipe,
  type JudgeContext,
  type MadeOrigin,
  type PlanResult,
  type TakeSeries,
} from '@apodix/core';
import { Op } from 'sequelize';
import {
  AssignmentRow,
  AuditRow,
  BriefRow,
  CourseRow,
  EnrolmentRow,
  FeedbackRow,
  HandInRow,
  JobRow,
  MadeRow,
  ParcelRow,
  PersonRow,
  RecipeRow,
  TakeRow,
} from '../data/models.ts';
import type { SeriesCache } from '../blobs/series-cache.ts';
import { viewJob } from '../jobs/job-runner.ts';
import { hashInput } from '../jobs/hash-input.ts';

export const EMPTY_PARCEL: ParcelInput = {
  text: { note: '', participants: '', isOwnWork: false },
  items: [],
};

/** One person's work on one assignment, as it lies in the database. */
export interface Work {
  readonly person: PersonRow;
  readonly assignment: AssignmentRow;
  readonly course: CourseRow | null;
  /** The group of the course that the person is in. */
  readonly group: string | null;
  /** Limits as the person has corrected them, else the course's own. */
  readonly limits: Limit[];
  readonly instructions: string;
  readonly isBriefChanged: boolean;
  /** For the person's own group, where groups differ. */
  readonly dueAt: Date | null;
  readonly takes: TakeRow[];
  readonly recipes: Map<string, RecipeRow>;
  readonly made: MadeRow[];
  readonly parcel: ParcelInput;
  readonly handIns: HandInRow[];
  readonly feedbacks: Map<string, FeedbackRow>;
}

/** The assignments that a person may see: those of their courses and their own. */
export async function findAssignmentsOf(person: PersonRow): Promise<AssignmentRow[]> {
  const enrolments = await EnrolmentRow.findAll({ where: { personId: person.id, role: 'student' } });
  return AssignmentRow.findAll({
    where: {
      [Op.or]: [{ courseId: { [Op.in]: enrolments.map((row) => row.courseId) } }, { ownerId: person.id }],
    },
  });
}

/** Loads the work on many assignments with a fixed number of queries, however many there are. */
export async function loadWorks(person: PersonRow, assignments: readonly AssignmentRow[]): Promise<Work[]> {
  const where = { personId: person.id, assignmentId: { [Op.in]: assignments.map((row) => row.id) } };
  const [courses, enrolments, briefs, takes, made, parcels, handIns] = await Promise.all([
    CourseRow.findAll(),
    EnrolmentRow.findAll({ where: { personId: person.id, role: 'student' } }),
    BriefRow.findAll({ where }),
    TakeRow.findAll({ where, order: [['createdAt', 'DESC']] }),
    MadeRow.findAll({ where, order: [['createdAt', 'DESC']] }),
    ParcelRow.findAll({ where }),
    HandInRow.findAll({ where, order: [['createdAt', 'DESC']] }),
  ]);
  const [recipes, feedbacks] = await Promise.all([
    RecipeRow.findAll({
      where: { takeId: { [Op.in]: takes.map((row) => row.id) } },
      order: [['version', 'ASC']],
    }),
    FeedbackRow.findAll({ where: { handInId: { [Op.in]: handIns.map((row) => row.id) } } }),
  ]);
  const newest = new Map(recipes.map((row) => [row.takeId, row]));
  return assignments.map((assignment) => {
    const isOf = (row: { assignmentId: string }) => row.assignmentId === assignment.id;
    const brief = briefs.find(isOf);
    const group = enrolments.find((row) => row.courseId === assignment.courseId)?.groupName ?? null;
    const limits = brief?.limits ?? assignment.limits;
    const course = courses.find((row) => row.id === assignment.courseId) ?? null;
    const nameContext = buildNameContext({ person, assignment, course });
    const parcel = parcels.find(isOf)?.parcel ?? EMPTY_PARCEL;
    const own = made.filter(isOf);
    for (const row of own) {
      const take = takes.find((each) => each.id === row.takeId);
      const slotId = take ? findSlotOf({ assignment, parcel, made: own }, take) : null;
      judgeAnew(row, take, { limits, nameContext, slotId });
    }
    const ownDue = assignment.dueByGroup.find((each) => each.group === group)?.dueAt;
    return {
      person,
      assignment,
      group,
      limits,
      instructions: brief?.instructions ?? assignment.instructions,
      isBriefChanged: brief !== undefined,
      dueAt: ownDue === undefined ? assignment.dueAt : new Date(ownDue),
      course,
      takes: takes.filter(isOf),
      recipes: newest,
      made: own,
      parcel,
      handIns: handIns.filter(isOf),
      feedbacks: new Map(feedbacks.map((row) => [row.handInId, row])),
    };
  });
}

/** Holds a made file against the limits as they are now; what the proof found stays. */
function judgeAnew(row: MadeRow, take: TakeRow | undefined, context: JudgeContext): void {
  row.findings = [
    ...judgeMade(row.facts, row.fileName, readOrigin(row, take), context),
    ...row.findings.filter((finding) => finding.of === 'proof'),
  ];
}

/**
 * What is known of the recording that a made file comes from: the kept part as its findings told, else all of
 * it.
 */
export function readOrigin(row: MadeRow, take: TakeRow | undefined): MadeOrigin {
  const told = row.findings.find((finding) => finding.of === 'limit' && finding.kind === 'no-clipping');
  const whole = take?.facts?.sound?.clippedCount ?? null;
  const kept = told?.unit === 'place' ? told.value : told?.state === 'met' ? 0 : whole;
  return {
    spanCount: Math.max(1, readPlanRecipe(row.plan).spans.length),
    clippedCount: whole === 0 ? 0 : kept,
    continuity: take?.facts?.continuity ?? null,
  };
}

/**
 * The slot that what is made of a take is meant for: where it is, else the first of its kind that has room.
 */
export function findSlotOf(
  work: Pick<Work, 'assignment' | 'parcel' | 'made'>,
  take: Pick<TakeRow, 'id' | 'kind'>,
): string | null {
  const own = work.made.filter((row) => row.takeId === take.id).map((row) => row.id);
  const there = work.parcel.items.find((item) => own.includes(item.madeId));
  if (there) return there.slotId;
  const { kind } = take;
  const slots = work.assignment.slots.filter((slot) => kind !== null && slot.item === findSlotItem(kind));
  const countIn = (slotId: string) => work.parcel.items.filter((item) => item.slotId === slotId).length;
  return (slots.find((slot) => countIn(slot.id) < slot.max) ?? slots[0])?.id ?? null;
}

export async function loadWork(person: PersonRow, assignment: AssignmentRow): Promise<Work> {
  const [work] = await loadWorks(person, [assignment]);
  if (!work) throw new TypeError('There is always one work.');
  return work;
}

/** Who and what file names are made of; null for a guest, who has no name. */
export function buildNameContext(work: Pick<Work, 'person' | 'assignment' | 'course'>): NameContext | null {
  const { person, assignment, course } = work;
  if (person.role === 'guest') return null;
  return {
    surname: person.surname,
    firstName: person.firstName,
    piece: assignment.title.split(/[,:]/)[0] ?? assignment.title,
    course: course?.title ?? '',
    candidateNumber: person.candidateNumber,
  };
}

/** Raised whenever the same input would be made or proven otherwise. */
const PIPELINE_VERSION = 2;

/**
 * What decides how a file is made, as one hash: take, recipe, choice, what the limits leave open for such a
 * file, and the subject. A name that is wanted, a due time or the like are not part of it, so that a change
 * there makes nothing anew; no series is read for it.
 */
export function hashTake(work: Work, take: TakeRow): string | null {
  const recipe = work.recipes.get(take.id)?.recipe;
  if (!take.facts || !recipe) return null;
  const slotId = findSlotOf(work, take);
  const ceilings = (['sound', take.facts.kind] as const).map((kind) => ({
    ...readCeilings(work.limits, kind, { slotId }),
    namePattern: null,
  }));
  const subject = work.course?.subject ?? '';
  const choice = take.choice ?? null;
  return hashInput({ version: PIPELINE_VERSION, take: take.sha256, recipe, choice, ceilings, subject });
}

/** The plan of a take; null while it is not measured. */
export async function planTake(
  work: Work,
  take: TakeRow,
  series: SeriesCache,
): Promise<{ inputHash: string; result: PlanResult } | null> {
  const recipe = work.recipes.get(take.id)?.recipe;
  const inputHash = hashTake(work, take);
  if (!take.facts || !recipe || inputHash === null) return null;
  const subject = work.course?.subject ?? '';
  const own = await readSeriesOf(take, series);
  const result = buildPlan({
    facts: take.facts,
    recipe,
    limits: work.limits,
    series: own,
    soundNeed: findSoundNeed(subject, own.peaks),
    takeName: take.name,
    nameContext: buildNameContext(work),
    samples: take.samples,
    choice: take.choice ?? null,
    preference: findPreference(subject),
    slotId: findSlotOf(work, take),
  });
  return { result, inputHash };
}

/** The series of a take; empty ones for what stands still. */
export async function readSeriesOf(take: TakeRow, series: SeriesCache): Promise<TakeSeries> {
  return take.seriesSha256 ? series.read(take.seriesSha256) : EMPTY_SERIES;
}

/** How the hand-in that was received stands, by the findings that were frozen with it. */
function judgeHandedIn(work: Work): FindingState | null {
  const received = work.handIns.find((row) => isHeld(row.state));
  const findings = received?.frozen.files.flatMap((file) => file.findings) ?? [];
  return received ? joinStates(findings.filter((finding) => finding.severity === 'must')) : null;
}

export function viewCard(work: Work): AssignmentCard {
  const { assignment, course } = work;
  const current = findCurrentMade(work);
  const standing = findStanding(work.handIns);
  const missing = findMissingOf(work);
  const newestMade = work.made[0];
  const situation = judgeWork({
    wanted: assignment.slots.reduce((sum, slot) => sum + slot.min, 0) || 1,
    takes: work.takes.filter((take) => take.state === 'ready').length,
    refusedTakes: work.takes.filter((take) => take.state === 'refused').length,
    inspecting: work.takes.filter((take) => take.state === 'inspecting').length,
    shaped: work.takes.filter((take) => take.isShaped).length,
    proven: current.filter((row) => isEveryMustMet(row.findings)).length,
    madeShort: current.filter((row) => !isEveryMustMet(row.findings)).length,
    missing,
    handIn: standing?.state ?? null,
    hasFeedback: standing !== null && work.feedbacks.has(standing.id),
    isNewerThanHandIn:
      standing !== null && newestMade !== undefined && newestMade.createdAt > standing.createdAt,
  });
  const chosen =
    work.takes.find((take) => take.isChosen && take.posterSha256) ??
    work.takes.find((take) => take.posterSha256);
  return {
    ...situation,
    id: assignment.id,
    kind: assignment.kind,
    title: assignment.title,
    courseTitle: course?.title ?? (assignment.kind === 'quick' ? 'Quick fit' : 'My own'),
    subject: course?.subject ?? '',
    dueAt: work.dueAt?.toISOString() ?? null,
    setAt: assignment.setAt.toISOString(),
    coverUrl: chosen ? `/api/takes/${chosen.id}/files/poster` : null,
    proven: judgeHandedIn(work),
    handedInAt: work.handIns.find((row) => isHeld(row.state))?.receivedAt?.toISOString() ?? null,
    receiptId: work.handIns.find((row) => row.receiptId)?.receiptId ?? null,
  };
}

/** Made files that still follow from take, recipe and limits. */
export function findCurrentMade(work: Work): MadeRow[] {
  const hashes = new Map(work.takes.map((take) => [take.id, hashTake(work, take)]));
  return work.made.filter((row) => hashes.get(row.takeId) === row.inputHash);
}

export function findMissingOf(work: Work): string[] {
  const items = work.parcel.items.flatMap((item) => {
    const row = work.made.find((each) => each.id === item.madeId);
    return row
      ? [
          {
            slotId: item.slotId,
            fileName: row.fileName,
            sizeBytes: row.sizeBytes,
            everyMustMet: isEveryMustMet(row.findings),
          },
        ]
      : [];
  });
  return findMissing({ slots: work.assignment.slots, items, text: work.parcel.text, limits: work.limits });
}

export async function viewAssignment(work: Work): Promise<AssignmentView> {
  const { person, assignment } = work;
  const where = { personId: person.id, assignmentId: assignment.id };
  const [jobs, events] = await Promise.all([
    JobRow.findAll({
      where: { ...where, state: { [Op.in]: ['waiting', 'running', 'failed'] } },
      order: [['createdAt', 'DESC']],
      limit: 20,
    }),
    AuditRow.findAll({ where, order: [['createdAt', 'DESC']], limit: 200 }),
  ]);
  const current = new Set(findCurrentMade(work).map((row) => row.id));
  return {
    ...viewCard(work),
    instructions: work.instructions,
    limits: work.limits,
    isBriefChanged: work.isBriefChanged,
    group: work.group,
    dueByGroup: assignment.dueByGroup,
    slots: assignment.slots,
    materials: assignment.materials,
    rubric: assignment.rubric,
    points: assignment.points,
    attemptsAllowed: assignment.attemptsAllowed,
    attemptsUsed: work.handIns.filter((row) => isHeld(row.state)).length,
    isLateAllowed: assignment.isLateAllowed,
    isMine: assignment.ownerId === person.id,
    person: {
      id: person.id,
      displayName: person.displayName,
      firstName: person.firstName,
      surname: person.surname,
      candidateNumber: person.candidateNumber,
      role: person.role,
    },
    takes: work.takes.map((take) => viewTake(take, work.recipes.get(take.id))),
    made: work.made.map((row) => viewMade(row, current.has(row.id))),
    parcel: {
      ...work.parcel,
      items: work.parcel.items.filter((item) => work.made.some((row) => row.id === item.madeId)),
    },
    missing: findMissingOf(work),
    handIns: work.handIns.map((row) => {
      const feedback = work.feedbacks.get(row.id);
      return {
        id: row.id,
        attempt: row.attempt,
        state: row.state,
        createdAt: row.createdAt.toISOString(),
        receivedAt: row.receivedAt?.toISOString() ?? null,
        receiptId: row.receiptId,
        fault: row.fault,
        feedback: feedback
          ? { text: feedback.text, points: feedback.points, at: feedback.createdAt.toISOString() }
          : null,
      };
    }),
    jobs: jobs.map(viewJob),
    events: events.reverse().map((row) => ({ at: row.createdAt.toISOString(), what: row.what })),
  };
}

export function viewTake(take: TakeRow, recipe: RecipeRow | undefined): TakeView {
  const url = (role: string, isThere: string | null) =>
    isThere ? `/api/takes/${take.id}/files/${role}` : null;
  return {
    id: take.id,
    name: take.name,
    createdAt: take.createdAt.toISOString(),
    sizeBytes: take.sizeBytes,
    state: take.state,
    isChosen: take.isChosen,
    kind: take.kind,
    facts: take.facts,
    filmstrip: take.filmstrip ?? null,
    choice: take.choice ?? null,
    fault: take.fault,
    recipe: recipe ? { version: recipe.version, recipe: recipe.recipe } : null,
    proposal: take.proposal,
    samples: take.samples ?? null,
    proxyUrl: url('proxy', take.proxySha256),
    stripUrl: url('strip', take.stripSha256),
    posterUrl: url('poster', take.posterSha256),
    seriesUrl: url('series', take.seriesSha256 ?? null),
  };
}

function viewMade(row: MadeRow, isCurrent: boolean): MadeView {
  const { id, takeId, fileName, sizeBytes, sha256, facts, findings, plan, comparison } = row;
  return {
    id,
    takeId,
    fileName,
    sizeBytes,
    sha256,
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
