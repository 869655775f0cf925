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
  readonly child: RunningChild;
  readonly job: JobRow;
  readonly startedAt: number;
}

export interface RunningJobsOptions {
  /** Whether jobs of a kind end by themselves when they are asked to. */
  readonly endsByItself: (kind: JobKind) => boolean;
  readonly lanes: readonly Lane[];
}

/** Jobs that this process has under way or is about to begin, and how they are ended. */
export class RunningJobs {
  readonly #options: RunningJobsOptions;
  readonly #children = new Map<string, RunningJob>();
  readonly #starting = new Map<string, JobRow>();
  /** Those that were to end before their child was there to be told. */
  readonly #toEnd = new Set<string>();
  /** Those that were ended to make way for others. */
  readonly #setAside = new Set<string>();
  /** Those that finish what is under way, and then end. */
  readonly #finishing = new Set<string>();

  constructor(options: RunningJobsOptions) {
    this.#options = options;
  }

  has(id: string): boolean {
    return this.#children.has(id) || this.#starting.has(id);
  }

  /** Whether a job is about to begin or has a child already; until `forget`. */
  isStarting(id: string): boolean {
    return this.#starting.has(id);
  }

  listIds(): string[] {
    return [...new Set([...this.#children.keys(), ...this.#starting.keys()])];
  }

  listIn(lane: Lane): JobRow[] {
    const children = [...this.#children.values()].map(({ job }) => job);
    const starting = [...this.#starting.values()].filter(({ id }) => !this.#children.has(id));
    return [...children, ...starting].filter(({ kind }) => lane.kinds.includes(kind));
  }

  /** How long those of a lane still take. */
  describeBusy(lane: Lane): Busy[] {
    return this.listIn(lane).map(({ id, secondsLeft }) => {
      const startedAt = this.#children.get(id)?.startedAt ?? Date.now();
      const leftS = this.#finishing.has(id) ? null : secondsLeft;
      return { leftS, sinceS: (Date.now() - startedAt) / 1000 };
    });
  }

  begin(job: JobRow): void {
    this.#starting.set(job.id, job);
  }

  forget(id: string): void {
    this.#starting.delete(id);
    this.#toEnd.delete(id);
  }

  /** Waits for the child of a job that was begun. */
  async waitFor(job: JobRow, child: RunningChild): Promise<ChildEnd> {
    this.#children.set(job.id, { child, job, startedAt: Date.now() });
    if (this.#toEnd.delete(job.id)) this.#endChild(child, job.kind);
    try {
      return await child.end;
    } finally {
      this.#children.delete(job.id);
      this.#finishing.delete(job.id);
    }
  }

  /** Ends a job that is here; with `isGentle` it may finish what is under way, within seconds. */
  end({ id, kind }: Job, isGentle: boolean): void {
    const running = this.#children.get(id);
    if (!running) {
      if (this.#starting.has(id)) this.#toEnd.add(id);
    } else if (isGentle) {
      this.#finishing.add(id);
      running.child.ask();
      setTimeout(() => running.child.kill('SIGTERM'), GENTLE_MS).unref();
    } else this.#endChild(running.child, kind);
  }

  /** Ends jobs that can wait, so that what a person waits for has the cores; they begin again afterwards. */
  makeWayFor(wanted: Job): void {
    const lane = findLane(this.#options.lanes, wanted.kind);
    if (lane.patient.includes(wanted.kind)) return;
    for (const [id, { child, job }] of this.#children) {
      if (!lane.patient.includes(job.kind) || this.#isFinishingFor(wanted, job)) continue;
      this.#setAside.add(id);
      child.kill('SIGKILL');
    }
  }

  /** Whether something is finished just now that is of use to a job: it begins after that. */
  isHelped(wanted: Job): boolean {
    return [...this.#children.values()].some(({ job }) => this.#isFinishingFor(wanted, job));
  }

  /** Whether a job that was lost had made way for others; told once. */
  hasMadeWay(id: string): boolean {
    return this.#setAside.delete(id);
  }

  /** Ends all, first by a signal, then by force. */
  async stop(): Promise<void> {
    const children = [...this.#children.values()].map(({ child }) => child);
    for (const child of children) child.kill('SIGTERM');
    const giveUp = setTimeout(() => children.forEach((child) => child.kill('SIGKILL')), GIVE_UP_MS);
    await Promise.all(children.map((child) => child.end));
    clearTimeout(giveUp);
  }

  #isFinishingFor(wanted: Job, job: JobRow): boolean {
    return this.#finishing.has(job.id) && job.takeId !== null && job.takeId === wanted.takeId;
  }

  #endChild(child: RunningChild, kind: JobKind): void {
    if (this.#options.endsByItself(kind)) child.ask();
    else child.kill('SIGTERM');
  }
}
