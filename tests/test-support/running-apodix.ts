import { Announcement, PeopleFile, type Limit } from '@apodix/core';
import { ACCESS_FILE, AccessFile } from '@apodix/course-site';
import { signInAsTeacher } from '@apodix/demo';
import { fork, type ChildProcess } from 'node:child_process';
import { mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';

export interface RunningApodix {
  readonly url: string;
  readonly siteUrl: string;
  /** Calls the course site as its teacher. */
  callSite(path: string, init?: RequestInit): Promise<Response>;
  readonly dataFolder: string;
  /** The server's process, to be killed in tests. */
  readonly server: ChildProcess;
  /** Kills the server without warning and starts it again on the same data and port. */
  crash(): Promise<void>;
  /** Kills it and leaves it down; `startAgain` brings it back. */
  kill(): Promise<void>;
  startAgain(): Promise<void>;
  /** Starts a second server on the same data. */
  startBeside(): Promise<ChildProcess>;
  killSite(): Promise<void>;
  startSiteAgain(): Promise<void>;
  stop(): Promise<void>;
}

export const testPeople = PeopleFile.parse({
  people: [
    {
      id: 'ann',
      displayName: 'Ann Test',
      firstName: 'Ann',
      surname: 'Test',
      candidateNumber: '1',
      role: 'student',
    },
    {
      id: 'bob',
      displayName: 'Bob Test',
      firstName: 'Bob',
      surname: 'Test',
      candidateNumber: '2',
      role: 'student',
    },
    {
      id: 'cat',
      displayName: 'Cat Test',
      firstName: 'Cat',
      surname: 'Test',
      candidateNumber: '3',
      role: 'student',
    },
    {
      id: 'fay',
      displayName: 'Fay Family',
      firstName: 'Fay',
      surname: 'Family',
      candidateNumber: null,
      role: 'family',
    },
    {
      id: 'tess',
      displayName: 'Tess Teacher',
      firstName: 'Tess',
      surname: 'Teacher',
      candidateNumber: null,
      role: 'teacher',
    },
    {
      id: 'tom',
      displayName: 'Tom Teacher',
      firstName: 'Tom',
      surname: 'Teacher',
      candidateNumber: null,
      role: 'teacher',
    },
  ],
  courses: [
    { id: 'music', title: 'Music', subject: 'music' },
    { id: 'other', title: 'Other', subject: 'art' },
  ],
  enrolments: [
    { personId: 'ann', courseId: 'music', role: 'student' },
    { personId: 'bob', courseId: 'other', role: 'student' },
    { personId: 'cat', courseId: 'music', role: 'student' },
    { personId: 'fay', courseId: 'music', role: 'family' },
    { personId: 'tess', courseId: 'music', role: 'teacher' },
    { personId: 'tom', courseId: 'other', role: 'teacher' },
  ],
});

export function buildAnnouncement(
  id: string,
  item: 'video' | 'photo' | 'sound',
  limits: Limit[],
  changes: Partial<Announcement> = {},
): Announcement {
  return Announcement.parse({
    id,
    courseId: 'music',
    title: `Work ${id}`,
    instructions: 'Do it.',
    limits,
    slots: [{ id: 'slot', label: 'The piece', item, min: 1, max: 1 }],
    materials: [],
    rubric: [],
    points: 10,
    attemptsAllowed: 2,
    isLateAllowed: false,
    setAt: new Date(Date.now() - 86_400_000).toISOString(),
    dueAt: new Date(Date.now() + 86_400_000).toISOString(),
    ...changes,
  });
}

/** Below those that outgoing connections are given (Linux: from 32768 on), so that none is in the way. */
const PORTS = { first: 20_000, count: 12_000 };

async function findFreePort(): Promise<number> {
  for (;;) {
    const port = PORTS.first + Math.floor(Math.random() * PORTS.count);
    if (await isFree(port)) return port;
  }
}

function isFree(port: number): Promise<boolean> {
  return new Promise((done) => {
    const probe = createServer();
    probe.once('error', () => done(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => done(true)));
  });
}

function startProcess(path: string, env: NodeJS.ProcessEnv): Promise<ChildProcess> {
  return new Promise((done, fail) => {
    const child = fork(resolve(path), { env, execArgv: [], stdio: ['ignore', 'pipe', 'inherit', 'ipc'] });
    child.stdout?.on('data', (data) => {
      if (String(data).includes('http://')) done(child);
    });
    child.once('exit', (code) => fail(new Error(`${path} ended with ${code}`)));
  });
}

async function killWithoutWarning(child: ChildProcess): Promise<void> {
  const gone = new Promise((done) => child.once('exit', done));
  child.kill('SIGKILL');
  await gone;
}

/** Starts the built servers, as npm start does, on a fresh data folder with the given assignments. */
export async function startApodix(
  assignments: readonly Announcement[],
  changes: NodeJS.ProcessEnv = {},
  /** Gives the address that Apodix knows its course site by, in place of the site's own. */
  openLine: (siteUrl: string) => Promise<string> = (siteUrl) => Promise.resolve(siteUrl),
): Promise<RunningApodix> {
  const dataFolder = await mkdtemp(join(tmpdir(), 'apodix-data-'));
  await mkdir(join(dataFolder, 'course-site'), { recursive: true });
  await writeFile(join(dataFolder, 'people.json'), JSON.stringify(testPeople));
  await writeFile(join(dataFolder, 'course-site', 'assignments.json'), JSON.stringify(assignments));
  const [port, sitePort] = [await findFreePort(), await findFreePort()];
  const siteUrl = `http://127.0.0.1:${sitePort}`;
  const env: NodeJS.ProcessEnv = {
    ...process.env,
    APODIX_DATA: dataFolder,
    APODIX_PORT: String(port),
    APODIX_COURSE_SITE_PORT: String(sitePort),
    APODIX_COURSE_SITE_URL: await openLine(siteUrl),
    APODIX_COURSE_SITE_DELAY_MS: '0',
    APODIX_WEB_FOLDER: resolve('packages/web/dist'),
    APODIX_LOG_LEVEL: 'fatal',
    ...changes,
  };
  const startServer = () => startProcess('packages/server/dist/main.js', env);
  const startSite = () => startProcess('packages/course-site/dist/main.js', env);
  let site = await startSite();
  const secrets = AccessFile.parse(
    JSON.parse(await readFile(join(dataFolder, 'course-site', ACCESS_FILE), 'utf8')),
  );
  env.APODIX_COURSE_SITE_KEY = secrets.connections[0]?.key ?? '';
  const running = {
    callSite: async (path: string, init: RequestInit = {}) => {
      const [teacher] = secrets.teachers;
      if (!teacher) throw new TypeError('There is always a teacher.');
      const headers = new Headers(init.headers);
      headers.set('authorization', await signInAsTeacher({ url: siteUrl, ...teacher }));
      return fetch(new URL(path, siteUrl), { ...init, headers });
    },
    url: `http://127.0.0.1:${port}`,
    siteUrl,
    dataFolder,
    server: await startServer(),
    kill: () => killWithoutWarning(running.server),
    startAgain: async () => {
      running.server = await startServer();
    },
    crash: async () => {
      await killWithoutWarning(running.server);
      running.server = await startServer();
    },
    startBeside: async () =>
      startProcess('packages/server/dist/main.js', { ...env, APODIX_PORT: String(await findFreePort()) }),
    killSite: () => killWithoutWarning(site),
    startSiteAgain: async () => {
      site = await startSite();
    },
    stop: async () => {
      for (const child of [running.server, site]) {
        if (child.exitCode !== null || child.signalCode !== null) continue;
        const gone = new Promise((done) => child.once('exit', done));
        child.kill('SIGTERM');
        await gone;
      }
      await rm(dataFolder, { recursive: true, force: true, maxRetries: 5 });
    },
  };
  return running;
}
