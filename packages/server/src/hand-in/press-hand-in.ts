import {
  ApodixError,
  containerTable,
  findMissing,
  findStanding,
  formatBytes,
  isEveryMustMet,
  isHeld,
  moveHandIn,
} from '@apodix/core';
import { randomUUID } from 'node:crypto';
import type { Transaction } from 'sequelize';
import { writeAudit } from '../assignments/audit.ts';
import { loadWork } from '../assignments/load-work.ts';
import { HandInRow, JobRow, type AssignmentRow, type FrozenParcel, type PersonRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import { hashInput } from '../jobs/hash-input.ts';
import { insertJob, type NewJob } from '../jobs/job-runner.ts';
import type { Services } from '../services.ts';

/**
 * Freezes the parcel and adds the job that delivers it, both in one transaction. Pressing again while it is
 * on its way, or once just this was received, gives the job that there was. Throws `NOT_READY`,
 * `NO_ATTEMPTS_LEFT`.
 */
export async function pressHandIn(
  person: PersonRow,
  assignment: AssignmentRow,
  services: Services,
): Promise<JobRow> {
  if (assignment.courseId === null)
    throw new ApodixError('BAD_REQUEST', {
      detail: 'An assignment of your own has no course site: save the files instead.',
    });
  const frozen = await freezeParcel(await loadWork(person, assignment), services);
  const pressed = await transact(services.sequelize, async (transaction) => {
    const handIns = await HandInRow.findAll({
      where: { personId: person.id, assignmentId: assignment.id },
      transaction,
    });
    const standing = findStanding(handIns);
    if (standing?.state === 'on-its-way') return insertJob(describeJob(standing), transaction);
    if (standing && isHeld(standing.state) && hashContents(standing.frozen) === hashContents(frozen)) {
      const before = await findJobOf(standing, transaction);
      return before ? { row: before, isNew: false } : insertJob(describeJob(standing), transaction);
    }
    const held = handIns.filter((row) => isHeld(row.state)).length;
    if (assignment.attemptsAllowed !== null && held >= assignment.attemptsAllowed)
      throw new ApodixError('NO_ATTEMPTS_LEFT');
    const handIn = await HandInRow.create(
      {
        id: randomUUID(),
        personId: person.id,
        assignmentId: assignment.id,
        attempt: held + 1,
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
    return insertJob(describeJob(handIn), transaction);
  });
  if (pressed.isNew) services.jobs.begin(pressed.row);
  return pressed.row;
}

/** What is on its way and has no job any more is taken up again; gives how many. */
export async function resumeHandIns({
  sequelize,
  jobs,
}: Pick<Services, 'sequelize' | 'jobs'>): Promise<number> {
  let count = 0;
  for (const handIn of await HandInRow.findAll({ where: { state: 'on-its-way' } })) {
    const { row, isNew } = await transact(sequelize, (transaction) =>
      insertJob(describeJob(handIn), transaction),
    );
    if (isNew) {
      count += 1;
      jobs.begin(row);
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

/** The job that delivered it; null where it was cleared away. */
function findJobOf(handIn: HandInRow, transaction: Transaction): Promise<JobRow | null> {
  return JobRow.findOne({
    where: { kind: 'deliver', inputHash: hashInput(handIn.id) },
    order: [['createdAt', 'DESC']],
    transaction,
  });
}

const hashContents = ({ parcel, files }: FrozenParcel) =>
  hashInput({
    text: parcel.text,
    files: files.map(({ slotId, fileName, sha256 }) => ({ slotId, fileName, sha256 })),
  });

/** Checks the parcel once more and writes down exactly which bytes go out. */
async function freezeParcel(
  work: Awaited<ReturnType<typeof loadWork>>,
  services: Services,
): Promise<FrozenParcel> {
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
  const items = files.map((file) => ({ ...file, everyMustMet: isEveryMustMet(file.findings) }));
  const missing = findMissing({
    slots: work.assignment.slots,
    items,
    text: work.parcel.text,
    limits: work.limits,
  });
  if (missing.length > 0 || files.length === 0)
    throw new ApodixError('NOT_READY', {
      detail: missing.join('; ') || `Nothing is in the parcel (${formatBytes(0)}).`,
    });
  return { parcel: work.parcel, files };
}
