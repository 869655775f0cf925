import type { LinearModel } from './linear-model.ts';
import { bytesModel, durationModel } from './quantity-model.ts';
import { slotModel } from './slot-model.ts';

/** What the reader decides by: each a table of weights that was learned from labelled texts. */
export interface ReaderModels {
  /** Whether a kind that a text speaks of is to be handed in. */
  readonly slot: LinearModel;
  /** Whether a length of time is how long what is handed in may last. */
  readonly duration: LinearModel;
  /** Whether a size in bytes is how large a file that is handed in may be. */
  readonly bytes: LinearModel;
}

export const readerModels: ReaderModels = { slot: slotModel, duration: durationModel, bytes: bytesModel };
