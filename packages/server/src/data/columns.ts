import {
  Announcement,
  Answers,
  ChangeView,
  Comparison,
  Fault,
  Finding,
  FitChoice,
  FitSamples,
  Limits,
  LimitsOrigin,
  Material,
  MediaFacts,
  ParcelInput,
  Plan,
  Receipt,
  ReceiptAnswer,
  Recipe,
  RubricRow,
  Sheet,
  Slot,
  Filmstrip,
  TakeDraft,
  TakeView,
} from '@apodix/core';
import {
  DataTypes,
  type Model,
  type ModelAttributeColumnOptions,
  type ModelStatic,
  type Sequelize,
} from 'sequelize';
import { z } from 'zod';
import * as rows from './models.ts';

type Columns = Record<string, ModelAttributeColumnOptions>;

const id: ModelAttributeColumnOptions = { type: DataTypes.STRING, primaryKey: true };
const text: ModelAttributeColumnOptions = { type: DataTypes.TEXT, allowNull: false };
const textOrNull: ModelAttributeColumnOptions = { type: DataTypes.TEXT, allowNull: true };
const whole: ModelAttributeColumnOptions = { type: DataTypes.BIGINT, allowNull: false };
const real: ModelAttributeColumnOptions = { type: DataTypes.DOUBLE, allowNull: false };
const realOrNull: ModelAttributeColumnOptions = { type: DataTypes.DOUBLE, allowNull: true };
const flag: ModelAttributeColumnOptions = { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false };
const moment: ModelAttributeColumnOptions = { type: DataTypes.DATE, allowNull: false };
const momentOrNull: ModelAttributeColumnOptions = { type: DataTypes.DATE, allowNull: true };

/**
 * A JSON column that is parsed by its schema on the way in and on the way out; what does not fit throws. The
 * same text is parsed once: what comes out is shared and must not be changed.
 */
function json(name: string, schema: z.ZodType): ModelAttributeColumnOptions {
  const parse = rememberParsed(schema);
  return {
    type: DataTypes.TEXT,
    allowNull: true,
    get(this: Model): unknown {
      const raw: unknown = this.getDataValue(name as never);
      return raw === null || raw === undefined
        ? null
        : typeof raw === 'string'
          ? parse(raw)
          : schema.parse(raw);
    },
    set(this: Model, value: unknown): void {
      this.setDataValue(
        name as never,
        (value === null || value === undefined ? null : JSON.stringify(schema.parse(value))) as never,
      );
    },
  };
}

/** Texts of so many rows of a column stay parsed, where they are short. */
const MOST_PARSED = 2000;
const LONGEST_PARSED = 20_000;

function rememberParsed(schema: z.ZodType): (text: string) => unknown {
  const parsed = new Map<string, unknown>();
  return (text) => {
    if (text.length > LONGEST_PARSED) return schema.parse(JSON.parse(text));
    const known = parsed.get(text);
    if (known !== undefined) return known;
    const value = schema.parse(JSON.parse(text));
    const oldest = parsed.size >= MOST_PARSED ? parsed.keys().next().value : undefined;
    if (oldest !== undefined) parsed.delete(oldest);
    parsed.set(text, value);
    return value;
  };
}

const FrozenParcel = z.object({
  parcel: ParcelInput,
  limitsFrom: LimitsOrigin.optional(),
  answers: z.array(ReceiptAnswer).default([]),
  files: z.array(
    z.object({
      slotId: z.string(),
      slotLabel: z.string(),
      madeId: z.string(),
      fileName: z.string(),
      sizeBytes: z.int(),
      sha256: z.string(),
      mimeType: z.string(),
      findings: z.array(Finding),
    }),
  ),
});

const StoredMoment = z.object({
  atUs: z.int(),
  ssim: z.number(),
  sourceSha256: z.string(),
  madeSha256: z.string(),
});

const tables: readonly (readonly [ModelStatic<Model>, string, Columns])[] = [
  [
    rows.PersonRow,
    'people',
    { id, displayName: text, firstName: text, surname: text, candidateNumber: textOrNull, role: text },
  ],
  [rows.CourseRow, 'courses', { id, title: text, subject: text }],
  [
    rows.EnrolmentRow,
    'enrolments',
    { personId: id, courseId: id, role: { ...text, primaryKey: true }, groupName: textOrNull },
  ],
  [
    rows.BriefRow,
    'briefs',
    { personId: id, assignmentId: id, limits: json('limits', Limits), instructions: textOrNull },
  ],
  [
    rows.BriefAnswersRow,
    'brief_answers',
    { personId: id, assignmentId: id, answers: json('answers', Answers) },
  ],
  [rows.CalendarRow, 'calendars', { personId: id, tokenHash: text, madeAt: moment }],
  [rows.SessionRow, 'sessions', { tokenHash: id, personId: text, expiresAt: moment }],
  [
    rows.AssignmentRow,
    'assignments',
    {
      id,
      kind: text,
      courseId: textOrNull,
      ownerId: textOrNull,
      title: text,
      instructions: text,
      limits: json('limits', Limits),
      slots: json('slots', z.array(Slot)),
      materials: json('materials', z.array(Material)),
      rubric: json('rubric', z.array(RubricRow)),
      points: realOrNull,
      attemptsAllowed: realOrNull,
      isLateAllowed: flag,
      setAt: moment,
      dueAt: momentOrNull,
      coverSha256: textOrNull,
      dueByGroup: json('dueByGroup', Announcement.shape.dueByGroup),
      isAnnounced: flag,
      removedAt: momentOrNull,
    },
  ],
  [
    rows.AssignmentChangeRow,
    'assignment_changes',
    { id, assignmentId: text, changes: json('changes', ChangeView.shape.changes), createdAt: moment },
  ],
  [rows.ChangeMarkRow, 'change_marks', { personId: id, assignmentId: id, seenAt: moment }],
  [
    rows.TakeRow,
    'takes',
    {
      id,
      personId: text,
      name: text,
      sha256: text,
      sizeBytes: whole,
      state: text,
      kind: textOrNull,
      isShaped: flag,
      facts: json('facts', MediaFacts),
      draft: json('draft', TakeDraft),
      filmstrip: json('filmstrip', Filmstrip),
      seriesSha256: textOrNull,
      evidenceSha256: textOrNull,
      proposal: json('proposal', TakeView.shape.proposal),
      fault: json('fault', Fault),
      proxySha256: textOrNull,
      stripSha256: textOrNull,
      posterSha256: textOrNull,
      intermediateSha256: textOrNull,
      createdAt: moment,
      removedAt: momentOrNull,
      seenAt: momentOrNull,
      note: textOrNull,
      voiceSha256: textOrNull,
      origin: { ...text, defaultValue: 'file' },
    },
  ],
  [
    rows.PhoneLinkRow,
    'phone_links',
    {
      id,
      personId: text,
      assignmentId: textOrNull,
      tokenHash: text,
      secretHash: textOrNull,
      createdAt: moment,
      expiresAt: moment,
    },
  ],
  [
    rows.PersonCardRow,
    'person_cards',
    { id, personId: text, codeHash: text, madeBy: text, createdAt: moment, withdrawnAt: momentOrNull },
  ],
  [
    rows.TakeUseRow,
    'take_uses',
    {
      takeId: id,
      assignmentId: id,
      personId: text,
      isChosen: flag,
      choice: json('choice', FitChoice),
      samples: json('samples', FitSamples),
      isMadeAhead: { ...flag, defaultValue: true },
      fault: json('fault', Fault),
      createdAt: moment,
    },
  ],
  [
    rows.RecipeRow,
    'recipes',
    {
      takeId: id,
      version: { ...whole, primaryKey: true },
      recipe: json('recipe', Recipe),
      createdAt: moment,
    },
  ],
  [
    rows.MadeRow,
    'made_files',
    {
      id,
      takeId: text,
      personId: text,
      assignmentId: text,
      fileName: text,
      sha256: text,
      sizeBytes: whole,
      facts: json('facts', MediaFacts),
      findings: json('findings', z.array(Finding)),
      plan: json('plan', Plan),
      inputHash: text,
      comparison: json('comparison', Comparison),
      moments: json('moments', z.array(StoredMoment)),
      posterSha256: textOrNull,
      createdAt: moment,
      removedAt: momentOrNull,
    },
  ],
  [rows.SheetRow, 'sheets', { personId: id, assignmentId: id, version: whole, sheet: json('sheet', Sheet) }],
  [rows.ParcelRow, 'parcels', { personId: id, assignmentId: id, parcel: json('parcel', ParcelInput) }],
  [
    rows.HandInRow,
    'hand_ins',
    {
      id,
      personId: text,
      assignmentId: text,
      attempt: whole,
      state: text,
      frozen: json('frozen', FrozenParcel),
      deliveryKey: text,
      fault: json('fault', Fault),
      createdAt: moment,
      receivedAt: momentOrNull,
      receiptId: textOrNull,
      askedAt: momentOrNull,
      note: textOrNull,
    },
  ],
  [
    rows.ReceiptRow,
    'receipts',
    { id, handInId: text, personId: text, assignmentId: text, receipt: json('receipt', Receipt) },
  ],
  [rows.FeedbackRow, 'feedback', { handInId: id, text, points: realOrNull, createdAt: moment }],
  [
    rows.JobRow,
    'jobs',
    {
      id,
      kind: text,
      personId: text,
      takeId: textOrNull,
      assignmentId: textOrNull,
      state: text,
      stage: text,
      share: real,
      secondsLeft: realOrNull,
      attempts: whole,
      leaseUntil: momentOrNull,
      owner: textOrNull,
      isCancelRequested: flag,
      input: json('input', z.unknown()),
      inputHash: text,
      fault: json('fault', Fault),
      createdAt: moment,
    },
  ],
  [
    rows.AuditRow,
    'audit_events',
    { id, personId: text, assignmentId: textOrNull, what: text, createdAt: moment },
  ],
];

/**
 * Binds every row class to its table. Each column gets a definition of its own: Sequelize writes into them.
 */
export function bindTables(sequelize: Sequelize): void {
  for (const [model, tableName, columns] of tables) {
    const own = Object.fromEntries(Object.entries(columns).map(([name, column]) => [name, { ...column }]));
    (model as unknown as { init: (columns: Columns, options: object) => void }).init(own, {
      sequelize,
      tableName,
      timestamps: false,
    });
  }
}
