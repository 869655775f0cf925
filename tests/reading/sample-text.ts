/** One text as a teacher might write it, with what it asks for, written by hand before the reader was. */
export interface SampleText {
  readonly text: string;
  /** Limits in the short form of `write-limit.ts`; a `?` at the end says should. */
  readonly asks: readonly string[];
  /** Words that have to be told as not understood. */
  readonly wishes?: readonly string[];
}
