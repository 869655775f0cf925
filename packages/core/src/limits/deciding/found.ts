import type { LimitKind, Severity } from '../limit.ts';

/** What a limit is before it has an id. */
export type RawLimit = { readonly kind: LimitKind } & Readonly<Record<string, unknown>>;

/** Why a limit might be meant otherwise; `other` is what it then says, null where it is none. */
export interface Doubt {
  readonly about: 'handed-in' | 'which' | 'due' | 'day';
  readonly other: RawLimit | null;
}

/** A limit as one place of the text gives it, before limits of several places are brought together. */
export interface FoundLimit {
  readonly raw: RawLimit;
  readonly doubt?: Doubt | undefined;
  readonly start: number;
  readonly end: number;
  readonly severity: Severity;
  /** The words around it take back what was said before. */
  readonly isCorrection: boolean;
}

/** "There is no minimum length": takes a bound away where one stood. */
export interface FoundRelease {
  readonly kind: LimitKind;
  readonly bound: 'min' | 'max' | 'all';
  readonly start: number;
  readonly end: number;
}

/** A stretch of the text that has been understood, limit or not. */
export interface Understood {
  readonly start: number;
  readonly end: number;
}
