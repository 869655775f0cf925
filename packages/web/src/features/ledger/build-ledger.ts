import {
  applyOthers,
  readPlanRecipe,
  type JudgeContext,
  type MediaFacts,
  type Plan,
  type OtherTake,
  buildNameContext,
  describeLimit,
  findRowScope,
  findSlotOf,
  isEveryMustMet,
  isLimitForTake,
  isAnswered,
  isWrittenSlot,
  judgeParcel,
  judgePlan,
  judgeTake,
  type AssignmentView,
  type Finding,
  type Limit,
  type MadeView,
  type PlanResult,
  type TakeSeries,
  type TakeView,
  type WorkToPlan,
} from '@apodix/core';

export interface LedgerRow {
  readonly limit: Limit;
  readonly label: string;
  readonly wanted: string;
  readonly measured: Finding | null;
  readonly planned: Finding | null;
  readonly proven: Finding | null;
  /** The finding that counts just now: proven, else planned, else measured. */
  readonly best: Finding | null;
}

/** An assignment as plans and names follow from it. */
export function describeWork(assignment: AssignmentView): WorkToPlan {
  const { person, title, kind, courseTitle, subject, limits, slots, parcel, made } = assignment;
  return {
    person,
    title,
    courseTitle: kind === 'course' ? courseTitle : '',
    subject,
    limits,
    slots,
    items: parcel.items,
    made,
  };
}

function judgeWithOthers(
  plan: Plan,
  take: { readonly facts: MediaFacts; readonly series: TakeSeries },
  others: readonly OtherTake[],
  judge: JudgeContext,
): Finding[] {
  const { facts, series } = applyOthers(take, readPlanRecipe(plan), others);
  return judgePlan(plan, facts, { ...judge, series });
}

/** One row a limit that speaks of the take (of any take, before there is one), with what each stage found. */
export function buildLedger(
  assignment: AssignmentView,
  take: TakeView | null,
  result: PlanResult | null,
  made: MadeView | null,
  series: TakeSeries | null,
  others: readonly OtherTake[] = [],
): LedgerRow[] {
  const work = describeWork(assignment);
  const slotId = take ? findSlotOf(work, take) : null;
  const judge = { limits: assignment.limits, nameContext: buildNameContext(work), slotId };
  const measured = take?.facts ? judgeTake(take.facts, take.name, judge) : [];
  const planned =
    take?.facts && result?.plan && series
      ? judgeWithOthers(result.plan, { facts: take.facts, series }, others, judge)
      : [];
  const proven = made?.findings ?? [];
  const find = (findings: readonly Finding[], limit: Limit) =>
    findings.find((finding) => finding.of === 'limit' && finding.limitId === limit.id) ?? null;
  return assignment.limits
    .filter(
      (limit) =>
        findRowScope(limit) === 'file' &&
        (!take?.facts || isLimitForTake(limit, take.facts, slotId) || find(planned, limit) !== null),
    )
    .map((limit) => {
      const row = {
        limit,
        ...describeLimit(limit),
        measured: find(measured, limit),
        planned: find(planned, limit),
        proven: find(proven, limit),
      };
      return { ...row, best: row.proven ?? row.planned ?? row.measured };
    });
}

/** Kinds that are told beside the due time and are no row of their own before Hand in. */
const ONLY_IN_HAND_IN = new Set<Limit['kind']>(['due', 'attempts']);

/**
 * Rows for what no single file can meet: how many, who took part, a note. Before Hand in they are only open,
 * not short: nobody has been asked yet.
 */
export function buildParcelRows(assignment: AssignmentView, isHandIn: boolean, now: number): LedgerRow[] {
  const limits = assignment.limits.filter(
    (limit) =>
      limit.kind !== 'late' && limit.kind !== 'points' && (isHandIn || !ONLY_IN_HAND_IN.has(limit.kind)),
  );
  const items = assignment.parcel.items.flatMap((item) => {
    const made = assignment.made.find((each) => each.id === item.madeId);
    return made
      ? [
          {
            slotId: item.slotId,
            fileName: made.fileName,
            sizeBytes: made.sizeBytes,
            everyMustMet: isEveryMustMet(made.findings),
            sourceSha256: made.sourceSha256,
            likeness: made.facts.likeness,
            kind: made.facts.kind,
          },
        ]
      : [];
  });
  const findings = judgeParcel(limits, {
    items,
    text: assignment.parcel.text,
    attemptsUsed: assignment.attemptsUsed,
    isDue: assignment.dueAt !== null && Date.parse(assignment.dueAt) < now,
    written: assignment.slots
      .filter((slot) => isWrittenSlot(slot) && isAnswered(slot, assignment.parcel.answers))
      .map(({ item }) => item),
  });
  const isReceived = assignment.state === 'handed-in' || assignment.state === 'feedback-back';
  return findings.flatMap((finding) => {
    const limit = limits.find((each) => finding.of === 'limit' && each.id === finding.limitId);
    if (!limit) return [];
    const planned = finding.state === 'met' || isHandIn ? finding : null;
    return [
      {
        limit,
        label: finding.label,
        wanted: finding.wanted,
        measured: null,
        planned,
        proven: isReceived && finding.state === 'met' ? finding : null,
        best: planned,
      },
    ];
  });
}

export interface LedgerSummary {
  readonly musts: number;
  readonly shoulds: number;
  readonly shortMusts: number;
  readonly sentence: string;
  /** What only a person can put right. */
  readonly forPerson: readonly string[];
}

export function summarizeLedger(rows: readonly LedgerRow[], isProven: boolean): LedgerSummary {
  const musts = rows.filter((row) => row.limit.severity === 'must');
  const short = musts.filter((row) => row.best?.state === 'short');
  const left = musts.filter((row) => row.best?.state === 'person').length;
  const sentence =
    rows.length === 0
      ? 'no limits are set'
      : short.length > 0
        ? `${short.length} ${short.length === 1 ? 'limit' : 'limits'} still short: see ${short[0]?.label ?? ''}`
        : isProven
          ? left > 0
            ? `${musts.length - left} of ${musts.length} proven on the file, ${left} left to you`
            : 'every must is proven on the file'
          : rows.some((row) => row.planned)
            ? left > 0
              ? `nothing will fall short, ${left} left to you`
              : 'every must will be met'
            : 'nothing measured yet';
  return {
    musts: musts.length,
    shoulds: rows.length - musts.length,
    shortMusts: short.length,
    sentence,
    forPerson: [
      ...new Set(
        short
          .map((row) => (row.best?.fix?.by === 'person' ? row.best.fix.text : null))
          .filter((text) => text !== null),
      ),
    ],
  };
}
