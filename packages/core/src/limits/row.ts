import type { SizePx } from '../geometry/turn.ts';
import type { MediaKind } from '../media/containers.ts';
import type { MediaFacts } from '../media/facts.ts';
import type { SoundLevel } from '../sound/measure-level.ts';
import type { Ceilings } from './ceilings.ts';
import type { Subject } from './subject.ts';
import type { BulletScale, FindingState, Fix } from './finding.ts';
import type { LimitKind, LimitOf } from './limit.ts';
import type { Refusal } from './refusal.ts';

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

/** What steering knows beside the limit itself. */
export interface SteerContext {
  /** Files that share what is asked of all together. */
  readonly fileCount: number;
}

/** The take and what its recipe asks for, before anything is planned. */
export interface Situation {
  /** What comes out: the sound of a video alone is sound. */
  readonly kind: MediaKind;
  readonly facts: MediaFacts;
  /** Longest that the take could give, and what the recipe keeps of it; null for pictures. */
  readonly wholeUs: number | null;
  readonly keptUs: number | null;
  /** Upright, after turning; null for sound. */
  readonly size: SizePx | null;
  /** Level of the kept part with its gain; null where there is no sound or it was not measured. */
  readonly level: SoundLevel | null;
}

/**
 * Everything that one kind of limit means. The table in `table.ts` refuses to load without a complete row for
 * every kind.
 */
export interface LimitRow<K extends LimitKind> {
  readonly kind: K;
  /** `file` limits are checked on one file, `parcel` limits on the hand-in as a whole. */
  readonly scope: 'file' | 'parcel';
  /** Whether a machine can judge it, only a person, or a machine where there is evidence. */
  readonly judgedBy: 'machine' | 'person' | 'either';
  readonly label: (limit: LimitOf<K>) => string;
  /** What is wanted, in words: `1:30 to 2:00`. */
  readonly wanted: (limit: LimitOf<K>) => string;
  /** Whether the limit says anything about such a file. */
  readonly concerns: (subject: Subject) => boolean;
  readonly check: (limit: LimitOf<K>, subject: Subject) => Verdict;
  /** What the plan must keep to. */
  readonly steer: (limit: LimitOf<K>, ceilings: Ceilings, context: SteerContext) => Ceilings;
  /** Why it cannot be with this take and recipe, and what could be; null where nothing speaks against it. */
  readonly refuse: (limit: LimitOf<K>, situation: Situation) => Refusal | null;
  /** What helps where it falls short; null where nothing does. */
  readonly fix: (limit: LimitOf<K>, subject: Subject) => Fix | null;
}

export const byMachine = (text: string): Fix => ({ by: 'machine', text });
export const byPerson = (text: string): Fix => ({ by: 'person', text });
/** For limits that leave the plan as it is. */
export const leavesOpen = (_limit: unknown, ceilings: Ceilings): Ceilings => ceilings;
/** For limits that a plan can always keep to, or that nothing before the made file can tell of. */
export const neverRefuses = (): null => null;

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
  /** How far the figure may be off, either way: nearer to a bound than this nothing is known yet. */
  readonly uncertainty?: number;
  readonly unknownReason?: string;
  /** Ends of the drawn scale where they do not follow from the figures. */
  readonly scale?: readonly [number, number];
}

/** The one check behind every numeric limit: inside [min, max], with the margin to the nearer bound. */
export function checkNumber(check: NumberCheck): Verdict {
  const { value, min, max, unit, write, method, tolerance = 0, uncertainty = 0 } = check;
  const writeGap = check.writeGap ?? write;
  const bullet = buildBullet(check);
  if (value === null) {
    const reason = check.unknownReason ?? 'not known yet';
    return { state: 'unknown', figure: null, value: null, unit, margin: null, method, reason, bullet };
  }
  const roomAbove = max === null ? Infinity : max - value;
  const roomBelow = min === null ? Infinity : value - min;
  const room = Math.min(roomAbove, roomBelow);
  const margin = Number.isFinite(room) ? room : null;
  const found = { figure: write(value), value, unit, margin, method, bullet };
  if (uncertainty > 0 && Math.abs(room) < uncertainty)
    return { ...found, state: 'unknown', reason: 'so close that only the finished file can tell' };
  const isMet = room >= -tolerance;
  const reason = isMet
    ? 'inside the limit'
    : roomAbove < roomBelow
      ? `${check.over} by ${writeGap(-roomAbove)}`
      : `${check.under} by ${writeGap(-roomBelow)}`;
  return { ...found, state: isMet ? 'met' : 'short', reason };
}

function buildBullet(check: NumberCheck): BulletScale {
  const { value, min, max } = check;
  const [scaleMin, scaleMax] = check.scale ?? [
    0,
    1.25 * Math.max(value ?? 0, max ?? 0, min !== null && max === null ? min * 1.6 : (min ?? 0), 1e-9),
  ];
  return { scaleMin, scaleMax, zoneMin: min, zoneMax: max, value };
}
