import type { JobKind } from '@apodix/core';
import type { JobRow } from '../data/models.ts';
import type { Busy } from './fair-order.ts';
import type { Job } from './job-queue.ts';
import { findLane, type Lane } from './lanes.ts';
import type { ChildEnd, RunningChild } from './run-child.ts';

const GIVE_UP_MS = 4000;
/** So long a job that is ended gently may finish what is under way. */
const GENTLE_MS = 15_000;

interface RunningJob {
  readonly job: JobRow;
  /** Null before it is there, and once it has ended. */
  child: RunningChild | null;
  startedAt: number | null;
  /** It was to end before its child was there to be told. */
  isToEnd: boolean;
  /** It was ended to make way for others. */
  hasMadeWay: boolean;
  /** It finishes what is under way, and then ends. */
  isFinishing: boolean;
}

export interface RunningJobsOptions {
  /** Whether jobs of a kind end by themselves when they are asked to. */
  readonly endsByItself: (kind: JobKind) => boolean;
  readonly lanes: readonly Lane[];
}

/** Jobs that this process has under way or is about to begin, and how they are ended. */
export class RunningJobs {
  readonly #options: RunningJobsOptions;
  readonly #jobs = new Map<string, RunningJob>();

  constructor(options: RunningJobsOptions) {
    this.#options = options;
  }

  has(id: string): boolean {
    return this.#jobs.has(id);
  }

  listIds(): string[] {
    return [...this.#jobs.keys()];
  }

  listIn(lane: Lane): JobRow[] {
    return this.#list(lane).map(({ job }) => job);
  }

  /** How long those of a lane still take. */
  describeBusy(lane: Lane): Busy[] {
    return this.#list(lane).map(({ job, startedAt, isFinishing }) => ({
      leftS: isFinishing ? null : job.secondsLeft,
      sinceS: startedAt === null ? 0 : (Date.now() - startedAt) / 1000,
    }));
  }

  begin(job: JobRow): void {
    this.#jobs.set(job.id, {
      ...{ job, child: null, startedAt: null },
      ...{ isToEnd: false, hasMadeWay: false, isFinishing: false },
    });
  }

  forget(id: string): void {
    this.#jobs.delete(id);
  }

  /** Waits for the child of a job that was begun. */
  async waitFor(id: string, child: RunningChild): Promise<ChildEnd> {
    const running = this.#jobs.get(id);
    if (!running) throw new RangeError('A job that was not begun.');
    running.child = child;
    running.startedAt = Date.now();
    if (running.isToEnd) this.#endChild(child, running.job.kind);
    try {
      return await child.end;
    } finally {
      running.child = null;
      running.isFinishing = false;
    }
  }

  /** Ends a job that is here; with `isGentle` it may finish what is under way, within seconds. */
  end({ id, kind }: Job, isGentle: boolean): void {
    const running = this.#jobs.get(id);
    if (!running) return;
    const { child } = running;
    if (!child) running.isToEnd = true;
    else if (isGentle) {
      running.isFinishing = true;
      child.ask();
      setTimeout(() => child.kill('SIGTERM'), GENTLE_MS).unref();
    } else this.#endChild(child, kind);
  }

  /**
   * Ends jobs that can wait, so that what a person waits for has the cores; they begin again afterwards. One
   * that is only being prepared is not begun.
   */
  makeWayFor(wanted: Job): void {
    const lane = findLane(this.#options.lanes, wanted.kind);
    if (lane.patient.includes(wanted.kind)) return;
    for (const running of this.#jobs.values()) {
      const { child, job } = running;
      if (!lane.patient.includes(job.kind) || isFinishingFor(wanted, running)) continue;
      running.hasMadeWay = true;
      child?.kill('SIGKILL');
    }
  }

  /** Whether something is finished just now that is of use to a job: it begins after that. */
  isHelped(wanted: Job): boolean {
    return [...this.#jobs.values()].some((running) => isFinishingFor(wanted, running));
  }

  /** Whether a job has made way for others, or is to before it begins. */
  hasMadeWay(id: string): boolean {
    return this.#jobs.get(id)?.hasMadeWay === true;
  }

  /** Ends all, first by a signal, then by force. */
  async stop(): Promise<void> {
    const children = [...this.#jobs.values()].flatMap(({ child }) => child ?? []);
    for (const child of children) child.kill('SIGTERM');
    const giveUp = setTimeout(() => children.forEach((child) => child.kill('SIGKILL')), GIVE_UP_MS);
    await Promise.all(children.map((child) => child.end));
    clearTimeout(giveUp);
  }

  #list(lane: Lane): RunningJob[] {
    return [...this.#jobs.values()].filter(({ job }) => lane.kinds.includes(job.kind));
  }

  #endChild(child: RunningChild, kind: JobKind): void {
    if (this.#options.endsByItself(kind)) child.ask();
    else child.kill('SIGTERM');
  }
}

const isFinishingFor = (wanted: Job, { job, isFinishing }: RunningJob) =>
  isFinishing && job.takeId !== null && job.takeId === wanted.takeId;
