import { ApodixError, isHeld, type Access } from '@apodix/core';
import {
  AssignmentRow,
  EnrolmentRow,
  HandInRow,
  JobRow,
  MadeRow,
  PersonRow,
  ReceiptRow,
  TakeRow,
} from '../data/models.ts';

/** The thing that a route names, loaded and found to belong to the caller. */
export interface Granted {
  readonly person: PersonRow | null;
  readonly assignment?: AssignmentRow;
  readonly take?: TakeRow;
  readonly made?: MadeRow;
  readonly job?: JobRow;
  readonly receipt?: ReceiptRow;
}

type Params = Readonly<Record<string, string>>;
type Guard = (person: PersonRow, params: Params) => Promise<Granted>;

const refuse = (): never => {
  throw new ApodixError('NOT_ALLOWED');
};
const missing = (): never => {
  throw new ApodixError('NOT_FOUND');
};

/**
 * One guard for each kind of access but `anyone`. Each loads the thing and throws unless it is the caller's.
 */
const guards: Readonly<Record<Exclude<Access, 'anyone'>, Guard>> = {
  person: (person) => Promise.resolve({ person }),
  assignment: async (person, params) => {
    const assignment = (await AssignmentRow.findByPk(params.assignmentId ?? '')) ?? missing();
    if (assignment.ownerId === person.id) return { person, assignment };
    const enrolment = assignment.courseId
      ? await EnrolmentRow.findOne({
          where: { personId: person.id, courseId: assignment.courseId, role: 'student' },
        })
      : null;
    return enrolment ? { person, assignment } : refuse();
  },
  'own-assignment': async (person, params) => {
    const assignment = (await AssignmentRow.findByPk(params.assignmentId ?? '')) ?? missing();
    return assignment.ownerId === person.id ? { person, assignment } : refuse();
  },
  take: async (person, params) => {
    const take = (await TakeRow.findByPk(params.takeId ?? '')) ?? missing();
    return take.personId === person.id ? { person, take } : refuse();
  },
  made: async (person, params) => {
    const made = (await MadeRow.findByPk(params.madeId ?? '')) ?? missing();
    if (made.personId === person.id) return { person, made };
    return (await isHandedInToTeacher(person, made)) ? { person, made } : refuse();
  },
  job: async (person, params) => {
    const job = (await JobRow.findByPk(params.jobId ?? '')) ?? missing();
    return job.personId === person.id ? { person, job } : refuse();
  },
  receipt: async (person, params) => {
    const receipt = (await ReceiptRow.findByPk(params.receiptId ?? '')) ?? missing();
    if (receipt.personId === person.id || (await isTeacherOf(person, receipt.assignmentId)))
      return { person, receipt };
    return refuse();
  },
};

export async function grant(access: Access, person: PersonRow | null, params: Params): Promise<Granted> {
  if (access === 'anyone') return { person };
  if (!person) throw new ApodixError('NOT_SIGNED_IN');
  return guards[access](person, params);
}

async function isTeacherOf(person: PersonRow, assignmentId: string): Promise<boolean> {
  const assignment = await AssignmentRow.findByPk(assignmentId);
  if (!assignment?.courseId) return false;
  return (
    (await EnrolmentRow.count({
      where: { personId: person.id, courseId: assignment.courseId, role: 'teacher' },
    })) > 0
  );
}

async function isHandedInToTeacher(person: PersonRow, made: MadeRow): Promise<boolean> {
  if (!(await isTeacherOf(person, made.assignmentId))) return false;
  const handIns = await HandInRow.findAll({
    where: { personId: made.personId, assignmentId: made.assignmentId },
  });
  return handIns.some((row) => isHeld(row.state) && row.frozen.files.some((file) => file.madeId === made.id));
}
