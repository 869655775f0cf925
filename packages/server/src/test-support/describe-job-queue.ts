import { ApodixError, type JobKind } from '@apodix/core';
import { setTimeout as wait } from 'node:timers/promises';
import type { Sequelize } from 'sequelize';
import { expect, it } from 'vitest';
import { transact } from '../data/transact.ts';
import type { Job, JobHandler, JobQueue, NewJob } from '../queue/job-queue.ts';
import type { ChildEnd, RunChild } from '../queue/run-child.ts';

/** Tasks under way, to be ended as the test wants. */
export interface ControlledRuns {
  readonly runChild: RunChild;
  /** Ids of the jobs whose task is under way. */
  listRunning(): string[];
  end(jobId: string, end: ChildEnd): void;
  /** What each task was asked for: signals, or `ask`. */
  readonly asked: string[];
}

export function controlRuns(): ControlledRuns {
  const running = new Map<string, (end: ChildEnd) => void>();
  const asked: string[] = [];
  return {
    asked,
    listRunning: () => [...running.keys()],
    end: (jobId, end) => running.get(jobId)?.(end),
    runChild: (task) => {
      const id = (task as unknown as { jobId: string }).jobId;
      let resolve: (end: ChildEnd) => void = () => undefined;
      const end = new Promise<ChildEnd>((done) => (resolve = done)).finally(() => running.delete(id));
      running.set(id, resolve);
      return {
        end,
        kill: (signal) => {
          asked.push(signal);
          resolve({ type: 'lost' });
        },
        ask: () => void asked.push('ask'),
      };
    },
  };
}

export interface QueueUnderTest {
  readonly queue: JobQueue;
  readonly runs: ControlledRuns;
  readonly sequelize: Sequelize;
  /** A take of Ann's. */
  readonly takeId: string;
  /** What handlers were told: `finish ID` or `fail CODE ID`. */
  readonly told: string[];
}

/** How long handlers take over the end of a job whose input begins with `slow`, or to prepare samples. */
const SLOW_MS = 900;

/** Handlers that only note what they are told, one for each kind. */
export function noteHandlers(told: string[]): Readonly<Record<JobKind, JobHandler>> {
  const handler: JobHandler = {
    prepare: async (job) => {
      if (job.kind === 'sample' && job.inputHash.startsWith('slow')) await wait(SLOW_MS);
      return { kind: job.kind, jobId: job.id } as never;
    },
    finish: (job) => Promise.resolve(void told.push(`finish ${job.id}`)),
    fail: async (job, fault) => {
      if (job.inputHash.startsWith('slow')) await wait(SLOW_MS);
      told.push(`fail ${fault.code} ${job.id}`);
    },
  };
  const postpone: JobHandler['postpone'] = (_job, fault) =>
    Promise.resolve(fault.code === 'DELIVERY_UNCERTAIN' ? 0 : null);
  return {
    inspect: handler,
    shake: handler,
    sheet: handler,
    make: { ...handler, isQuick: (job) => job.inputHash.startsWith('quick') },
    sample: handler,
    ahead: handler,
    deliver: { ...handler, endsByItself: true, postpone },
  };
}

const build = (kind: JobKind, inputHash: string, personId = 'ann'): NewJob => ({
  kind,
  personId,
  takeId: null,
  assignmentId: null,
  input: {},
  inputHash,
});
const done: ChildEnd = { type: 'done', result: null };

/** What every adapter of `JobQueue` has to do. It is opened with two places for what is made. */
export function describeJobQueue(open: () => Promise<QueueUnderTest>): void {
  const untilRunning = (runs: ControlledRuns, ids: readonly string[]) =>
    expect.poll(() => runs.listRunning().sort(), { timeout: 20_000 }).toEqual([...ids].sort());
  const untilState = (queue: JobQueue, job: Job, state: Job['state']) =>
    expect.poll(async () => (await queue.find(job.id))?.state, { timeout: 20_000 }).toBe(state);

  it('does each job once, however often and from however many sides it is added', async () => {
    const { queue, runs, told } = await open();
    const jobs = await Promise.all(Array.from({ length: 10 }, () => queue.add(build('make', 'same'))));
    expect(new Set(jobs.map((job) => job.id)).size).toBe(1);
    const [job] = jobs as [Job];
    await untilRunning(runs, [job.id]);
    runs.end(job.id, done);
    await untilState(queue, job, 'done');
    expect(told).toEqual([`finish ${job.id}`]);
    expect((await queue.findLatest('make', 'same'))?.id).toBe(job.id);
    expect((await queue.add(build('make', 'same'))).id).not.toBe(job.id);
  });

  it('what is enlisted in a transaction that fails was never there', async () => {
    const { queue, runs, sequelize } = await open();
    const failing = transact(sequelize, async (transaction) => {
      await queue.enlist(build('make', 'rolled back'), transaction);
      throw new Error('The rest of it failed.');
    });
    await expect(failing).rejects.toThrow(/The rest/);
    expect(await queue.findLatest('make', 'rolled back')).toBeNull();
    const { job } = await transact(sequelize, (transaction) =>
      queue.enlist(build('make', 'kept'), transaction),
    );
    queue.begin(job);
    await untilRunning(runs, [job.id]);
  });

  it('delivers while every place for making is taken', async () => {
    const { queue, runs } = await open();
    const makes = [await queue.add(build('make', '1')), await queue.add(build('make', '2'))];
    const waiting = await queue.add(build('make', '3'));
    const delivery = await queue.add(build('deliver', '4'));
    await untilRunning(
      runs,
      [...makes, delivery].map((job) => job.id),
    );
    expect((await queue.find(waiting.id))?.state).toBe('waiting');
    runs.end(makes[0]?.id ?? '', done);
    await untilRunning(runs, [makes[1]?.id ?? '', delivery.id, waiting.id]);
  });

  it('what can wait makes way for what a person waits for, and begins again', async () => {
    const { queue, runs, told } = await open();
    const sample = await queue.add(build('sample', 's'));
    await untilRunning(runs, [sample.id]);
    const make = await queue.add(build('make', 'm'));
    await untilRunning(runs, [make.id]);
    runs.end(make.id, done);
    await untilRunning(runs, [sample.id]);
    runs.end(sample.id, done);
    await untilState(queue, sample, 'done');
    expect(told).toEqual([`finish ${make.id}`, `finish ${sample.id}`]);
  });

  it('what can wait makes way while it is only being prepared, too', async () => {
    const { queue, runs, told } = await open();
    const sample = await queue.add(build('sample', 'slow s'));
    await untilState(queue, sample, 'running');
    expect(runs.listRunning()).toEqual([]);
    const make = await queue.add(build('make', 'm'));
    await untilRunning(runs, [make.id]);
    await wait(SLOW_MS * 1.2);
    expect(runs.listRunning()).toEqual([make.id]);
    runs.end(make.id, done);
    await untilRunning(runs, [sample.id]);
    runs.end(sample.id, done);
    await untilState(queue, sample, 'done');
    expect(told).toEqual([`finish ${make.id}`, `finish ${sample.id}`]);
  });

  it('what can wait makes way for what comes while it is looked for', async () => {
    const { queue, runs } = await open();
    for (let round = 0; round < 8; round += 1) {
      const [, make] = await Promise.all([
        queue.add(build('sample', 's')),
        wait(round * 2).then(() => queue.add(build('make', `m${round}`))),
      ]);
      await untilRunning(runs, [make.id]);
      await wait(60);
      expect(runs.listRunning()).toEqual([make.id]);
      runs.end(make.id, done);
      await untilState(queue, make, 'done');
    }
  });

  it('leaves a job until its time, and what is made ahead makes way for what is asked for', async () => {
    const { queue, runs } = await open();
    const beganAt = Date.now();
    const ahead = await queue.add({ ...build('ahead', 'a'), notBefore: new Date(beganAt + 1200) });
    await untilRunning(runs, [ahead.id]);
    expect(Date.now() - beganAt).toBeGreaterThanOrEqual(1200);
    const make = await queue.add(build('make', 'm'));
    await untilRunning(runs, [make.id]);
    runs.end(make.id, done);
    await untilRunning(runs, [ahead.id]);
    runs.end(ahead.id, done);
    await untilState(queue, ahead, 'done');
  });

  it('goes in turn from person to person, and tells who waits how many begin before', async () => {
    const { queue, runs } = await open();
    const anns: Job[] = [];
    for (const name of ['1', '2', '3', '4']) anns.push(await queue.add(build('make', name)));
    await expect.poll(() => runs.listRunning().length, { timeout: 20_000 }).toBe(2);
    const begun = runs.listRunning();
    const waiting = anns.filter(({ id }) => !begun.includes(id));
    const bobs = await queue.add(build('make', '5', 'bob'));
    const stageOf = async (id = '') => (await queue.find(id))?.stage;
    const places = async () => [
      await stageOf(bobs.id),
      ...(await Promise.all(waiting.map(({ id }) => stageOf(id)))).sort(),
    ];
    await expect
      .poll(places, { timeout: 20_000 })
      .toEqual(['Waiting: yours is next', 'Waiting: 1 before yours', 'Waiting: 2 before yours']);
    runs.end(begun[0] ?? '', done);
    await untilRunning(runs, [begun[1] ?? '', bobs.id]);
    runs.end(bobs.id, done);
    await expect.poll(() => runs.listRunning().length, { timeout: 20_000 }).toBe(2);
    expect(runs.listRunning()).not.toContain(bobs.id);
  });

  it('what is done in seconds has a place beside what takes minutes', async () => {
    const { queue, runs } = await open();
    const long = [await queue.add(build('make', '1')), await queue.add(build('make', '2'))];
    const quick = await queue.add(build('make', 'quick 3'));
    await untilRunning(
      runs,
      [...long, quick].map((job) => job.id),
    );
    const [next, other] = [await queue.add(build('make', '4')), await queue.add(build('make', 'quick 5'))];
    runs.end(quick.id, done);
    await untilRunning(
      runs,
      [...long, other].map((job) => job.id),
    );
    expect((await queue.find(next.id))?.state).toBe('waiting');
  });

  it('ends a job that waits at once, one that runs by a signal, one that ends by itself by a word', async () => {
    const { queue, runs, told } = await open();
    const running = [await queue.add(build('make', '1')), await queue.add(build('make', '2'))];
    const waiting = await queue.add(build('make', '3'));
    const delivery = await queue.add(build('deliver', '4'));
    await untilRunning(
      runs,
      [...running, delivery].map((job) => job.id),
    );
    await queue.cancel(waiting.id);
    await queue.cancel(running[0]?.id ?? '');
    await queue.cancel(delivery.id);
    await untilState(queue, waiting, 'cancelled');
    await untilState(queue, running[0] as Job, 'cancelled');
    expect(runs.asked.sort()).toEqual(['SIGTERM', 'ask']);
    // What it says then holds.
    runs.end(delivery.id, done);
    await untilState(queue, delivery, 'done');
    expect(told).toContain(`finish ${delivery.id}`);
    expect(await queue.cancel('no such job')).toBeNull();
  });

  it('lets one that is ended gently finish for the same take, and for nobody else', async () => {
    const { queue, runs, takeId, told } = await open();
    const ofTake = (job: NewJob): NewJob => ({ ...job, takeId });
    const endGently = async (inputHash: string): Promise<Job> => {
      const ahead = await queue.add(ofTake(build('ahead', inputHash)));
      await untilRunning(runs, [ahead.id]);
      await queue.cancel(ahead.id, { isGentle: true });
      return ahead;
    };
    const ahead = await endGently('a');
    const make = await queue.add(ofTake(build('make', 'm')));
    await wait(300);
    // There would be a second place.
    expect(runs.listRunning()).toEqual([ahead.id]);
    expect(runs.asked).toEqual(['ask']);
    runs.end(ahead.id, { type: 'failed', code: 'CANCELLED' });
    await untilRunning(runs, [make.id]);
    runs.end(make.id, done);
    await untilState(queue, make, 'done');
    expect(told).toEqual([`fail CANCELLED ${ahead.id}`, `finish ${make.id}`]);
    const again = await endGently('b');
    const other = await queue.add(build('make', 'o', 'bob'));
    await untilRunning(runs, [other.id]);
    expect(runs.asked).toEqual(['ask', 'ask', 'SIGKILL']);
    await untilState(queue, again, 'cancelled');
  });

  it('never begins one whose end was asked for while it waited, however long ending it takes', async () => {
    const { queue, runs, sequelize, told } = await open();
    for (const kind of ['deliver', 'make'] as const) {
      // Until its end was asked for nothing begins it by itself.
      const notBefore = new Date(Date.now() + SLOW_MS / 2);
      const { job } = await transact(sequelize, (transaction) =>
        queue.enlist({ ...build(kind, `slow ${kind}`), notBefore }, transaction),
      );
      const cancelled = queue.cancel(job.id);
      await wait(SLOW_MS * 0.6);
      queue.begin(job);
      await cancelled;
      await wait(SLOW_MS / 3);
      expect(runs.listRunning()).toEqual([]);
      await untilState(queue, job, 'cancelled');
      expect(told.splice(0)).toEqual([`fail CANCELLED ${job.id}`]);
    }
  });

  it('begins a lost job again, three times at the most', async () => {
    const { queue, runs, told } = await open();
    const job = await queue.add(build('make', 'lost'));
    for (let count = 0; count < 3; count += 1) {
      await untilRunning(runs, [job.id]);
      runs.end(job.id, { type: 'lost' });
      await untilRunning(runs, count < 2 ? [job.id] : []);
    }
    await untilState(queue, job, 'failed');
    expect(told).toEqual([`fail JOB_LOST ${job.id}`]);
  });

  it('puts off what is uncertain, and gives up what is certain', async () => {
    const { queue, runs, told } = await open();
    const job = await queue.add(build('deliver', 'uncertain'));
    await untilRunning(runs, [job.id]);
    runs.end(job.id, { type: 'failed', code: 'DELIVERY_UNCERTAIN' });
    await untilRunning(runs, []);
    await untilRunning(runs, [job.id]);
    expect(told).toEqual([]);
    runs.end(job.id, { type: 'failed', code: 'DELIVERY_REFUSED', detail: 'Why.' });
    await untilState(queue, job, 'failed');
    const { fault } = (await queue.find(job.id)) as Job;
    expect([told, fault]).toEqual([
      [`fail DELIVERY_REFUSED ${job.id}`],
      new ApodixError('DELIVERY_REFUSED', { detail: 'Why.' }).toJSON(),
    ]);
  });

  it('forgets what ended before, and nothing that is open', async () => {
    const { queue, runs } = await open();
    const [ended, running] = [await queue.add(build('make', '1')), await queue.add(build('make', '2'))];
    await untilRunning(runs, [ended.id, running.id]);
    runs.end(ended.id, done);
    await untilState(queue, ended, 'done');
    expect(await queue.removeEnded(new Date(0))).toBe(0);
    expect(await queue.removeEnded(new Date(Date.now() + 1000))).toBe(1);
    expect([await queue.find(ended.id), (await queue.find(running.id))?.state]).toEqual([null, 'running']);
  });
}
