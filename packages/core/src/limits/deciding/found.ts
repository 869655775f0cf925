import type { Severity } from '../limit.ts';
import type { LimitKind } from '../limit.ts';

/** A limit as one place of the text gives it, before limits of several places are brought together. */
export interface FoundLimit {
  readonly raw: { readonly kind: LimitKind } & Readonly<Record<string, unknown>>;
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
