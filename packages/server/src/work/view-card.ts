import {
  findMissing,
  findStanding,
  isHeld,
  isWrittenSlot,
  isAnswered,
  judgeWork,
  type AssignmentCard,
  type FindingState,
  type HandInState,
  type Limits,
  type ParcelInput,
} from '@apodix/core';
import type { AssignmentRow, CourseRow } from '../data/models.ts';

export const EMPTY_PARCEL: ParcelInput = {
  text: { note: '', participants: '', isOwnWork: false },
  items: [],
  answers: [],
};

/** What a card tells of one person's work on one assignment. */
export interface CardWork {
  readonly assignment: Pick<AssignmentRow, 'id' | 'kind' | 'title' | 'slots' | 'setAt'>;
  readonly course: Pick<CourseRow, 'title' | 'subject'> | null;
  readonly dueAt: Date | null;
  readonly limits: Limits;
  readonly takes: readonly {
    readonly id: string;
    readonly state: 'inspecting' | 'ready' | 'refused';
    readonly isShaped: boolean;
    readonly isChosen: boolean;
    readonly posterSha256: string | null;
  }[];
  /** Newest first. */
  readonly made: readonly {
    readonly id: string;
    readonly fileName: string;
    readonly sizeBytes: number;
    readonly createdAt: Date;
    /** Still follows from take, recipe and limits. */
    readonly isCurrent: boolean;
    readonly isEveryMustMet: boolean;
    readonly sourceSha256: string | null;
    readonly likeness: string | null;
  }[];
  readonly parcel: ParcelInput;
  /** Newest first. */
  readonly handIns: readonly {
    readonly id: string;
    readonly state: HandInState;
    readonly createdAt: Date;
    readonly receivedAt: Date | null;
    readonly receiptId: string | null;
    /** How it stands by the findings that were frozen with it. */
    readonly proven: FindingState;
    readonly hasFeedback: boolean;
  }[];
  readonly isChanged: boolean;
}

/** What is missing before the parcel can be handed in. */
export function findMissingOf(work: Pick<CardWork, 'assignment' | 'limits' | 'made' | 'parcel'>): string[] {
  const items = work.parcel.items.flatMap((item) => {
    const row = work.made.find((each) => each.id === item.madeId);
    return row
      ? [
          {
            slotId: item.slotId,
            fileName: row.fileName,
            sizeBytes: row.sizeBytes,
            everyMustMet: row.isEveryMustMet,
            sourceSha256: row.sourceSha256,
            likeness: row.likeness,
          },
        ]
      : [];
  });
  const { answers, text } = work.parcel;
  return findMissing({ slots: work.assignment.slots, items, answers, text, limits: work.limits });
}

export function viewCard(work: CardWork): AssignmentCard {
  const { assignment, course, takes } = work;
  const { slots } = assignment;
  const current = work.made.filter((row) => row.isCurrent);
  const standing = findStanding(work.handIns);
  const held = work.handIns.find((row) => isHeld(row.state));
  const newestMade = work.made[0];
  const files = slots.filter((slot) => !isWrittenSlot(slot));
  const written = slots.filter((slot) => isWrittenSlot(slot) && slot.min > 0);
  const situation = judgeWork({
    wanted: files.reduce((sum, slot) => sum + slot.min, 0),
    answers: {
      wanted: written.length,
      given: written.filter((slot) => isAnswered(slot, work.parcel.answers)).length,
    },
    takes: takes.filter((take) => take.state === 'ready').length,
    refusedTakes: takes.filter((take) => take.state === 'refused').length,
    inspecting: takes.filter((take) => take.state === 'inspecting').length,
    shaped: takes.filter((take) => take.isShaped).length,
    proven: current.filter((row) => row.isEveryMustMet).length,
    madeShort: current.filter((row) => !row.isEveryMustMet).length,
    missing: findMissingOf(work),
    handIn: standing?.state ?? null,
    hasFeedback: standing?.hasFeedback ?? false,
    isNewerThanHandIn:
      standing !== null && newestMade !== undefined && newestMade.createdAt > standing.createdAt,
  });
  const chosen =
    takes.find((take) => take.isChosen && take.posterSha256) ?? takes.find((take) => take.posterSha256);
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
    isChanged: work.isChanged,
    proven: held && held.state !== 'by-hand' ? held.proven : null,
    handedInAt: held?.receivedAt?.toISOString() ?? null,
    receiptId: work.handIns.find((row) => row.receiptId)?.receiptId ?? null,
  };
}
