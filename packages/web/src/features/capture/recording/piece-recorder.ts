import type { CaptureQuality } from '@apodix/core';

/** A piece comes at least so often; with what is still being coded, a crash loses less than a second. */
export const PIECE_MS = 250;

export interface PieceRecorderOptions {
  readonly stream: MediaStream;
  readonly mimeType: string;
  readonly quality: CaptureQuality;
  readonly onPiece: (piece: Blob) => void;
  readonly onFault: (error: Error) => void;
}

/** One recording of a stream, given on in pieces. */
export class PieceRecorder {
  readonly startedAt: number;
  readonly #recorder: MediaRecorder;
  readonly #ended: Promise<void>;

  constructor({ stream, mimeType, quality, onPiece, onFault }: PieceRecorderOptions) {
    const recorder = new MediaRecorder(stream, {
      mimeType,
      ...(quality.lines === null ? {} : { videoBitsPerSecond: quality.videoBps }),
      audioBitsPerSecond: quality.soundBps,
    });
    this.#recorder = recorder;
    recorder.ondataavailable = ({ data }) => {
      if (data.size > 0) onPiece(data);
    };
    recorder.onerror = () => onFault(new Error('The browser stopped recording.'));
    this.#ended = new Promise((done) => {
      recorder.onstop = () => done();
    });
    recorder.start(PIECE_MS);
    this.startedAt = performance.now();
  }

  /** Resolves when the last piece has been given on. */
  async stop(): Promise<void> {
    if (this.#recorder.state !== 'inactive') this.#recorder.stop();
    await this.#ended;
  }
}
