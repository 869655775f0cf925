import { ApodixError, isFaultCode, type JobKind } from '@apodix/core';
import { randomUUID } from 'node:crypto';
import { mkdir, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Logger } from 'pino';
import { Op, type Sequelize, type Transaction } from 'sequelize';
import { JobRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import type { LiveEvents } from '../events/live-events.ts';
import type { WorkerTask } from '../worker/messages.ts';
import { isOwnerAlive, nameWorkFolder, OWNER, readFolderOwner } from './job-owner.ts';
import { viewJob, type Job, type JobHandler, type JobQueue, type NewJob } from './job-queue.ts';
import { describePlace, estimateStarts } from './fair-order.ts';
import { buildLanes, type Lane } from './lanes.ts';
import { findWaiting } from './find-waiting.ts';
import { runChild, type ChildEnd, type RunChild } from './run-child.ts';
import { RunningJobs } from './running-jobs.ts';

export interface DatabaseJobQueueOptions {
  readonly handlers: Readonly<Record<JobKind, JobHandler>>;
  readonly live: LiveEvents;
  readonly workFolder: string;
  readonly concurrency: number;
  readonly log: Logger;
  readonly sequelize: Sequelize;
  /** How a task is run; in a process of its own where nothing is said. */
  readonly runChild?: RunChild;
}

const MAX_ATTEMPTS = 3;
const LEASE_MS = 30_000;
const TICK_MS = 1000;
const SAVE_PROGRESS_MS = 250;
const RECENT_JOBS = 20;
const OPEN = ['waiting', 'running'];
const NOT_BEGUN: ChildEnd = { type: 'lost' };

/**
 * Runs the jobs that wait in the database, each in a child process, at most so many at once as its lane has
 * places. A job holds a lease that is renewed while it runs; one whose lease has run out (crash, restart) is
 * begun again, three times at the most.
 */
export class DatabaseJobQueue implements JobQueue {
  readonly #options: DatabaseJobQueueOptions;
  readonly #lanes: readonly Lane[];
  readonly #running: RunningJobs;
  #timer: NodeJS.Timeout | null = null;
  #isStopped = false;

  constructor(options: DatabaseJobQueueOptions) {
    this.#options = options;
    this.#lanes = buildLanes(options.concurrency);
    const endsByItself = (kind: JobKind) => options.handlers[kind].endsByItself === true;
    this.#running = new RunningJobs({ endsByItself, lanes: this.#lanes });
  }

  async start(): Promise<void> {
    await mkdir(this.#options.workFolder, { recursive: true });
    // What another server on this folder runs stays its own, and so does its folder.
    for (const name of await readdir(this.#options.workFolder))
      if (!isOwnerAlive(readFolderOwner(name)))
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
    await this.#running.stop();
  }

  async add(job: NewJob): Promise<Job> {
    const { sequelize } = this.#options;
    const added = await transact(sequelize, (transaction) => this.enlist(job, transaction));
    if (added.isNew) this.begin(added.job);
    return added.job;
  }

  async enlist(job: NewJob, transaction: Transaction): Promise<{ job: Job; isNew: boolean }> {
    const { notBefore = null, ...own } = job;
    const { kind, personId, inputHash } = own;
    const where = { kind, personId, inputHash, state: { [Op.in]: OPEN } };
    const same = await JobRow.findOne({ where, transaction });
    if (same) return { job: same, isNew: false };
    const row = await JobRow.create(
      {
        ...own,
        id: randomUUID(),
        state: 'waiting',
        stage: 'Waiting for a free place',
        share: 0,
        secondsLeft: null,
        attempts: 0,
        leaseUntil: notBefore,
        isCancelRequested: false,
        fault: null,
        createdAt: new Date(),
      },
      { transaction },
    );
    return { job: row, isNew: true };
  }

  begin(job: Job): void {
    this.#tell(job);
    this.#running.makeWayFor(job);
    void this.#tick();
  }

  async cancel(id: string, how = { isGentle: false }): Promise<Job | null> {
    const found = await JobRow.findByPk(id);
    if (!found) return null;
    const isTaken = !this.#running.has(id) && (await this.#takeToEnd(found));
    const job = (await JobRow.findByPk(id)) ?? found;
    if (isTaken) await this.#fail(job, new ApodixError('CANCELLED'));
    else if (OPEN.includes(job.state)) {
      await job.update({ isCancelRequested: true, ...(job.state === 'waiting' ? { leaseUntil: null } : {}) });
      this.#running.end(job, how.isGentle);
      void this.#tick();
    }
    return job;
  }

  /**
   * Takes a job that waits, so that nobody begins it while it is ended; false where it does not wait, or has
   * to end by itself because it has begun before.
   */
  async #takeToEnd(job: JobRow): Promise<boolean> {
    const endsByItself = this.#options.handlers[job.kind].endsByItself === true;
    const [count] = await JobRow.update(
      {
        state: 'running',
        owner: OWNER,
        leaseUntil: new Date(Date.now() + LEASE_MS),
        isCancelRequested: true,
      },
      { where: { id: job.id, state: 'waiting', ...(endsByItself ? { attempts: 0 } : {}) } },
    );
    return count > 0;
  }

  find(id: string): Promise<Job | null> {
    return JobRow.findByPk(id);
  }

  listOpen(of: { readonly takeId?: string; readonly assignmentId?: string }): Promise<Job[]> {
    return JobRow.findAll({ where: { ...of, state: OPEN } });
  }

  listRecent(of: { readonly personId: string; readonly assignmentId: string }): Promise<Job[]> {
    return JobRow.findAll({
      where: { ...of, state: { [Op.in]: [...OPEN, 'failed'] } },
      order: [['createdAt', 'DESC']],
      limit: RECENT_JOBS,
    });
  }

  findLatest(kind: JobKind, inputHash: string, transaction?: Transaction): Promise<Job | null> {
    return JobRow.findOne({
      where: { kind, inputHash },
      order: [['createdAt', 'DESC']],
      ...(transaction ? { transaction } : {}),
    });
  }

  removeEnded(before: Date): Promise<number> {
    return JobRow.destroy({
      where: { state: { [Op.notIn]: OPEN }, createdAt: { [Op.lt]: before } },
    });
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
            id: { [Op.notIn]: this.#running.listIds() },
          },
        },
      );
      for (const lane of this.#lanes) await this.#fill(lane);
    } catch (error) {
      this.#options.log.error({ err: error }, 'The job queue could not be read');
    }
  }

  async #fill(lane: Lane): Promise<void> {
    const waiting: JobRow[] = [];
    for (const job of await findWaiting(lane, {
      busy: this.#running.listIn(lane),
      left: this.#running.listIds(),
    })) {
      if (this.#running.has(job.id)) continue;
      const busy = this.#running.listIn(lane).length;
      const isOneMore =
        busy < lane.places + lane.quickPlaces && this.#options.handlers[job.kind].isQuick?.(job);
      // Something else may have begun since they were looked for.
      const hasPlace = lane.patient.includes(job.kind) ? busy === 0 : busy < lane.places || isOneMore;
      if (hasPlace && !this.#running.isHelped(job)) {
        this.#running.makeWayFor(job);
        this.#running.begin(job);
        void this.#run(job);
      } else waiting.push(job);
    }
    if (lane.patient.length > 0) await this.#tellPlaces(lane, waiting);
  }

  /** Tells those that wait how many begin before them, and about when. */
  async #tellPlaces(lane: Lane, waiting: readonly JobRow[]): Promise<void> {
    const own = waiting.filter(({ kind }) => !lane.patient.includes(kind));
    const busy = this.#running.describeBusy(lane);
    const starts = estimateStarts(busy, own.length, lane.places);
    for (const [before, job] of own.entries()) {
      const stage = describePlace(before, starts[before] ?? null);
      if (job.stage === stage) continue;
      const [count] = await JobRow.update({ stage }, { where: { id: job.id, state: 'waiting' } });
      if (count > 0) this.#options.live.tell(job.personId, { type: 'job', job: viewJob(job.set({ stage })) });
    }
  }

  async #run(job: JobRow): Promise<void> {
    const folder = join(this.#options.workFolder, nameWorkFolder(job.id));
    const handler = this.#options.handlers[job.kind];
    try {
      if (job.attempts >= MAX_ATTEMPTS) return await this.#end(job, new ApodixError('JOB_LOST'));
      if (!(await claim(job))) return;
      if (job.isCancelRequested && !handler.endsByItself)
        return await this.#end(job, new ApodixError('CANCELLED'));
      await rm(folder, { recursive: true, force: true });
      await mkdir(folder, { recursive: true });
      const task = await handler.prepare(job, folder);
      if (this.#isStopped) return;
      const end = this.#running.hasMadeWay(job.id) ? NOT_BEGUN : await this.#runTask(job, task);
      if (this.#isStopped) return;
      await job.reload();
      await this.#settle(job, end, handler);
    } catch (error) {
      this.#options.log.error({ err: error, job: job.id }, 'A job could not be run');
      await this.#end(
        job,
        error instanceof ApodixError ? error : new ApodixError('UNEXPECTED', { cause: error }),
      ).catch(() => undefined);
    } finally {
      this.#running.forget(job.id);
      if (!this.#isStopped) {
        await rm(folder, { recursive: true, force: true }).catch(() => undefined);
        void this.#tick();
      }
    }
  }

  /** What the end of its child means for a job. */
  async #settle(job: JobRow, end: ChildEnd, handler: JobHandler): Promise<void> {
    const isWanted = handler.endsByItself === true || !job.isCancelRequested;
    if (!isWanted) return this.#end(job, new ApodixError('CANCELLED'));
    if (end.type === 'done') {
      const next = await handler.finish(job, end.result);
      await job.update({ state: 'done', share: 1, secondsLeft: 0, leaseUntil: null });
      this.#tell(job);
      if (next) await this.add(next);
    } else if (end.type === 'lost') {
      const { id, kind, attempts } = job;
      if (this.#running.hasMadeWay(id)) job.set({ attempts: Math.max(0, attempts - 1) });
      this.#options.log.warn({ job: id, kind, attempt: attempts }, 'A job was interrupted');
      await job.update({ state: 'waiting', leaseUntil: null, stage: 'Interrupted, begins again' });
      this.#tell(job);
    } else {
      const { code, detail, trace } = end;
      if (trace) this.#options.log.warn({ job: job.id, kind: job.kind, code, detail, trace }, 'A job failed');
      await this.#end(
        job,
        new ApodixError(isFaultCode(code) ? code : 'UNEXPECTED', detail === undefined ? {} : { detail }),
      );
    }
  }

  async #runTask(job: JobRow, task: WorkerTask): Promise<ChildEnd> {
    let savedAt = 0;
    const child = (this.#options.runChild ?? runChild)(task, {
      onMalformed: (error) =>
        this.#options.log.error({ err: error, job: job.id }, 'A job said something malformed'),
      onEarly: (result) =>
        void this.#options.handlers[job.kind]
          .early?.(job, result)
          .catch((error: unknown) =>
            this.#options.log.error({ err: error, job: job.id }, 'What came early could not be kept'),
          ),
      onProgress: ({ stage, share, secondsLeft }) => {
        const isSameStage = job.stage === stage;
        job.set({ stage, share, secondsLeft });
        if (isSameStage && Date.now() - savedAt < SAVE_PROGRESS_MS) return;
        savedAt = Date.now();
        void job.save().catch(() => undefined);
        this.#tell(job);
      },
    });
    const renewal = setInterval(
      () => void job.update({ leaseUntil: new Date(Date.now() + LEASE_MS) }).catch(() => undefined),
      LEASE_MS / 3,
    );
    try {
      return await this.#running.waitFor(job.id, child);
    } finally {
      clearInterval(renewal);
    }
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

  #tell(job: Job): void {
    this.#options.live.tell(job.personId, { type: 'job', job: viewJob(job) });
    if (job.state === 'running') return;
    if (job.takeId !== null) this.#options.live.tell(job.personId, { type: 'takes' });
    if (job.assignmentId !== null)
      this.#options.live.tell(job.personId, { type: 'work', assignmentId: job.assignmentId });
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
