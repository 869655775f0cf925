import type {
  Answers,
  Announcement,
  ChangeView,
  Comparison,
  Fault,
  HandInState,
  Finding,
  FitSamples,
  JobKind,
  Limits,
  LimitsOrigin,
  MediaFacts,
  MediaKind,
  ParcelInput,
  Plan,
  Receipt,
  Recipe,
  Role,
  Sheet,
  Filmstrip,
  FitChoice,
  TakeOrigin,
  TakeDraft,
  TakeView,
} from '@apodix/core';
import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';

/**
 * One class a table. Columns and JSON schemas stand in `columns.ts`, the tables themselves in `migrations/`.
 */
class Row<T extends Model> extends Model<InferAttributes<T>, InferCreationAttributes<T>> {}

export class PersonRow extends Row<PersonRow> {
  declare id: string;
  declare displayName: string;
  declare firstName: string;
  declare surname: string;
  declare candidateNumber: string | null;
  declare role: Role;
}

export class CourseRow extends Row<CourseRow> {
  declare id: string;
  declare title: string;
  declare subject: string;
}

export class EnrolmentRow extends Row<EnrolmentRow> {
  declare personId: string;
  declare courseId: string;
  declare role: 'student' | 'teacher' | 'family';
  declare groupName: string | null;
}

export class SessionRow extends Row<SessionRow> {
  declare tokenHash: string;
  declare personId: string;
  declare expiresAt: Date;
}

export class AssignmentRow extends Row<AssignmentRow> {
  declare id: string;
  declare kind: 'course' | 'own' | 'quick';
  declare courseId: string | null;
  declare ownerId: string | null;
  declare title: string;
  declare instructions: string;
  declare limits: Limits;
  declare slots: Announcement['slots'];
  declare materials: Announcement['materials'];
  declare rubric: Announcement['rubric'];
  declare points: number | null;
  declare attemptsAllowed: number | null;
  declare isLateAllowed: boolean;
  declare setAt: Date;
  declare dueAt: Date | null;
  declare coverSha256: string | null;
  declare dueByGroup: Announcement['dueByGroup'];
  /** The course gave the limits as limits; else they were read from its instructions. */
  declare isAnnounced: CreationOptional<boolean>;
  /** Removed by its owner; for a while it can be brought back. */
  declare removedAt: CreationOptional<Date | null>;
}

/** What a teacher changed of an assignment, and when that came to be known here. */
export class AssignmentChangeRow extends Row<AssignmentChangeRow> {
  declare id: string;
  declare assignmentId: string;
  declare changes: ChangeView['changes'];
  declare createdAt: Date;
}

/** Up to when a person has seen what a teacher changed. */
export class ChangeMarkRow extends Row<ChangeMarkRow> {
  declare personId: string;
  declare assignmentId: string;
  declare seenAt: Date;
}

/** Limits and text of an assignment as one person has corrected them. */
export class BriefRow extends Row<BriefRow> {
  declare personId: string;
  declare assignmentId: string;
  declare limits: Limits;
  declare instructions: string | null;
}

/** What one person chose where the instructions can be read in two ways. */
export class BriefAnswersRow extends Row<BriefAnswersRow> {
  declare personId: string;
  declare assignmentId: string;
  declare answers: Answers;
}

export class CalendarRow extends Row<CalendarRow> {
  declare personId: string;
  /** SHA-256 of the secret part of the address. */
  declare tokenHash: string;
  declare madeAt: Date;
}

export class TakeRow extends Row<TakeRow> {
  declare id: string;
  declare personId: string;
  declare name: string;
  declare sha256: string;
  declare sizeBytes: number;
  declare state: 'inspecting' | 'ready' | 'refused';
  declare kind: MediaKind | null;
  /** A person has changed or confirmed the recipe. */
  declare isShaped: boolean;
  declare facts: MediaFacts | null;
  declare filmstrip: CreationOptional<Filmstrip | null>;
  declare seriesSha256: CreationOptional<string | null>;
  declare evidenceSha256: CreationOptional<string | null>;
  declare proposal: TakeView['proposal'];
  declare fault: Fault | null;
  declare proxySha256: string | null;
  /** What is known of it while it is measured. */
  declare draft?: TakeDraft | null;
  declare stripSha256: string | null;
  declare posterSha256: string | null;
  declare intermediateSha256: CreationOptional<string | null>;
  declare createdAt: Date;
  declare removedAt: CreationOptional<Date | null>;
  /** When the person's machine last told what is to be seen of them along the take. */
  declare seenAt: CreationOptional<Date | null>;
  /** What the person wrote or said about the take. */
  declare note: CreationOptional<string | null>;
  declare voiceSha256: CreationOptional<string | null>;
  /** How it came here. */
  declare origin: CreationOptional<TakeOrigin>;
}

/** A way for a phone to send takes for somebody, without signing in there. */
export class PhoneLinkRow extends Row<PhoneLinkRow> {
  declare id: string;
  declare personId: string;
  declare assignmentId: string | null;
  /** SHA-256 of the token that the code shows; used once. */
  declare tokenHash: string;
  /** SHA-256 of what the phone was given for it; null until then. */
  declare secretHash: CreationOptional<string | null>;
  declare createdAt: Date;
  declare expiresAt: Date;
}

/** A printed card that tells a shared device whose take it is. */
export class PersonCardRow extends Row<PersonCardRow> {
  declare id: string;
  declare personId: string;
  /** SHA-256 of the code on the card. */
  declare codeHash: string;
  declare madeBy: string;
  declare createdAt: Date;
  declare withdrawnAt: CreationOptional<Date | null>;
}

/** A take in the service of an assignment. */
export class TakeUseRow extends Row<TakeUseRow> {
  declare takeId: string;
  declare assignmentId: string;
  declare personId: string;
  declare isChosen: boolean;
  /** What was chosen in Fit; null makes the best that fits. */
  declare choice: CreationOptional<FitChoice | null>;
  declare samples: CreationOptional<FitSamples | null>;
  /** Whether making it may begin before it is asked for. */
  declare isMadeAhead: CreationOptional<boolean>;
  /** Why it cannot serve this assignment; null where it can. */
  declare fault: CreationOptional<Fault | null>;
  declare createdAt: Date;
}

export class RecipeRow extends Row<RecipeRow> {
  declare takeId: string;
  declare version: number;
  declare recipe: Recipe;
  declare createdAt: Date;
}

/** One frame as recorded and as made, as blobs. */
export interface StoredMoment {
  readonly atUs: number;
  readonly ssim: number;
  readonly sourceSha256: string;
  readonly madeSha256: string;
}

export class MadeRow extends Row<MadeRow> {
  declare id: string;
  declare takeId: string;
  declare personId: string;
  declare assignmentId: string;
  declare fileName: string;
  declare sha256: string;
  declare sizeBytes: number;
  declare facts: MediaFacts;
  declare findings: Finding[];
  declare plan: Plan;
  declare inputHash: string;
  declare comparison: CreationOptional<Comparison | null>;
  /** Frame pairs of the hardest seconds. */
  declare moments: CreationOptional<StoredMoment[] | null>;
  declare posterSha256: string | null;
  declare createdAt: Date;
  declare removedAt: CreationOptional<Date | null>;
}

export class ParcelRow extends Row<ParcelRow> {
  declare personId: string;
  declare assignmentId: string;
  declare parcel: ParcelInput;
}

/** A parcel as it was when Hand in was pressed: exactly which bytes go out. */
export interface FrozenParcel {
  readonly parcel: ParcelInput;
  /** By which limits it was judged; not noted in the first ones. */
  readonly limitsFrom?: LimitsOrigin | undefined;
  readonly answers: readonly {
    readonly slotId: string;
    readonly slotLabel: string;
    readonly item: 'text' | 'link';
    readonly text: string;
  }[];
  readonly files: readonly {
    readonly slotId: string;
    readonly slotLabel: string;
    readonly madeId: string;
    readonly fileName: string;
    readonly sizeBytes: number;
    readonly sha256: string;
    readonly mimeType: string;
    readonly findings: Finding[];
  }[];
}

/** What is laid out for an assignment, by a person. */
export class SheetRow extends Row<SheetRow> {
  declare personId: string;
  declare assignmentId: string;
  declare version: number;
  declare sheet: Sheet;
}

export class HandInRow extends Row<HandInRow> {
  declare id: string;
  declare personId: string;
  declare assignmentId: string;
  declare attempt: number;
  declare state: HandInState;
  declare frozen: FrozenParcel;
  declare deliveryKey: string;
  declare fault: Fault | null;
  declare createdAt: Date;
  declare receivedAt: Date | null;
  declare receiptId: string | null;
  /** When the course site was first asked to take it. */
  declare askedAt: CreationOptional<Date | null>;
  /** What the person noted of a hand-in by hand. */
  declare note: CreationOptional<string | null>;
}

export class ReceiptRow extends Row<ReceiptRow> {
  declare id: string;
  declare handInId: string;
  declare personId: string;
  declare assignmentId: string;
  declare receipt: Receipt;
}

export class FeedbackRow extends Row<FeedbackRow> {
  declare handInId: string;
  declare text: string;
  declare points: number | null;
  declare createdAt: Date;
}

export class JobRow extends Row<JobRow> {
  declare id: string;
  declare kind: JobKind;
  declare personId: string;
  declare takeId: string | null;
  declare assignmentId: string | null;
  declare state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
  declare stage: string;
  declare share: number;
  declare secondsLeft: number | null;
  declare attempts: number;
  declare leaseUntil: Date | null;
  /** The process that runs it. */
  declare owner: CreationOptional<string | null>;
  declare isCancelRequested: boolean;
  declare input: unknown;
  declare inputHash: string;
  declare fault: Fault | null;
  declare createdAt: Date;
}

export class AuditRow extends Row<AuditRow> {
  declare id: string;
  declare personId: string;
  declare assignmentId: string | null;
  declare what: string;
  declare createdAt: CreationOptional<Date>;
}
