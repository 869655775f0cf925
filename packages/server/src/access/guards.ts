import { ApodixError, isHeld, type Access } from '@apodix/core';
import {
  AssignmentRow,
  EnrolmentRow,
  HandInRow,
  MadeRow,
  PersonCardRow,
  PersonRow,
  ReceiptRow,
  TakeRow,
  TakeUseRow,
} from '../data/models.ts';
import type { Job, JobQueue } from '../queue/job-queue.ts';

/** The thing that a route names, loaded and found to belong to the caller. */
export interface Granted {
  readonly person: PersonRow | null;
  readonly assignment?: AssignmentRow;
  readonly take?: TakeRow;
  /** The take in the service of the assignment; null where it does not serve it. */
  readonly use?: TakeUseRow | null;
  readonly made?: MadeRow;
  readonly job?: Job;
  readonly receipt?: ReceiptRow;
  readonly card?: PersonCardRow;
}

export interface GrantContext {
  readonly jobs: Pick<JobQueue, 'find'>;
}

type Params = Readonly<Record<string, string>>;
type Guard = (person: PersonRow, params: Params, context: GrantContext) => Promise<Granted>;

const refuse = (): never => {
  throw new ApodixError('NOT_ALLOWED');
};
const missing = (): never => {
  throw new ApodixError('NOT_FOUND');
};

type Presence = 'there' | 'removed';
/** What was removed is there for nobody but who brings it back. */
const isAsWanted = (row: { removedAt: Date | null }, presence: Presence) =>
  (row.removedAt === null || row.removedAt === undefined) === (presence === 'there');

async function findAssignment(params: Params, presence: Presence): Promise<AssignmentRow> {
  const assignment = await AssignmentRow.findByPk(params.assignmentId ?? '');
  return assignment && isAsWanted(assignment, presence) ? assignment : missing();
}

async function requireWorker(person: PersonRow, params: Params): Promise<AssignmentRow> {
  const assignment = await findAssignment(params, 'there');
  if (assignment.ownerId === person.id) return assignment;
  const enrolment = assignment.courseId
    ? await EnrolmentRow.findOne({
        where: { personId: person.id, courseId: assignment.courseId, role: 'student' },
      })
    : null;
  return enrolment ? assignment : refuse();
}

async function requireOwner(person: PersonRow, params: Params, presence: Presence): Promise<AssignmentRow> {
  const assignment = await findAssignment(params, presence);
  return assignment.ownerId === person.id ? assignment : refuse();
}

async function requireTake(person: PersonRow, params: Params, presence: Presence): Promise<TakeRow> {
  const take = await TakeRow.findByPk(params.takeId ?? '');
  if (!take || !isAsWanted(take, presence)) return missing();
  return take.personId === person.id ? take : refuse();
}

async function requireMade(params: Params, presence: Presence): Promise<MadeRow> {
  const made = await MadeRow.findByPk(params.madeId ?? '');
  return made && isAsWanted(made, presence) ? made : missing();
}

/**
 * One guard for each kind of access but `anyone`. Each loads the thing and throws unless it is the caller's.
 */
const guards: Readonly<Record<Exclude<Access, 'anyone'>, Guard>> = {
  person: (person) => Promise.resolve({ person }),
  assignment: async (person, params) => ({ person, assignment: await requireWorker(person, params) }),
  'own-assignment': async (person, params) => ({
    person,
    assignment: await requireOwner(person, params, 'there'),
  }),
  'removed-assignment': async (person, params) => ({
    person,
    assignment: await requireOwner(person, params, 'removed'),
  }),
  'assignment-take': async (person, params) => {
    const assignment = await requireWorker(person, params);
    const take = await requireTake(person, params, 'there');
    const use = await TakeUseRow.findOne({ where: { takeId: take.id, assignmentId: assignment.id } });
    return { person, assignment, take, use };
  },
  take: async (person, params) => ({ person, take: await requireTake(person, params, 'there') }),
  'removed-take': async (person, params) => ({
    person,
    take: await requireTake(person, params, 'removed'),
  }),
  made: async (person, params) => {
    const made = await requireMade(params, 'there');
    const isAllowed = made.personId === person.id || (await isHandedInToTeacher(person, made));
    return isAllowed ? { person, made } : refuse();
  },
  'own-made': async (person, params) => {
    const made = await requireMade(params, 'there');
    return made.personId === person.id ? { person, made } : refuse();
  },
  'removed-made': async (person, params) => {
    const made = await requireMade(params, 'removed');
    return made.personId === person.id ? { person, made } : refuse();
  },
  job: async (person, params, { jobs }) => {
    const job = (await jobs.find(params.jobId ?? '')) ?? missing();
    return job.personId === person.id ? { person, job } : refuse();
  },
  card: async (person, params) => {
    const card = (await PersonCardRow.findByPk(params.cardId ?? '')) ?? missing();
    if (card.personId === person.id || (await isTeacherOfPerson(person, card.personId)))
      return { person, card };
    return refuse();
  },
  receipt: async (person, params) => {
    const receipt = (await ReceiptRow.findByPk(params.receiptId ?? '')) ?? missing();
    if (receipt.personId === person.id || (await isTeacherOf(person, receipt.assignmentId)))
      return { person, receipt };
    return refuse();
  },
};

/** Throws `NOT_SIGNED_IN`, `NOT_ALLOWED` or `NOT_FOUND`. */
export async function grant(
  access: Access,
  person: PersonRow | null,
  params: Params,
  context: GrantContext,
): Promise<Granted> {
  if (access === 'anyone') return { person };
  if (!person) throw new ApodixError('NOT_SIGNED_IN');
  return guards[access](person, params, context);
}

async function isTeacherOf(person: PersonRow, assignmentId: string): Promise<boolean> {
  const assignment = await AssignmentRow.findByPk(assignmentId);
  if (!assignment?.courseId) return false;
  const where = { personId: person.id, courseId: assignment.courseId, role: 'teacher' };
  return (await EnrolmentRow.count({ where })) > 0;
}

async function isTeacherOfPerson(person: PersonRow, studentId: string): Promise<boolean> {
  const taught = await EnrolmentRow.findAll({ where: { personId: person.id, role: 'teacher' } });
  const where = { personId: studentId, courseId: taught.map((row) => row.courseId), role: 'student' };
  return (await EnrolmentRow.count({ where })) > 0;
}

async function isHandedInToTeacher(person: PersonRow, made: MadeRow): Promise<boolean> {
  if (!(await isTeacherOf(person, made.assignmentId))) return false;
  const handIns = await HandInRow.findAll({
    where: { personId: made.personId, assignmentId: made.assignmentId },
  });
  return handIns.some((row) => isHeld(row.state) && row.frozen.files.some((file) => file.madeId === made.id));
}
