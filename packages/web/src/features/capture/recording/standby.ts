import { PieceRecorder, type PieceRecorderOptions } from './piece-recorder.ts';

/** So much of what came before the start is kept at least. */
export const KEPT_BEFORE_MS = 5000;

interface Spare {
  readonly recorder: PieceRecorder;
  readonly pieces: Blob[];
}

/** Where the pieces of a recording that was on standby go from now on. */
export type PieceSink = (piece: Blob) => void;

/**
 * Records on standby so that the seconds before the start are there: two recordings take turns, the younger
 * begun five seconds after the older. The older one is handed over, with what it holds, when something
 * begins; it has at least five seconds unless standby is younger than that.
 */
export class Standby {
  readonly #options: Omit<PieceRecorderOptions, 'onPiece'>;
  readonly #create: (options: PieceRecorderOptions) => PieceRecorder;
  #older: Spare;
  #younger: Spare | null = null;
  #sink: PieceSink | null = null;
  readonly #timer: ReturnType<typeof setInterval>;

  constructor(
    options: Omit<PieceRecorderOptions, 'onPiece'>,
    create: (options: PieceRecorderOptions) => PieceRecorder = (each) => new PieceRecorder(each),
  ) {
    this.#options = options;
    this.#create = create;
    this.#older = this.#begin();
    this.#timer = setInterval(() => this.#turn(), KEPT_BEFORE_MS);
  }

  #begin(): Spare {
    const pieces: Blob[] = [];
    const spare: { recorder: PieceRecorder | null } = { recorder: null };
    const recorder = this.#create({
      ...this.#options,
      onPiece: (piece) => {
        if (this.#sink && spare.recorder === this.#older.recorder) this.#sink(piece);
        else pieces.push(piece);
      },
    });
    spare.recorder = recorder;
    return { recorder, pieces };
  }

  #turn(): void {
    if (this.#younger) {
      void this.#older.recorder.stop();
      this.#older = this.#younger;
    }
    this.#younger = this.#begin();
  }

  /** Hands the older recording over; its pieces so far come first, the rest as they come. */
  handOver(sink: PieceSink): PieceRecorder {
    clearInterval(this.#timer);
    void this.#younger?.recorder.stop();
    this.#younger = null;
    for (const piece of this.#older.pieces) sink(piece);
    this.#sink = sink;
    return this.#older.recorder;
  }

  /** Ends it without a recording. */
  end(): void {
    clearInterval(this.#timer);
    void this.#older.recorder.stop();
    void this.#younger?.recorder.stop();
  }
}
