import { ApodixError, moveHandIn } from '@apodix/core';
import type { Sequelize } from 'sequelize';
import { z } from 'zod';
import { AssignmentRow, CourseRow, EnrolmentRow, HandInRow, PersonRow, ReceiptRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import type { CourseSite } from '../delivery/course-site.ts';
import type { Job, JobHandler } from '../queue/job-queue.ts';
import type { SigningKey } from '../signing/signing-key.ts';
import type { BlobStore } from '../storage/blob-store.ts';
import { findDueAt } from '../work/find-due-at.ts';
import { writeAudit } from '../work/write-audit.ts';
import { DeliverDone } from '../worker/messages.ts';

export interface DeliverContext {
  readonly sequelize: Sequelize;
  readonly blobs: BlobStore;
  readonly signingKey: SigningKey;
  readonly courseSite: CourseSite;
  /** How long a course site that does not answer is left alone. */
  readonly retryMs: number;
}

export const DeliverInput = z.object({ handInId: z.string() });

/** Ends after which it is certain that the course site has not taken it. */
const CERTAIN = { DELIVERY_REFUSED: 'refuse', DELIVERY_FAILED: 'give-up', CANCELLED: 'stop' } as const;
const isCertain = (code: string): code is keyof typeof CERTAIN => code in CERTAIN;

export function buildDeliverHandler(context: DeliverContext): JobHandler {
  const { sequelize, blobs, signingKey, courseSite } = context;
  const requireHandIn = async (job: Job) => {
    const handIn = await HandInRow.findByPk(DeliverInput.parse(job.input).handInId);
    if (!handIn) throw new ApodixError('CANCELLED');
    return handIn;
  };
  return {
    endsByItself: true,
    prepare: async (job) => {
      const handIn = await requireHandIn(job);
      // What the person was told is not handed in is never sent, whatever became of its job.
      if (handIn.state === 'not-handed-in') throw new ApodixError('CANCELLED');
      const [person, assignment] = await Promise.all([
        PersonRow.findByPk(handIn.personId),
        AssignmentRow.findByPk(handIn.assignmentId),
      ]);
      const group = await findGroup(handIn.personId, assignment);
      const { files, parcel } = handIn.frozen;
      const isRepeated = handIn.askedAt !== null && handIn.askedAt !== undefined;
      if (!isRepeated) await handIn.update({ askedAt: new Date() });
      return {
        kind: 'deliver',
        site: courseSite,
        paths: files.map((file) => blobs.pathOf(file.sha256)),
        isRepeated,
        isWithdrawn: job.isCancelRequested,
        delivery: {
          key: handIn.deliveryKey,
          assignmentId: handIn.assignmentId,
          person: person?.displayName ?? '',
          group,
          attempt: handIn.attempt,
          answers: handIn.frozen.answers.map(({ slotId, text }) => ({ slotId, text })),
          note: parcel.text.note,
          participants: parcel.text.participants,
          files: files.map(({ slotId, fileName, sizeBytes, sha256, mimeType }) => ({
            slotId,
            fileName,
            sizeBytes,
            sha256,
            mimeType,
          })),
        },
      };
    },
    finish: async (job, rawResult) => {
      const done = DeliverDone.parse(rawResult);
      const handIn = await requireHandIn(job);
      const receipt = await writeReceipt(handIn, done, signingKey);
      await transact(sequelize, async (transaction) => {
        await handIn.reload({ transaction });
        if (handIn.receiptId !== null) return;
        await ReceiptRow.upsert(
          {
            id: receipt.receiptId,
            handInId: handIn.id,
            personId: handIn.personId,
            assignmentId: handIn.assignmentId,
            receipt,
          },
          { transaction },
        );
        await handIn.update(
          {
            state: moveHandIn(handIn.state, 'confirm'),
            receivedAt: new Date(done.receivedAt),
            receiptId: receipt.receiptId,
            fault: null,
          },
          { transaction },
        );
        await writeAudit(handIn.personId, handIn.assignmentId, `Received by ${done.siteName}`, transaction);
      });
    },
    postpone: async (job, fault) => {
      const handIn = await HandInRow.findByPk(DeliverInput.parse(job.input).handInId);
      if (handIn?.state !== 'on-its-way' || isCertain(fault.code)) return null;
      return handIn.askedAt ? context.retryMs : null;
    },
    fail: async (job, fault) => {
      await transact(sequelize, async (transaction) => {
        const handIn = await HandInRow.findByPk(DeliverInput.parse(job.input).handInId, { transaction });
        if (handIn?.state !== 'on-its-way') return;
        const event = isCertain(fault.code) ? CERTAIN[fault.code] : 'give-up';
        await handIn.update(
          { state: moveHandIn(handIn.state, event), fault: fault.toJSON() },
          { transaction },
        );
        const what = event === 'stop' ? 'Stopped before it arrived' : 'The hand-in did not go through';
        await writeAudit(handIn.personId, handIn.assignmentId, what, transaction);
      });
    },
  };
}

/** The group of the course that a person is in. */
async function findGroup(personId: string, assignment: AssignmentRow | null): Promise<string | null> {
  const where = { personId, courseId: assignment?.courseId ?? '', role: 'student' as const };
  return (await EnrolmentRow.findOne({ where }))?.groupName ?? null;
}

async function writeReceipt(
  handIn: HandInRow,
  done: z.infer<typeof DeliverDone>,
  signingKey: SigningKey,
): Promise<ReturnType<SigningKey['signReceipt']>> {
  const [person, assignment] = await Promise.all([
    PersonRow.findByPk(handIn.personId),
    AssignmentRow.findByPk(handIn.assignmentId),
  ]);
  const course = assignment?.courseId ? await CourseRow.findByPk(assignment.courseId) : null;
  const dueAt = assignment && findDueAt(assignment, await findGroup(handIn.personId, assignment));
  const { text } = handIn.frozen.parcel;
  return signingKey.signReceipt({
    format: 'apodix-receipt',
    version: 2,
    receiptId: `r-${handIn.id}`,
    attempt: handIn.attempt,
    person: person?.displayName ?? '',
    course: course?.title ?? '',
    assignment: assignment?.title ?? '',
    dueAt: dueAt?.toISOString() ?? null,
    sentAt: done.sentAt,
    receivedAt: done.receivedAt,
    isLate: done.isLate,
    courseSite: { name: done.siteName, deliveryId: done.deliveryId },
    note: text.note,
    participants: text.participants,
    isOwnWork: text.isOwnWork,
    ...(handIn.frozen.limitsFrom ? { limitsFrom: handIn.frozen.limitsFrom } : {}),
    answers: [...handIn.frozen.answers],
    files: handIn.frozen.files.map((file, index) => ({
      slotId: file.slotId,
      slotLabel: file.slotLabel,
      fileName: file.fileName,
      sizeBytes: file.sizeBytes,
      sha256: file.sha256,
      receivedSha256: done.sha256[index] ?? '',
      findings: file.findings,
    })),
  });
}
