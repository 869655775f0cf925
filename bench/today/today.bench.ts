import { ApiClient } from '@apodix/demo';
import { Limit } from '@apodix/core';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { Sequelize } from 'sequelize';
import sharp from 'sharp';
import { openBrowser } from '../../tests/test-support/browser.ts';
import {
  buildAnnouncement,
  startApodix,
  type RunningApodix,
} from '../../tests/test-support/running-apodix.ts';
import type { Benchmark, Row } from '../benchmark.ts';

const ASSIGNMENTS = 300;
const ROUNDS = 30;
const PING_EVERY_MS = 4;

/**
 * How fast Today and one assignment are with 300 assignments that hold three takes and three made files each.
 * The baseline is the lightest request that there is, /api/health, in the same run.
 */
export const todayBenchmark: Benchmark = {
  name: 'today',
  isShort: true,
  run: async (_isLong, tell) => {
    const apodix = await startApodix(
      Array.from({ length: ASSIGNMENTS }, (_, index) =>
        buildAnnouncement(`work-${index}`, 'photo', [
          Limit.parse({ id: 'size', kind: 'file-size', maxBytes: 400_000 }),
          Limit.parse({ id: 'format', kind: 'format', wanted: ['jpeg'] }),
        ]),
      ),
      { APODIX_REQUESTS_PER_MINUTE: '1000000' },
    );
    try {
      const client = new ApiClient(apodix.url);
      await client.signIn('ann');
      await makeOne(client);
      await apodix.kill();
      await fillOthers(apodix);
      await apodix.startAgain();
      const rows: Row[] = [];
      const add = (row: Row) => {
        rows.push(row);
        tell(row);
      };
      const health = median(await time(apodix, client, '/api/health', ROUNDS));
      const [cold = 0] = await time(apodix, client, '/api/today', 1);
      add({ request: 'Today, first after a start', ms: cold, ratio: ratio(cold, health) });
      for (const [request, path] of [
        ['Today', '/api/today'],
        ['one assignment', '/api/assignments/work-7'],
      ] as const) {
        const [pings, times] = await pingBeside(apodix, () => time(apodix, client, path, ROUNDS));
        const ms = median(times);
        add({
          request,
          ms,
          ratio: ratio(ms, health),
          'longest wait of others, ms': round(Math.max(...pings)),
        });
      }
      add({ request: 'baseline: /api/health', ms: health, ratio: 1 });
      const page = await timePage(apodix, client);
      add({ request: 'Today in the browser, until the first card', ms: page, ratio: ratio(page, health) });
      return { tables: [{ title: `Today with ${ASSIGNMENTS} assignments, three takes each`, rows }] };
    } finally {
      await apodix.stop();
    }
  },
};

const round = (value: number) => Number(value.toFixed(1));
const ratio = (value: number, baseline: number) => Number((value / Math.max(0.1, baseline)).toFixed(1));
const median = (values: readonly number[]) =>
  round([...values].sort((left, right) => left - right)[Math.floor(values.length / 2)] ?? 0);

async function makeOne(client: ApiClient): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'apodix-today-'));
  try {
    const path = join(folder, 'picture.jpg');
    const noise = { type: 'gaussian' as const, mean: 128, sigma: 30 };
    await sharp({ create: { width: 1200, height: 900, channels: 3, background: '#888', noise } })
      .jpeg()
      .toFile(path);
    await client.make(await client.bringIn('work-0', path, 'picture.jpg'));
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Copies what was really brought in and made, until every assignment holds three of each. */
async function fillOthers(apodix: RunningApodix): Promise<void> {
  const storage = join(apodix.dataFolder, 'apodix.sqlite');
  const database = new Sequelize({ dialect: 'sqlite', storage, logging: false });
  const columnsOf = async (table: string, except: readonly string[]) => {
    const [rows] = await database.query(`PRAGMA table_info(${table})`);
    return (rows as { name: string }[]).map(({ name }) => name).filter((name) => !except.includes(name));
  };
  const places = `WITH RECURSIVE places (n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM places WHERE n < ${ASSIGNMENTS * 3 - 1})`;
  const copy = async (table: string, own: Readonly<Record<string, string>>) => {
    const rest = await columnsOf(table, Object.keys(own));
    const first = `(SELECT * FROM ${table} ORDER BY rowid LIMIT 1)`;
    await database.query(
      `INSERT INTO ${table} (${[...Object.keys(own), ...rest].join()}) ${places}
       SELECT ${[...Object.values(own), ...rest.map((name) => `each.${name}`)].join()} FROM ${first} AS each, places`,
    );
  };
  const assignment = `'work-' || (n / 3)`;
  await copy('takes', { id: `'take-' || n` });
  await copy('recipes', { takeId: `'take-' || n` });
  await copy('take_uses', { takeId: `'take-' || n`, assignmentId: assignment });
  await copy('made_files', { id: `'made-' || n`, takeId: `'take-' || n`, assignmentId: assignment });
  await database.close();
}

async function time(
  apodix: RunningApodix,
  client: ApiClient,
  path: string,
  rounds: number,
): Promise<number[]> {
  const times: number[] = [];
  for (let count = 0; count < rounds; count += 1) {
    const startedAt = performance.now();
    const answer = await fetch(apodix.url + path, { headers: { cookie: client.cookie } });
    await answer.arrayBuffer();
    times.push(performance.now() - startedAt);
    if (!answer.ok) throw new Error(`${path} answered ${answer.status}.`);
  }
  return times.map(round);
}

/** How long others wait for the lightest answer while something is asked for. */
async function pingBeside<T>(apodix: RunningApodix, work: () => Promise<T>): Promise<[number[], T]> {
  let isDone = false;
  const pings: number[] = [];
  const pinging = (async () => {
    while (!isDone) {
      const startedAt = performance.now();
      await (await fetch(`${apodix.url}/api/health`)).arrayBuffer();
      pings.push(performance.now() - startedAt);
      await wait(PING_EVERY_MS);
    }
  })();
  const result = await work().finally(() => (isDone = true));
  await pinging;
  return [pings, result];
}

async function timePage(apodix: RunningApodix, client: ApiClient): Promise<number> {
  const browser = await openBrowser();
  try {
    await browser.setView(1280, 800);
    await browser.driver.get(`${apodix.url}/sign-in`);
    const [name = '', value = ''] = client.cookie.split('=');
    await browser.driver.manage().addCookie({ name, value, path: '/' });
    const times: number[] = [];
    for (let count = 0; count < 5; count += 1) {
      await browser.driver.get(`${apodix.url}/today`);
      await browser.driver.wait(async () => {
        const at = await browser.driver.executeScript<number>(
          `return document.querySelectorAll('a.card').length ? performance.now() : 0`,
        );
        if (at > 0) times.push(at);
        return at > 0;
      }, 30_000);
    }
    return median(times);
  } finally {
    await browser.close();
  }
}
