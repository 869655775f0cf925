import { Limit, type AssignmentView } from '@apodix/core';
import { ApiClient } from '@apodix/demo';
import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { makeKeyed } from '../test-support/odd-clips.ts';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';

let apodix: RunningApodix;
let folder = '';
let client: ApiClient;
const pdf = Limit.parse({ id: 'f', kind: 'format', wanted: ['pdf'] });
const size = (maxBytes: number) => Limit.parse({ id: 's', kind: 'file-size', maxBytes });
const name = (pattern: string) => Limit.parse({ id: 'n', kind: 'file-name', pattern });

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-server-fit-'));
  await sharp({
    create: {
      width: 800,
      height: 600,
      channels: 3,
      noise: { type: 'gaussian', mean: 120, sigma: 30 },
      background: '#000',
    },
  })
    .png()
    .toFile(join(folder, 'drawing.png'));
  apodix = await startApodix([
    buildAnnouncement('drawing', 'photo', [pdf, size(80_000), name('Surname_Firstname')]),
    buildAnnouncement('film', 'video', [size(900_000)]),
    buildAnnouncement('ahead', 'video', [size(500_000)]),
  ]);
  client = new ApiClient(apodix.url);
  await client.signIn('ann');
});
// Waiting for what runs only while nobody else does takes long where other tests need the computer.
vi.setConfig({ testTimeout: 300_000 });
afterAll(async () => {
  await apodix.stop();
  await rm(folder, { recursive: true, force: true });
});

const makeAgain = async (takeId: string) =>
  (await (
    await fetch(`${apodix.url}/api/assignments/drawing/takes/${takeId}/make`, {
      method: 'POST',
      headers: { cookie: client.cookie },
    })
  ).json()) as { job: unknown };
const writeLimits = (limits: readonly Limit[], assignmentId = 'drawing') =>
  fetch(`${apodix.url}/api/assignments/${assignmentId}/limits`, {
    method: 'PUT',
    headers: { cookie: client.cookie, 'content-type': 'application/json' },
    body: JSON.stringify({ limits }),
  });

it('makes a PDF of a photograph, and a changed name alone makes nothing anew', async () => {
  const takeId = await client.bringIn('drawing', join(folder, 'drawing.png'), 'drawing.png');
  await client.make(takeId);
  const [made] = (await client.readAssignment('drawing')).made;
  expect(made).toMatchObject({ fileName: 'Test_Ann.pdf', isCurrent: true, facts: { container: 'pdf' } });
  expect(made?.sizeBytes).toBeLessThanOrEqual(80_000);
  const served = await fetch(`${apodix.url}${made?.fileUrl}`, { headers: { cookie: client.cookie } });
  expect(served.headers.get('content-type')).toContain('application/pdf');
  expect(
    Buffer.from(await served.arrayBuffer())
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-');

  expect((await writeLimits([pdf, size(80_000), name('Firstname_Surname')])).status).toBe(200);
  expect((await makeAgain(takeId)).job).toBeNull();
  const renamed = (await client.readAssignment('drawing')).made;
  expect(renamed.map((file) => [file.id, file.isCurrent, file.sha256])).toEqual([
    [made?.id, true, made?.sha256],
  ]);

  expect((await writeLimits([pdf, size(60_000), name('Firstname_Surname')])).status).toBe(200);
  expect((await client.readAssignment('drawing')).made[0]?.isCurrent).toBe(false);
  await client.make(takeId);
  expect(
    (await client.readAssignment('drawing')).made.find((file) => file.isCurrent)?.sizeBytes,
  ).toBeLessThanOrEqual(60_000);
});

/** Waits until the work is as wanted, and gives it. */
async function waitForWork(
  assignmentId: string,
  isThere: (view: AssignmentView) => boolean,
): Promise<AssignmentView> {
  const until = Date.now() + 150_000;
  for (;;) {
    const view = await client.readAssignment(assignmentId);
    if (isThere(view)) return view;
    if (Date.now() > until) throw new Error(`It never came: ${JSON.stringify(view.jobs)}`);
    await wait(50);
  }
}
const findAhead = (view: AssignmentView) => view.jobs.find((job) => job.kind === 'ahead');
const allow = (takeId: string, isMadeAhead: boolean) =>
  fetch(`${apodix.url}/api/assignments/ahead/takes/${takeId}`, {
    method: 'PATCH',
    headers: { cookie: client.cookie, 'content-type': 'application/json' },
    body: JSON.stringify({ isMadeAhead }),
  });

it('gets ahead while nobody waits, shows nothing of it as made, and makes of it what is asked for', async () => {
  const path = await makeKeyed(folder, 'ahead.mp4', 12);
  const takeId = await client.bringIn('ahead', path, 'ahead.mp4');
  const pieces = join(
    apodix.dataFolder,
    'pieces',
    (await client.readAssignment('ahead')).takes[0]?.sha256 ?? '',
  );
  await waitForWork('ahead', (view) => findAhead(view)?.state === 'running');
  // Told not to, it ends, and nothing new begins.
  expect((await allow(takeId, false)).status).toBe(200);
  const told = await waitForWork('ahead', (view) => findAhead(view) === undefined);
  expect(told.takes[0]?.isMadeAhead).toBe(false);
  expect(told.made).toEqual([]);

  expect((await allow(takeId, true)).status).toBe(200);
  await waitForWork('ahead', (view) => findAhead(view)?.state === 'running');
  const done = await waitForWork('ahead', (view) => findAhead(view) === undefined);
  expect(done.made).toEqual([]);
  const kept = (await readdir(pieces)).length;
  expect(kept).toBeGreaterThan(3);

  await client.make(takeId);
  const [made] = (await client.readAssignment('ahead')).made;
  expect(made?.findings.filter(({ state }) => state === 'short')).toEqual([]);
  expect(made?.comparison?.picture?.framesCompared).toBeGreaterThan(20);
  // Nothing was coded again: the file is made of what was there.
  expect((await readdir(pieces)).length).toBe(kept);
});

it('has a plan by samples when it is pressed while they are taken, and loses none of them', async () => {
  const path = await makeKeyed(folder, 'film.mp4', 16);
  const takeId = await client.bringIn('film', path, 'film.mp4');
  const waitFor = (isThere: (view: AssignmentView) => boolean) => waitForWork('film', isThere);
  const samplesOf = (view: AssignmentView) => view.takes.find((take) => take.id === takeId)?.samples ?? null;
  // All sizes at once are known first of one second, by which something is made ahead.
  const glance = samplesOf(await waitFor((view) => (samplesOf(view)?.points.length ?? 0) > 3));
  expect(glance?.windows.map(({ durationUs }) => durationUs)).toEqual([1_000_000]);
  expect(glance?.wanted).toBeGreaterThan(1);
  // After that whole windows are sampled: what is known of one stays.
  const isWhole = (view: AssignmentView) => (samplesOf(view)?.windows[0]?.durationUs ?? 0) > 1_000_000;
  const some = samplesOf(await waitFor(isWhole));
  expect(some?.windows.length).toBeLessThan(some?.wanted ?? 0);
  await client.make(takeId);
  const [made] = (await client.readAssignment('film')).made;
  expect(made?.plan.kind === 'video' && made.plan.rate.model?.sampledShare).toBeGreaterThan(0.1);
  expect(made?.sizeBytes).toBeLessThanOrEqual(900_000);

  const all = samplesOf(
    await waitFor((view) => {
      const samples = samplesOf(view);
      return samples !== null && samples.windows.length >= (samples.wanted ?? 0);
    }),
  );
  expect(all?.windows.slice(0, some?.windows.length)).toEqual(some?.windows);
  for (const [way, point] of (some?.points ?? []).entries())
    expect(all?.points[way]?.bytes.slice(0, point.bytes.length)).toEqual(point.bytes);
});

it('gets ahead by other limits as soon as they are changed', async () => {
  const { takes, limits } = await client.readAssignment('ahead');
  const pieces = join(apodix.dataFolder, 'pieces', takes[0]?.sha256 ?? '');
  const kept = (await readdir(pieces)).length;
  const smaller = Limit.parse({ id: 'small', kind: 'picture-edge', edge: 'lines', max: 240 });
  expect((await writeLimits([...limits, smaller], 'ahead')).status).toBe(200);
  // Other pieces than those that are there are what a press would ask for.
  await waitForWork('ahead', (view) => findAhead(view) !== undefined);
  await waitForWork('ahead', (view) => findAhead(view) === undefined);
  expect((await readdir(pieces)).length).toBeGreaterThan(kept);
});
