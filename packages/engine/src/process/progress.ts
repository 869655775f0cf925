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

/** Maps stages onto one share from 0 to 1 and estimates the time left from the pace so far. */
export class ProgressMeter {
  readonly #onProgress: OnProgress;
  readonly #startedAt = performance.now();
  #stage = '';
  #from = 0;
  #to = 0;
  #reported = -1;

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
    const elapsed = (performance.now() - this.#startedAt) / 1000;
    this.#onProgress({
      stage: this.#stage,
      share,
      secondsLeft: share > 0.05 ? Math.round((elapsed * (1 - share)) / share) : null,
    });
  }
}
