import type { Timeline } from '@apodix/core';
import type { TakeFiles } from '../gather/joined-files.ts';
import type { SeparateFile } from './cut-sound.ts';

/** A take and what making needs beside it, whatever is made of it. */
export interface MakeTakeInput extends TakeFiles {
  readonly timeline: Timeline;
  /** A separate recording whose sound is heard in place of the take's own. */
  readonly separate?: SeparateFile | null;
  /** Of its own, for all that is written on the way. */
  readonly folder: string;
  readonly signal?: AbortSignal;
}
