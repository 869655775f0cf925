import { isHeld, type AssignmentView, type HandInView } from '@apodix/core';
import { Op } from 'sequelize';
import { AuditRow, TakeUseRow, type HandInRow } from '../data/models.ts';
import { viewJob, type JobQueue } from '../queue/job-queue.ts';
import { judgeFrozen } from './load-cards.ts';
import { findCurrentMade, isMet, type Work } from './load-work.ts';
import { findMissingOf, viewCard, type CardWork } from './view-card.ts';
import { viewPerson } from './view-person.ts';
import { stateOf, viewMade, viewTake } from './view-take.ts';

const MOST_EVENTS = 200;

/** One assignment with all of a person's work on it. */
export async function viewAssignment(work: Work, jobs: JobQueue): Promise<AssignmentView> {
  const { person, assignment } = work;
  const where = { personId: person.id, assignmentId: assignment.id };
  const [recent, events, uses] = await Promise.all([
    jobs.listRecent(where),
    AuditRow.findAll({ where, order: [['createdAt', 'DESC']], limit: MOST_EVENTS }),
    TakeUseRow.findAll({
      where: { takeId: { [Op.in]: work.takes.map((take) => take.row.id) } },
      attributes: ['takeId', 'assignmentId'],
    }),
  ]);
  const current = findCurrentMade(work);
  const card = buildCardWork(work, current);
  return {
    ...viewCard(card),
    instructions: work.instructions,
    limits: work.limits,
    isBriefChanged: work.isBriefChanged,
    limitsFrom: work.joined.origin,
    answers: work.answers,
    ownLimitIds: [...work.joined.ownIds],
    changes: work.changes.map((row) => ({ at: row.createdAt.toISOString(), changes: row.changes })),
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
    person: viewPerson(person),
    takes: work.takes.map((take) =>
      viewTake(
        take,
        uses.filter((use) => use.takeId === take.row.id).map((use) => use.assignmentId),
      ),
    ),
    made: work.made.map((row) => viewMade(row, current.has(row.id), findSource(work, row.takeId))),
    parcel: {
      ...work.parcel,
      items: work.parcel.items.filter((item) => work.made.some((row) => row.id === item.madeId)),
    },
    missing: findMissingOf(card),
    handIns: work.handIns.map((row) => viewHandIn(row, work)),
    jobs: recent.map(viewJob),
    events: events.reverse().map((row) => ({ at: row.createdAt.toISOString(), what: row.what })),
  };
}

function viewHandIn(row: HandInRow, work: Work): HandInView {
  const feedback = work.feedbacks.get(row.id);
  return {
    id: row.id,
    attempt: row.attempt,
    state: row.state,
    createdAt: row.createdAt.toISOString(),
    receivedAt: row.receivedAt?.toISOString() ?? null,
    receiptId: row.receiptId,
    fault: row.fault,
    note: row.note ?? null,
    feedback: feedback
      ? { text: feedback.text, points: feedback.points, at: feedback.createdAt.toISOString() }
      : null,
  };
}

/** The digest of the recording that a file was made from; null where it was removed. */
export const findSource = (work: Pick<Work, 'takes'>, takeId: string): string | null =>
  work.takes.find(({ row }) => row.id === takeId)?.row.sha256 ?? null;

/** What a card tells, from the whole of the work. */
export function buildCardWork(work: Work, current = findCurrentMade(work)): CardWork {
  return {
    assignment: work.assignment,
    course: work.course,
    dueAt: work.dueAt,
    limits: work.limits,
    takes: work.takes.map(({ row, use }) => ({
      id: row.id,
      state: stateOf(row, use),
      isShaped: row.isShaped,
      isChosen: use.isChosen,
      posterSha256: row.posterSha256,
    })),
    made: work.made.map((row) => ({
      id: row.id,
      fileName: row.fileName,
      sizeBytes: row.sizeBytes,
      createdAt: row.createdAt,
      isCurrent: current.has(row.id),
      isEveryMustMet: isMet(row),
      likeness: row.facts.likeness,
      sourceSha256: findSource(work, row.takeId),
    })),
    parcel: work.parcel,
    handIns: work.handIns.map((row) => ({
      id: row.id,
      state: row.state,
      createdAt: row.createdAt,
      receivedAt: row.receivedAt,
      receiptId: row.receiptId,
      proven: judgeFrozen(row),
      hasFeedback: work.feedbacks.has(row.id),
    })),
    isChanged: work.changes.length > 0,
  };
}
