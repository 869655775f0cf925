import {
  ApodixError,
  containerTable,
  findMissing,
  findStanding,
  formatBytes,
  isEveryMustMet,
  isHeld,
  moveHandIn,
  readLink,
  type HandInState,
} from '@apodix/core';
import { randomUUID } from 'node:crypto';
import type { Sequelize } from 'sequelize';
import { HandInRow, type AssignmentRow, type FrozenParcel, type PersonRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import { hashInput } from '../queue/hash-input.ts';
import type { Job, JobQueue, NewJob } from '../queue/job-queue.ts';
import type { Services } from '../services/services.ts';
import { loadWork, type Work } from '../work/load-work.ts';
import { findSource } from '../work/view-assignment.ts';
import { writeAudit } from '../work/write-audit.ts';

/**
 * Freezes the parcel and adds the job that delivers it, both in one transaction. Pressing again while it is
 * on its way, or once just this was received, gives the job that there was. Throws `NOT_READY`,
 * `NO_ATTEMPTS_LEFT`.
 */
export async function pressHandIn(
  person: PersonRow,
  assignment: AssignmentRow,
  services: Services,
): Promise<Job> {
  if (assignment.courseId === null)
    throw new ApodixError('BAD_REQUEST', {
      detail: 'An assignment of your own has no course site: save the files instead.',
    });
  const { jobs } = services;
  const frozen = await freezeParcel(await loadWork(person, assignment), services);
  const pressed = await transact(services.sequelize, async (transaction) => {
    const handIns = await HandInRow.findAll({
      where: { personId: person.id, assignmentId: assignment.id },
      transaction,
    });
    const standing = findStanding(handIns);
    if (standing?.state === 'on-its-way') return jobs.enlist(describeJob(standing), transaction);
    if (isSameAgain(standing, frozen)) {
      const before = await jobs.findLatest('deliver', hashInput(standing.id), transaction);
      return before ? { job: before, isNew: false } : jobs.enlist(describeJob(standing), transaction);
    }
    const held = handIns.filter((row) => isHeld(row.state)).length;
    if (assignment.attemptsAllowed !== null && held >= assignment.attemptsAllowed)
      throw new ApodixError('NO_ATTEMPTS_LEFT');
    const handIn = await HandInRow.create(
      {
        id: randomUUID(),
        personId: person.id,
        assignmentId: assignment.id,
        attempt: Math.max(0, ...handIns.filter((row) => hasArrived(row.state)).map((row) => row.attempt)) + 1,
        state: moveHandIn('draft', 'press'),
        frozen,
        deliveryKey: randomUUID(),
        fault: null,
        createdAt: new Date(),
        receivedAt: null,
        receiptId: null,
        askedAt: null,
      },
      { transaction },
    );
    await writeAudit(person.id, assignment.id, `Pressed Hand in, attempt ${handIn.attempt}`, transaction);
    return jobs.enlist(describeJob(handIn), transaction);
  });
  if (pressed.isNew) jobs.begin(pressed.job);
  return pressed.job;
}

/** What was taken back or given by hand keeps its number. */
const hasArrived = (state: HandInState) => state !== 'on-its-way' && state !== 'not-handed-in';

/** Whether just this is what the course site has already. */
function isSameAgain(standing: HandInRow | null, frozen: FrozenParcel): standing is HandInRow {
  return (
    standing !== null &&
    isHeld(standing.state) &&
    standing.state !== 'by-hand' &&
    hashContents(standing.frozen) === hashContents(frozen)
  );
}

/** What is on its way and has no job any more is taken up again; gives how many. */
export async function resumeHandIns({
  sequelize,
  jobs,
}: {
  readonly sequelize: Sequelize;
  readonly jobs: JobQueue;
}): Promise<number> {
  let count = 0;
  for (const handIn of await HandInRow.findAll({ where: { state: 'on-its-way' } })) {
    const { job, isNew } = await transact(sequelize, (transaction) =>
      jobs.enlist(describeJob(handIn), transaction),
    );
    if (isNew) {
      count += 1;
      jobs.begin(job);
    }
  }
  return count;
}

function describeJob(handIn: HandInRow): NewJob {
  return {
    kind: 'deliver',
    personId: handIn.personId,
    takeId: null,
    assignmentId: handIn.assignmentId,
    input: { handInId: handIn.id },
    inputHash: hashInput(handIn.id),
  };
}

const hashContents = ({ parcel, files, answers }: FrozenParcel) =>
  hashInput({
    text: parcel.text,
    answers: answers.map(({ slotId, text }) => ({ slotId, text })),
    files: files.map(({ slotId, fileName, sha256 }) => ({ slotId, fileName, sha256 })),
  });

/** Checks the parcel once more and writes down exactly which bytes go out. */
export async function freezeParcel(work: Work, services: Pick<Services, 'blobs'>): Promise<FrozenParcel> {
  const files: FrozenParcel['files'][number][] = [];
  for (const item of work.parcel.items) {
    const row = work.made.find((each) => each.id === item.madeId);
    const slot = work.assignment.slots.find((each) => each.id === item.slotId);
    if (!row || !slot) continue;
    if (!(await services.blobs.has(row.sha256)))
      throw new ApodixError('NOT_READY', { detail: `${row.fileName} is no longer there: make it again.` });
    files.push({
      slotId: slot.id,
      slotLabel: slot.label,
      madeId: row.id,
      fileName: row.fileName,
      sizeBytes: row.sizeBytes,
      sha256: row.sha256,
      mimeType: containerTable[row.facts.container].mimeType,
      findings: row.findings,
    });
  }
  const items = files.map((file) => {
    const row = work.made.find((each) => each.id === file.madeId);
    return {
      ...file,
      everyMustMet: isEveryMustMet(file.findings),
      likeness: row?.facts.likeness ?? null,
      sourceSha256: row ? findSource(work, row.takeId) : null,
    };
  });
  const answers = freezeAnswers(work);
  const missing = findMissing({
    slots: work.assignment.slots,
    items,
    answers: work.parcel.answers,
    text: work.parcel.text,
    limits: work.limits,
  });
  if (missing.length > 0 || files.length + answers.length === 0)
    throw new ApodixError('NOT_READY', {
      detail: missing.join('; ') || `Nothing is in the parcel (${formatBytes(0)}).`,
    });
  return { parcel: work.parcel, limitsFrom: work.joined.origin, answers, files };
}

/** What was typed in slots for words, as it is handed in; empty ones are left out. */
export function freezeAnswers({ assignment, parcel }: Pick<Work, 'assignment' | 'parcel'>) {
  return assignment.slots.flatMap((slot) => {
    if (slot.item !== 'text' && slot.item !== 'link') return [];
    const words = parcel.answers.find((answer) => answer.slotId === slot.id)?.text.trim() ?? '';
    const text = slot.item === 'link' ? readLink(words) : words;
    return text ? [{ slotId: slot.id, slotLabel: slot.label, item: slot.item, text }] : [];
  });
}
