/** What a long piece of work tells while it runs. `share` is 0 to 1 over all of it. */
export interface Progress {
  readonly stage: string;
  readonly share: number;
  readonly secondsLeft: number | null;
}
export type OnProgress = (progress: Progress) => void;

/** Tells the share of a stage from FFmpeg's `-progress` lines. Gives back a reader for those lines. */
export function readFfmpegProgress(
  durationUs: number,
  onShare: (share: number) => void,
): (line: string) => void {
  return (line) => {
    const match = /^out_time_us=(\d+)/.exec(line);
    if (match && durationUs > 0) onShare(Math.min(1, Number(match[1]) / durationUs));
  };
}

/** Before so much is done, its pace tells nothing of the rest. */
const LEAST_DONE = 0.05;
/** What is told in the first seconds was there already. */
const AT_ONCE_S = 1.5;

/** Maps stages onto one share from 0 to 1 and estimates the time left from the pace so far. */
export class ProgressMeter {
  readonly #onProgress: OnProgress;
  readonly #startedAt = performance.now();
  #stage = '';
  #from = 0;
  #to = 0;
  #reported = -1;
  /** From where the pace is measured: what was there at once, of earlier work, tells nothing of it. */
  #mark = { elapsedS: 0, share: 0 };
  #beside = { spentS: 0, leftS: 0 };

  constructor(onProgress: OnProgress | undefined) {
    this.#onProgress = onProgress ?? (() => undefined);
  }

  /** Begins a stage that takes the work from share `from` to share `to`. */
  begin(stage: string, from: number, to: number): void {
    this.#stage = stage;
    this.#from = from;
    this.#to = to;
    this.#reported = -1;
    this.tell(0);
  }

  tell(shareOfStage: number): void {
    const share = this.#from + (this.#to - this.#from) * shareOfStage;
    if (share - this.#reported < 0.005 && shareOfStage < 1) return;
    this.#reported = share;
    const elapsedS = (performance.now() - this.#startedAt) / 1000;
    if (elapsedS < AT_ONCE_S) this.#mark = { elapsedS, share };
    this.#onProgress({ stage: this.#stage, share, secondsLeft: this.#estimateLeft(elapsedS, share) });
  }

  /**
   * Seconds of the whole that went, and that will still go, into what runs beside the stages and is no part
   * of their shares: while it runs they are slower than they will be.
   */
  countBeside(spentS: number, leftS: number): void {
    this.#beside = { spentS, leftS };
  }

  #estimateLeft(elapsedS: number, share: number): number | null {
    const done = share - this.#mark.share;
    if (done <= LEAST_DONE) return null;
    const { spentS, leftS } = this.#beside;
    const paceS = Math.max(0, elapsedS - this.#mark.elapsedS - spentS) / done;
    return Math.round(paceS * (1 - share) + leftS);
  }
}
