import { ApodixError, isFaultCode, type JobKind, type JobView } from '@apodix/core';
import { fork, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdir, readdir, rm } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Logger } from 'pino';
import { Op, type Sequelize, type Transaction } from 'sequelize';
import { JobRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import { END_BY_ITSELF, WorkerMessage, type WorkerTask } from '../worker/messages.ts';
import type { LiveEvents } from './live-events.ts';

/** A job that is to be done. */
export interface NewJob {
  readonly kind: JobKind;
  readonly personId: string;
  readonly takeId: string | null;
  readonly assignmentId: string | null;
  readonly input: unknown;
  readonly inputHash: string;
}

/** What a kind of job does around its child process. */
export interface JobHandler {
  /** What the child is asked for; `folder` is the job's own and is removed afterwards. */
  prepare(job: JobRow, folder: string): Promise<WorkerTask>;
  /**
   * Keeps the result, in one transaction, so that doing it twice changes nothing. May name a job that
   * follows.
   */
  finish(job: JobRow, result: unknown): Promise<NewJob | null | void>;
  /** What a final failure means for the thing that the job was about. */
  fail(job: JobRow, fault: ApodixError): Promise<void>;
  /**
   * In how many milliseconds it is tried again in spite of a fault; null where the fault is final. What has
   * it is never given up by the count of tries.
   */
  postpone?(job: JobRow, fault: ApodixError): Promise<number | null>;
  /**
   * It ends by itself when it is asked to, and what it says then holds: something outside may have happened
   * already. A job that has begun is asked again even where it waits.
   */
  readonly endsByItself?: boolean;
}

export interface JobRunnerOptions {
  readonly handlers: Readonly<Record<JobKind, JobHandler>>;
  readonly live: LiveEvents;
  readonly workFolder: string;
  readonly concurrency: number;
  readonly log: Logger;
  readonly sequelize: Sequelize;
}

/** This process, as one that runs jobs: where it runs, and which it is. */
const OWNER = `${hostname()}-${process.pid}-${randomUUID().slice(0, 8)}`;
/** Between an owner and a job in the name of a folder. */
const FOLDER_PART = '--';

/** Whether the process of an owner may still be there; of other machines only the lease can tell. */
function isOwnerAlive(owner: string): boolean {
  if (owner === OWNER) return true;
  const [, host, pid] = /^(.*)-(\d+)-[0-9a-f]{8}$/.exec(owner) ?? [];
  if (host === undefined || pid === undefined) return false;
  if (host !== hostname()) return true;
  // A number that was given to this very process once more is no other server's.
  if (Number(pid) === process.pid) return false;
  try {
    process.kill(Number(pid), 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** Takes a waiting job for this process; false where another has taken it in the meantime. */
async function claim(job: JobRow): Promise<boolean> {
  const [count] = await JobRow.update(
    {
      state: 'running',
      owner: OWNER,
      attempts: job.attempts + 1,
      leaseUntil: new Date(Date.now() + LEASE_MS),
      share: 0,
    },
    { where: { id: job.id, state: 'waiting' } },
  );
  if (count === 0) return false;
  await job.reload();
  return true;
}

/** Kinds of job that nobody waits for. */
const PATIENT: JobKind[] = ['sample'];
const isPatient = (kind: JobKind) => PATIENT.includes(kind);
const MAX_ATTEMPTS = 3;
const LEASE_MS = 30_000;
const TICK_MS = 1000;
const isSource = import.meta.url.endsWith('.ts');
const childPath = fileURLToPath(
  new URL(isSource ? '../worker/job-child.ts' : '../worker/job-child.js', import.meta.url),
);

/**
 * Runs the jobs that wait in the database, each in a child process, at most `concurrency` at once. A job
 * holds a lease that is renewed while it runs; one whose lease has run out (crash, restart) is begun again,
 * three times at the most.
 */
export class JobRunner {
  readonly #options: JobRunnerOptions;
  readonly #children = new Map<string, ChildProcess>();
  readonly #starting = new Set<string>();
  /** Jobs that were cancelled before their child was there to be told. */
  readonly #toEnd = new Set<string>();
  /** Running jobs that can wait, and those of them that were ended to make way. */
  readonly #patient = new Set<string>();
  readonly #setAside = new Set<string>();
  #timer: NodeJS.Timeout | null = null;
  #isStopped = false;

  constructor(options: JobRunnerOptions) {
    this.#options = options;
  }

  /** Begins; whatever was running in a process that has ended waits again. */
  async start(): Promise<void> {
    await mkdir(this.#options.workFolder, { recursive: true });
    // What another server on this folder runs stays its own, and so does its folder.
    for (const name of await readdir(this.#options.workFolder))
      if (!isOwnerAlive(name.split(FOLDER_PART)[0] ?? ''))
        await rm(join(this.#options.workFolder, name), { recursive: true, force: true });
    for (const job of await JobRow.findAll({ where: { state: 'running' } }))
      if (job.owner === null || job.owner === undefined || !isOwnerAlive(job.owner))
        await job.update({ state: 'waiting', leaseUntil: null, owner: null });
    this.#timer = setInterval(() => void this.#tick(), TICK_MS);
    await this.#tick();
  }

  async stop(): Promise<void> {
    this.#isStopped = true;
    if (this.#timer) clearInterval(this.#timer);
    const ends = [...this.#children.values()].map(
      (child) => new Promise<void>((resolve) => child.once('exit', () => resolve())),
    );
    for (const child of this.#children.values()) child.kill('SIGTERM');
    const giveUp = setTimeout(() => this.#children.forEach((child) => child.kill('SIGKILL')), 4000);
    await Promise.all(ends);
    clearTimeout(giveUp);
  }

  /** Adds a job, or gives the one that is already waiting or running for the same input. */
  async add(job: NewJob): Promise<JobRow> {
    const { sequelize } = this.#options;
    const { row, isNew } = await transact(sequelize, (transaction) => insertJob(job, transaction));
    if (isNew) this.begin(row);
    return row;
  }

  /** Begins a job that `insertJob` wrote within a transaction which has ended. */
  begin(row: JobRow): void {
    this.#tell(row);
    if (!isPatient(row.kind)) this.#makeWay();
    void this.#tick();
  }

  /** Ends jobs that can wait, so that what a person waits for has both cores; they begin again afterwards. */
  #makeWay(): void {
    for (const [id, child] of this.#children) {
      if (!this.#patient.has(id)) continue;
      this.#setAside.add(id);
      child.kill('SIGKILL');
    }
  }

  async cancel(job: JobRow): Promise<JobRow> {
    const endsByItself = this.#options.handlers[job.kind].endsByItself === true;
    const hasBegun = job.attempts > 0 || this.#starting.has(job.id);
    if (job.state === 'waiting' && !(endsByItself ? hasBegun : this.#starting.has(job.id)))
      await this.#fail(job, new ApodixError('CANCELLED'));
    else if (job.state === 'running' || job.state === 'waiting') {
      await job.update({ isCancelRequested: true, ...(job.state === 'waiting' ? { leaseUntil: null } : {}) });
      const child = this.#children.get(job.id);
      if (child) this.#endChild(child, job.kind);
      else if (this.#starting.has(job.id)) this.#toEnd.add(job.id);
      void this.#tick();
    }
    return job;
  }

  #endChild(child: ChildProcess, kind: JobKind): void {
    if (this.#options.handlers[kind].endsByItself) child.send(END_BY_ITSELF, () => undefined);
    else child.kill('SIGTERM');
  }

  async #tick(): Promise<void> {
    if (this.#isStopped) return;
    try {
      await JobRow.update(
        { state: 'waiting', leaseUntil: null },
        {
          where: {
            state: 'running',
            leaseUntil: { [Op.lt]: new Date() },
            id: { [Op.notIn]: [...this.#children.keys(), ...this.#starting] },
          },
        },
      );
      const free = this.#options.concurrency - this.#children.size - this.#starting.size;
      if (free <= 0) return;
      const isBusy = this.#children.size + this.#starting.size > 0;
      const waiting = await this.#findWaiting(free, isBusy);
      for (const job of waiting) {
        if (
          this.#starting.has(job.id) ||
          this.#children.has(job.id) ||
          this.#children.size + this.#starting.size >= this.#options.concurrency
        )
          continue;
        this.#starting.add(job.id);
        void this.#run(job);
      }
    } catch (error) {
      this.#options.log.error({ err: error }, 'The job queue could not be read');
    }
  }

  /** The oldest jobs first; those that can wait only where nothing else waits or runs, and one at a time. */
  async #findWaiting(limit: number, isBusy: boolean): Promise<JobRow[]> {
    const where = {
      state: 'waiting',
      id: { [Op.notIn]: [...this.#starting] },
      // Until then one that was postponed stays.
      leaseUntil: { [Op.or]: [null, { [Op.lte]: new Date() }] },
    };
    const waiting = await JobRow.findAll({
      where: { ...where, kind: { [Op.notIn]: PATIENT } },
      order: [['createdAt', 'ASC']],
      limit,
    });
    if (waiting.length > 0 || isBusy) return waiting;
    return JobRow.findAll({ where, order: [['createdAt', 'ASC']], limit: 1 });
  }

  async #run(job: JobRow): Promise<void> {
    const folder = join(this.#options.workFolder, OWNER + FOLDER_PART + job.id);
    const handler = this.#options.handlers[job.kind];
    try {
      if (job.attempts >= MAX_ATTEMPTS) return await this.#end(job, new ApodixError('JOB_LOST'));
      if (!(await claim(job))) return;
      await rm(folder, { recursive: true, force: true });
      await mkdir(folder, { recursive: true });
      const task = await handler.prepare(job, folder);
      const end = await this.#runChild(job, task);
      if (this.#isStopped) return;
      await job.reload();
      const { endsByItself = false } = handler;
      if (end.type === 'done' && (endsByItself || !job.isCancelRequested)) {
        const next = await handler.finish(job, end.result);
        await job.update({ state: 'done', share: 1, secondsLeft: 0, leaseUntil: null });
        this.#tell(job);
        if (next) await this.add(next);
      } else if (end.type === 'lost' && (endsByItself || !job.isCancelRequested)) {
        if (this.#setAside.delete(job.id)) job.set({ attempts: Math.max(0, job.attempts - 1) });
        this.#options.log.warn(
          { job: job.id, kind: job.kind, attempt: job.attempts },
          'A job was interrupted',
        );
        await job.update({ state: 'waiting', leaseUntil: null, stage: 'Interrupted, begins again' });
        this.#tell(job);
      } else {
        const fault =
          end.type === 'failed' && (endsByItself || !job.isCancelRequested)
            ? new ApodixError(
                isFaultCode(end.code) ? end.code : 'UNEXPECTED',
                end.detail === undefined ? {} : { detail: end.detail },
              )
            : new ApodixError('CANCELLED');
        if (end.type === 'failed' && end.trace)
          this.#options.log.warn(
            { job: job.id, kind: job.kind, code: end.code, detail: end.detail, trace: end.trace },
            'A job failed',
          );
        await this.#end(job, fault);
      }
    } catch (error) {
      this.#options.log.error({ err: error, job: job.id }, 'A job could not be run');
      await this.#end(
        job,
        error instanceof ApodixError ? error : new ApodixError('UNEXPECTED', { cause: error }),
      ).catch(() => undefined);
    } finally {
      this.#starting.delete(job.id);
      this.#toEnd.delete(job.id);
      if (!this.#isStopped) {
        await rm(folder, { recursive: true, force: true }).catch(() => undefined);
        void this.#tick();
      }
    }
  }

  #runChild(
    job: JobRow,
    task: WorkerTask,
  ): Promise<Exclude<WorkerMessage, { type: 'progress' }> | { type: 'lost' }> {
    return new Promise((resolve) => {
      const child = fork(childPath, {
        execArgv: isSource ? ['--import', 'tsx', '--conditions=source'] : [],
        stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      });
      this.#children.set(job.id, child);
      if (isPatient(job.kind)) this.#patient.add(job.id);
      let end: Exclude<WorkerMessage, { type: 'progress' }> | { type: 'lost' } = { type: 'lost' };
      let savedAt = 0;
      const renewal = setInterval(
        () => void job.update({ leaseUntil: new Date(Date.now() + LEASE_MS) }).catch(() => undefined),
        LEASE_MS / 3,
      );
      child.on('message', (raw) => {
        const parsed = WorkerMessage.safeParse(raw);
        if (!parsed.success) {
          this.#options.log.error({ err: parsed.error, job: job.id }, 'A job said something malformed');
          return;
        }
        const message = parsed.data;
        if (message.type !== 'progress') {
          end = message;
          return;
        }
        const isSameStage = job.stage === message.stage;
        job.set({ stage: message.stage, share: message.share, secondsLeft: message.secondsLeft });
        if (isSameStage && Date.now() - savedAt < 250) return;
        savedAt = Date.now();
        void job.save().catch(() => undefined);
        this.#tell(job);
      });
      child.once('error', () => child.kill('SIGKILL'));
      child.once('exit', () => {
        clearInterval(renewal);
        this.#children.delete(job.id);
        this.#patient.delete(job.id);
        resolve(end);
      });
      child.send(task, (error) => {
        if (error) child.kill('SIGKILL');
      });
      if (this.#toEnd.delete(job.id)) this.#endChild(child, job.kind);
    });
  }

  /** Ends a job with a fault, or puts it off where it has to be tried again. */
  async #end(job: JobRow, fault: ApodixError): Promise<void> {
    const postponeMs = (await this.#options.handlers[job.kind].postpone?.(job, fault)) ?? null;
    if (postponeMs === null) return this.#fail(job, fault);
    await job.update({
      state: 'waiting',
      attempts: 1,
      leaseUntil: new Date(Date.now() + postponeMs),
      stage: fault.message,
    });
    this.#tell(job);
  }

  async #fail(job: JobRow, fault: ApodixError): Promise<void> {
    await this.#options.handlers[job.kind].fail(job, fault);
    await job.update({
      state: fault.code === 'CANCELLED' ? 'cancelled' : 'failed',
      fault: fault.toJSON(),
      leaseUntil: null,
    });
    this.#tell(job);
  }

  #tell(job: JobRow): void {
    this.#options.live.tell(job.personId, { type: 'job', job: viewJob(job) });
    if (job.state !== 'running' && job.assignmentId)
      this.#options.live.tell(job.personId, { type: 'work', assignmentId: job.assignmentId });
  }
}

/** Writes a job down, or finds the one that is open for the same input. */
export async function insertJob(
  job: NewJob,
  transaction: Transaction,
): Promise<{ row: JobRow; isNew: boolean }> {
  const { kind, personId, inputHash } = job;
  const same = await JobRow.findOne({
    where: { kind, personId, inputHash, state: { [Op.in]: ['waiting', 'running'] } },
    transaction,
  });
  if (same) return { row: same, isNew: false };
  const row = await JobRow.create(
    {
      ...job,
      id: randomUUID(),
      state: 'waiting',
      stage: 'Waiting for a free place',
      share: 0,
      secondsLeft: null,
      attempts: 0,
      leaseUntil: null,
      isCancelRequested: false,
      fault: null,
      createdAt: new Date(),
    },
    { transaction },
  );
  return { row, isNew: true };
}

export function viewJob(job: JobRow): JobView {
  const { id, kind, state, stage, share, secondsLeft, takeId, assignmentId, fault } = job;
  return { id, kind, state, stage, share, secondsLeft, takeId, assignmentId, fault };
}
