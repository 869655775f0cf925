import type { ApodixError, Fault, JobKind, JobView } from '@apodix/core';
import type { Transaction } from 'sequelize';
import type { WorkerTask } from '../worker/messages.ts';

/** A job that is to be done. */
export interface NewJob {
  readonly kind: JobKind;
  readonly personId: string;
  readonly takeId: string | null;
  readonly assignmentId: string | null;
  readonly input: unknown;
  readonly inputHash: string;
  /** It waits until then. */
  readonly notBefore?: Date;
}

/** A job as the queue holds it. */
export interface Job extends Omit<NewJob, 'notBefore'> {
  readonly id: string;
  readonly state: JobView['state'];
  readonly stage: string;
  /** 0 to 1. */
  readonly share: number;
  readonly secondsLeft: number | null;
  readonly attempts: number;
  readonly isCancelRequested: boolean;
  readonly fault: Fault | null;
  readonly createdAt: Date;
}

/** What a kind of job does around its child process. */
export interface JobHandler {
  /** What the child is asked for; `folder` is the job's own and is removed afterwards. */
  prepare(job: Job, folder: string): Promise<WorkerTask>;
  /**
   * Keeps the result, in one transaction, so that doing it twice changes nothing. May name a job that
   * follows.
   */
  finish(job: Job, result: unknown): Promise<NewJob | null | void>;
  /** Keeps what is there before the rest; it may never come, and the whole result takes its place. */
  early?(job: Job, result: unknown): Promise<void>;
  /** What a final failure means for the thing that the job was about. */
  fail(job: Job, fault: ApodixError): Promise<void>;
  /**
   * In how many milliseconds it is tried again in spite of a fault; null where the fault is final. What has
   * it is never given up by the count of tries.
   */
  postpone?(job: Job, fault: ApodixError): Promise<number | null>;
  /** Whether it is done in seconds. */
  isQuick?(job: Job): boolean;
  /**
   * It ends by itself when it is asked to, and what it says then holds: something outside may have happened
   * already. A job that has begun is asked again even where it waits.
   */
  readonly endsByItself?: boolean;
}

/** Jobs that wait, run and end. Any adapter passes `describeJobQueue`. */
export interface JobQueue {
  /** Begins; what was running in a process that has ended waits again. */
  start(): Promise<void>;
  stop(): Promise<void>;
  /** Adds a job, or gives the one that is already waiting or running for the same input. */
  add(job: NewJob): Promise<Job>;
  /** The same within a transaction of the caller's; once that has ended, a new one is to be begun. */
  enlist(job: NewJob, transaction: Transaction): Promise<{ job: Job; isNew: boolean }>;
  begin(job: Job): void;
  /**
   * Asks a job to end; one that has ended stays as it is. null where there is none. With `isGentle` one that
   * runs may finish what is under way, within seconds, unless somebody else needs the place.
   */
  cancel(id: string, how?: { readonly isGentle: boolean }): Promise<Job | null>;
  find(id: string): Promise<Job | null>;
  /** Those that wait or run for a take or an assignment. */
  listOpen(of: { readonly takeId?: string; readonly assignmentId?: string }): Promise<Job[]>;
  /** The newest jobs of a person's work that wait, run or failed. */
  listRecent(of: { readonly personId: string; readonly assignmentId: string }): Promise<Job[]>;
  /** The newest of a kind for an input, however it ended. */
  findLatest(kind: JobKind, inputHash: string, transaction?: Transaction): Promise<Job | null>;
  /** Forgets jobs that ended and were added before; gives how many. */
  removeEnded(before: Date): Promise<number>;
}

export function viewJob(job: Job): JobView {
  const { id, kind, state, stage, share, secondsLeft, takeId, assignmentId, fault } = job;
  return { id, kind, state, stage, share, secondsLeft, takeId, assignmentId, fault };
}
