import {
  buildPlan,
  findMissing,
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
    HandInRow.findAll({ where, order: [['attempt', 'DESC']] }),
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
    for (const row of made.filter(isOf))
      judgeAnew(row, limits, buildNameContext({ person, assignment, course }));
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
      made: made.filter(isOf),
      parcel: parcels.find(isOf)?.parcel ?? EMPTY_PARCEL,
      handIns: handIns.filter(isOf),
      feedbacks: new Map(feedbacks.map((row) => [row.handInId, row])),
    };
  });
}

/** Holds a made file against the limits as they are now; what the comparison with the recording found stays. */
function judgeAnew(row: MadeRow, limits: Limit[], nameContext: NameContext | null): void {
  row.findings = [
    ...judgeMade(row.facts, row, { limits, nameContext }),
    ...row.findings.filter((finding) => finding.kind === 'proof'),
  ];
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

/**
 * What decides how a file is made, as one hash: take, recipe, what the limits leave open for such a file, and what the subject keeps first. A
 * name that is wanted, a due time or the like are not part of it, so that a change there makes nothing anew.
 */
export function planTake(
  work: Work,
  take: TakeRow,
): { inputHash: string; result: ReturnType<typeof buildPlan> } | null {
  const recipe = work.recipes.get(take.id)?.recipe;
  if (!take.facts || !take.analysis || !recipe) return null;
  const frames = take.facts.video
    ? { timesUs: take.analysis.frameTimesUs, endUs: take.analysis.frameEndUs }
    : null;
  const preference = findPreference(work.course?.subject ?? '');
  const soundNeed = findSoundNeed(work.course?.subject ?? '', take.analysis.peaks);
  const result = buildPlan({
    facts: take.facts,
    recipe,
    limits: work.limits,
    soundNeed,
    frames,
    takeName: take.name,
    nameContext: buildNameContext(work),
    samples: take.samples,
    complexity: take.analysis.complexity,
    preference,
  });
  const ceilings = (['sound', take.facts.kind] as const).map((kind) => ({
    ...readCeilings(work.limits, kind),
    namePattern: null,
  }));
  return { result, inputHash: hashInput({ take: take.sha256, recipe, ceilings, preference, soundNeed }) };
}

export function viewCard(work: Work): AssignmentCard {
  const { assignment, course } = work;
  const current = findCurrentMade(work);
  const lastHandIn = work.handIns[0];
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
    handIn: !lastHandIn ? 'none' : lastHandIn.state,
    hasFeedback: lastHandIn !== undefined && work.feedbacks.has(lastHandIn.id),
    isNewerThanHandIn:
      lastHandIn !== undefined && newestMade !== undefined && newestMade.createdAt > lastHandIn.createdAt,
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
    handedInAt: work.handIns.find((row) => row.state === 'received')?.receivedAt?.toISOString() ?? null,
    receiptId: work.handIns.find((row) => row.receiptId)?.receiptId ?? null,
  };
}

/** Made files that still follow from take, recipe and limits. */
export function findCurrentMade(work: Work): MadeRow[] {
  const hashes = new Map(work.takes.map((take) => [take.id, planTake(work, take)?.inputHash]));
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
    AuditRow.findAll({ where, order: [['createdAt', 'ASC']], limit: 200 }),
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
    attemptsUsed: work.handIns.filter((row) => row.state === 'received').length,
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
    events: events.map((row) => ({ at: row.createdAt.toISOString(), what: row.what })),
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
    analysis: take.analysis,
    fault: take.fault,
    recipe: recipe ? { version: recipe.version, recipe: recipe.recipe } : null,
    proposal: take.proposal,
    samples: take.samples ?? null,
    proxyUrl: url('proxy', take.proxySha256),
    stripUrl: url('strip', take.stripSha256),
    posterUrl: url('poster', take.posterSha256),
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
