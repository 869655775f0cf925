import type { Subject } from './subject.ts';
import type { BulletScale, FindingState, Fix } from './finding.ts';
import type { LimitKind, LimitOf } from './limit.ts';

export interface Verdict {
  readonly state: FindingState;
  readonly figure: string | null;
  readonly value?: number | null;
  readonly unit?: string | null;
  readonly margin?: number | null;
  readonly method: string;
  readonly reason: string;
  readonly bullet?: BulletScale | null;
}

/** One kind of limit. The table in `table.ts` refuses to load without a complete row for every kind. */
export interface LimitRow<K extends LimitKind> {
  readonly kind: K;
  /** `file` limits are checked on one file, `parcel` limits on the hand-in as a whole. */
  readonly scope: 'file' | 'parcel';
  readonly label: (limit: LimitOf<K>) => string;
  /** What is wanted, in words: `1:30 to 2:00`. */
  readonly wanted: (limit: LimitOf<K>) => string;
  /** Whether the limit says anything about such a file. */
  readonly concerns: (subject: Subject) => boolean;
  readonly check: (limit: LimitOf<K>, subject: Subject) => Verdict;
  /** What helps where it falls short; null where nothing does. */
  readonly fix: (limit: LimitOf<K>, subject: Subject) => Fix | null;
}

export const byMachine = (text: string): Fix => ({ by: 'machine', text });
export const byPerson = (text: string): Fix => ({ by: 'person', text });

export interface NumberCheck {
  readonly value: number | null;
  readonly min: number | null;
  readonly max: number | null;
  readonly unit: string;
  readonly write: (value: number) => string;
  readonly writeGap?: (gap: number) => string;
  readonly method: string;
  /** `too long`, `too short` and the like. */
  readonly over: string;
  readonly under: string;
  readonly tolerance?: number;
  readonly unknownReason?: string;
  /** Ends of the drawn scale where they do not follow from the figures. */
  readonly scale?: readonly [number, number];
}

/** The one check behind every numeric limit: inside [min, max], with the margin to the nearer bound. */
export function checkNumber(check: NumberCheck): Verdict {
  const { value, min, max, unit, write, method, tolerance = 0 } = check;
  const writeGap = check.writeGap ?? write;
  if (value === null) {
    return {
      state: 'unknown',
      figure: null,
      value: null,
      unit,
      margin: null,
      method,
      reason: check.unknownReason ?? 'not known yet',
      bullet: buildBullet(check),
    };
  }
  const roomAbove = max === null ? Infinity : max - value;
  const roomBelow = min === null ? Infinity : value - min;
  const margin = Math.min(roomAbove, roomBelow);
  const isMet = margin >= -tolerance;
  const reason = isMet
    ? 'inside the limit'
    : roomAbove < roomBelow
      ? `${check.over} by ${writeGap(-roomAbove)}`
      : `${check.under} by ${writeGap(-roomBelow)}`;
  return {
    state: isMet ? 'met' : 'short',
    figure: write(value),
    value,
    unit,
    margin: Number.isFinite(margin) ? margin : null,
    method,
    reason,
    bullet: buildBullet(check),
  };
}

function buildBullet(check: NumberCheck): BulletScale {
  const { value, min, max } = check;
  const [scaleMin, scaleMax] = check.scale ?? [
    0,
    1.25 * Math.max(value ?? 0, max ?? 0, min !== null && max === null ? min * 1.6 : (min ?? 0), 1e-9),
  ];
  return { scaleMin, scaleMax, zoneMin: min, zoneMax: max, value };
}
