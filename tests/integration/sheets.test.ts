import { Limit, type AssignmentView, type Sheet } from '@apodix/core';
import { ApiClient } from '@apodix/demo';
import { execa } from 'execa';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { shootBoard } from '../test-support/board-shots.ts';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';
import { buildRecipe } from '../test-support/recipes.ts';

let apodix: RunningApodix;
let client: ApiClient;
let folder = '';
const ids: string[] = [];
const MOST_BYTES = 90_000;
const COLORS = [
  [170, 50, 50],
  [50, 90, 170],
  [60, 140, 80],
] as const;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-sheets-'));
  apodix = await startApodix([
    buildAnnouncement('series', 'photo', [
      Limit.parse({ id: 'format', kind: 'format', wanted: ['pdf'] }),
      Limit.parse({ id: 'size', kind: 'file-size', maxBytes: MOST_BYTES }),
    ]),
  ]);
  client = new ApiClient(apodix.url);
  await client.signIn('ann');
  for (const [index, [r, g, b]] of COLORS.entries()) {
    const path = join(folder, `piece-${index}.jpg`);
    const background = { r, g, b };
    const noise = { type: 'gaussian' as const, mean: 0, sigma: 14 };
    const grain = await sharp({ create: { width: 900, height: 600, channels: 3, noise, background: '#000' } })
      .png()
      .toBuffer();
    await sharp({ create: { width: 900, height: 600, channels: 3, background } })
      .composite([{ input: grain, blend: 'add' }])
      .jpeg({ quality: 95 })
      .toFile(path);
    ids.push(await client.bringIn('series', path, `piece-${index}.jpg`));
  }
});
afterAll(async () => {
  await apodix.stop();
  await rm(folder, { recursive: true, force: true });
});

const call = (method: string, path: string, body?: unknown) =>
  fetch(`${apodix.url}/api/assignments/series/${path}`, {
    method,
    headers: { cookie: client.cookie, ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
const keep = (baseVersion: number, sheet: unknown) => call('PUT', 'sheet', { baseVersion, sheet });
async function until(isTrue: (view: AssignmentView) => boolean): Promise<AssignmentView> {
  for (const end = Date.now() + 90_000; ;) {
    const view = await client.readAssignment('series');
    if (isTrue(view)) return view;
    if (Date.now() > end) throw new Error(`Still not: ${JSON.stringify(view.jobs)}`);
    await wait(150);
  }
}
const answer = (text: string, more: Record<string, unknown> = {}) => ({
  kind: 'paragraph',
  runs: [{ text, isBold: false, isItalic: false }],
  ...more,
});

describe('a sheet of photographs', () => {
  it('is kept, laid out as a PDF, fitted under its bytes and proven, and reads as it looks', async () => {
    expect(await (await call('GET', 'sheet')).json()).toEqual({ version: 0, sheet: null });
    const sheet = {
      layout: 'response',
      paper: 'a4',
      title: 'Three grounds',
      pieces: [ids[2], ids[0], ids[1]].map((takeId, index) => ({
        takeId,
        title: `Ground ${index + 1}`,
        medium: 'acrylic',
        size: '30 × 20 cm',
        date: '2026',
        answer: [answer('Mixed with a knife.'), answer('Dry by noon.', { kind: 'bullet' })],
      })),
    };
    expect((await keep(0, sheet)).status).toBe(200);
    expect((await keep(0, sheet)).status).toBe(409);
    const kept = (await (await call('GET', 'sheet')).json()) as { version: number; sheet: Sheet };
    expect([kept.version, kept.sheet.pieces.map(({ takeId }) => takeId)]).toEqual([
      1,
      [ids[2], ids[0], ids[1]],
    ]);

    // The first of them stands upright by its own recipe.
    await client.writeRecipe(ids[2] ?? '', buildRecipe({ turnDegrees: 90 }), 1);
    const [one, two] = (await Promise.all(
      [call('POST', 'sheet/make'), call('POST', 'sheet/make')].map(async (each) => (await each).json()),
    )) as { job: { id: string } }[];
    expect(two?.job.id).toBe(one?.job.id);
    const view = await until(({ takes }) =>
      takes.some(({ kind, state }) => kind === 'document' && state === 'ready'),
    );
    const take = view.takes.find(({ kind }) => kind === 'document');
    expect([take?.name, take?.facts?.document?.pageCount, view.takes.length]).toEqual([
      'Three grounds.pdf',
      2,
      4,
    ]);
    expect(take?.sizeBytes).toBeLessThanOrEqual(MOST_BYTES);
    await client.make(take?.id ?? '', 'series');
    const [made] = (await client.readAssignment('series')).made;
    expect(made?.findings.filter(({ state }) => state !== 'met').map(({ sentence }) => sentence)).toEqual([]);

    const path = join(folder, 'sheet.pdf');
    const file = await fetch(`${apodix.url}${made?.fileUrl}`, { headers: { cookie: client.cookie } });
    await writeFile(path, Buffer.from(await file.arrayBuffer()));
    const info = (await execa('pdfinfo', [path])).stdout;
    expect(info).toMatch(/Title:\s+Three grounds\n/);
    expect(info).toMatch(/Tagged:\s+yes/);
    expect(info).not.toMatch(/Creator|Producer|CreationDate|Author/);
    const told = (await execa('pdfinfo', ['-struct', path])).stdout;
    expect(told).toMatch(/H1[\s\S]*Figure[\s\S]*Caption[\s\S]*P[\s\S]*Figure[\s\S]*Figure/);
    const text = (await execa('pdftotext', ['-raw', path, '-'])).stdout;
    const feet = ['1 of 2', 'Three grounds 2 of 2'];
    const lines = text.split(/[\n\f]/).filter(Boolean);
    expect(lines.slice(1).filter((line) => !feet.includes(line))).toEqual(
      [1, 2, 3].flatMap((count) => [
        `Ground ${count}`,
        'acrylic, 30 × 20 cm, 2026',
        'Mixed with a knife.',
        '• Dry by noon.',
      ]),
    );
    expect([lines[0], ...lines.filter((line) => feet.includes(line))]).toEqual(['Three grounds', ...feet]);
    // In the order of the sheet, and the turned one upright: as another program draws the page.
    await execa('pdftoppm', ['-r', '36', '-png', path, join(folder, 'drawn')]);
    const column: number[] = [];
    for (const page of ['drawn-1.png', 'drawn-2.png']) {
      const { data, info: size } = await sharp(join(folder, page))
        .raw()
        .toBuffer({ resolveWithObject: true });
      for (let y = 0; y < size.height; y += 1) {
        const at = (y * size.width + 50) * size.channels;
        const near = (color: readonly number[]) =>
          color.every((value, band) => Math.abs(value - (data[at + band] ?? 0)) < 30);
        column.push(COLORS.findIndex(near));
      }
    }
    const seen = column.filter((each) => each >= 0);
    expect(seen.filter((each, index) => each !== seen[index - 1])).toEqual([2, 0, 1]);
    const tall = (which: number) => seen.filter((each) => each === which).length;
    expect(tall(2) / tall(0)).toBeCloseTo(1.5 ** 2, 0);
  });

  it('of several that are chosen one can be chosen alone', async () => {
    const chosen = async () => (await client.readAssignment('series')).takes.filter((take) => take.isChosen);
    expect((await chosen()).length).toBeGreaterThan(1);
    await client.choose(ids[1] ?? '');
    expect((await chosen()).map(({ id }) => id)).toEqual([ids[1]]);
  });

  it('says what is wrong: nothing on it, the same photograph twice, one that is gone', async () => {
    const sheet = { layout: 'contact', paper: 'letter', title: '', pieces: [] as unknown[] };
    expect((await keep(1, sheet)).status).toBe(200);
    const empty = await call('POST', 'sheet/make');
    expect([empty.status, await empty.text()]).toEqual([
      400,
      expect.stringContaining('at least one photograph'),
    ]);
    const [takeId] = ids;
    expect((await keep(2, { ...sheet, pieces: [{ takeId }, { takeId }] })).status).toBe(400);
    expect((await keep(2, { ...sheet, pieces: [{ takeId }, { takeId: 'nobody-has-it' }] })).status).toBe(200);
    const gone = await call('POST', 'sheet/make');
    expect([gone.status, await gone.text()]).toEqual([400, expect.stringContaining('not there any more')]);
  });
});

describe('shots of one piece', () => {
  const merge = (takeId: string, takeIds: readonly string[]) =>
    fetch(`${apodix.url}/api/takes/${takeId}/merge`, {
      method: 'POST',
      headers: { cookie: client.cookie, 'content-type': 'application/json' },
      body: JSON.stringify({ takeIds, assignmentId: 'series' }),
    });

  it('become a photograph of its own without the lamp in it', async () => {
    const [one, other] = await shootBoard(folder, 'jpg');
    const first = await client.bringIn('series', one, 'board.jpg');
    const second = await client.bringIn('series', other, 'again.jpg');
    const before = (await until(({ takes }) => takes.every(({ facts }) => facts))).takes.length;
    const response = await merge(first, [second]);
    expect(response.status).toBe(200);
    const { takeId, replacedShare } = (await response.json()) as { takeId: string; replacedShare: number };
    expect(replacedShare).toBeGreaterThan(0.005);
    const find = (view: AssignmentView) => view.takes.find(({ id }) => id === takeId);
    const view = await until((each) => Boolean(find(each)?.facts));
    expect(view.takes.length).toBe(before + 1);
    expect(find(view)).toMatchObject({ name: 'board without glare.jpg', kind: 'photo' });
    const burnt = (id: string) => view.takes.find((take) => take.id === id)?.facts?.photo?.detail?.burntShare;
    expect(burnt(first)).toBeGreaterThan(0.005);
    expect(burnt(takeId)).toBeLessThan(0.0005);
  });

  it('are refused in words where they show something else, or are one and the same', async () => {
    const other = await merge(ids[0] ?? '', [ids[1] ?? '']);
    expect([other.status, await other.text()]).toEqual([400, expect.stringContaining('same piece')]);
    const same = await merge(ids[0] ?? '', [ids[0] ?? '']);
    expect([same.status, await same.text()]).toEqual([400, expect.stringContaining('another photograph')]);
  });
});
