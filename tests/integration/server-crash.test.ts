import { Limit, type AssignmentView } from '@apodix/core';
import { ApiClient } from '@apodix/demo';
import { execa } from 'execa';
import { createHash } from 'node:crypto';
import { mkdtemp, open, readdir, readFile, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { isLong } from '../test-support/long.ts';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';
import { killIfThere } from '../test-support/kill-if-there.ts';
import { makeClip } from '../test-support/sample-media.ts';

let apodix: RunningApodix;
let client: ApiClient;
let folder = '';
let clip = '';
let tiny = '';

beforeAll(async () => {
  const limits = [
    Limit.parse({ id: 'size', kind: 'file-size', maxBytes: 500_000 }),
    Limit.parse({ id: 'format', kind: 'format', wanted: ['mp4'] }),
  ];
  apodix = await startApodix([
    ...['upload', 'inspect', 'make', 'worker', 'beside', 'deliver', 'names', 'faults'].map((id) =>
      buildAnnouncement(id, 'video', limits, { attemptsAllowed: 9 }),
    ),
    buildAnnouncement('refuse', 'video', [], {
      attemptsAllowed: 9,
      slots: [{ id: 'words', label: 'Words', item: 'text', min: 1, max: 1, alternative: null }],
    }),
  ]);
  folder = await mkdtemp(join(tmpdir(), 'apodix-crash-'));
  clip = await makeClip(folder, 'clip.mov', { seconds: 4, size: '480x270' });
  tiny = await makeClip(folder, 'tiny.mov', { seconds: 1 });
  client = new ApiClient(apodix.url);
  await client.signIn('ann');
});
afterAll(async () => {
  await apodix.stop();
  await rm(folder, { recursive: true, force: true });
});

async function until(
  id: string,
  isTrue: (view: AssignmentView) => boolean,
  seconds = 90,
): Promise<AssignmentView> {
  for (const end = Date.now() + seconds * 1000; ;) {
    const view = await client.readAssignment(id);
    if (isTrue(view)) return view;
    if (Date.now() > end)
      throw new Error(
        `Still not: ${JSON.stringify({ takes: view.takes.map((take) => [take.state, take.fault]), made: view.made.length, jobs: view.jobs, handIns: view.handIns })}`,
      );
    await wait(100);
  }
}
/** Every blob is whole: its name is the hash of its bytes. */
async function checkBlobs(): Promise<void> {
  const root = join(apodix.dataFolder, 'blobs');
  for (const sub of await readdir(root))
    for (const name of await readdir(join(root, sub)))
      expect(
        createHash('sha256')
          .update(await readFile(join(root, sub, name)))
          .digest('hex'),
      ).toBe(name);
}
const findPids = async (pattern: string, parentId?: number) =>
  (
    await execa('pgrep', [...(parentId === undefined ? [] : ['-P', String(parentId)]), '-f', pattern], {
      reject: false,
    })
  ).stdout
    .split('\n')
    .filter(Boolean)
    .map(Number);

describe('killed without warning', () => {
  it('while uploading: the upload goes on where it stopped', async () => {
    const { size } = await stat(clip);
    const encode = (text: string) => Buffer.from(text).toString('base64');
    const headers = { cookie: client.cookie, 'tus-resumable': '1.0.0' };
    const created = await fetch(`${apodix.url}/api/uploads`, {
      method: 'POST',
      headers: {
        ...headers,
        'upload-length': String(size),
        'upload-metadata': `name ${encode('clip.mov')},assignmentId ${encode('upload')}`,
      },
    });
    const location = new URL(created.headers.get('location') ?? '', apodix.url);
    const half = Math.floor(size / 2);
    const bytes = await readFile(clip);
    const patch = (offset: number, part: Buffer) =>
      fetch(location, {
        method: 'PATCH',
        headers: {
          ...headers,
          'upload-offset': String(offset),
          'content-type': 'application/offset+octet-stream',
        },
        body: new Uint8Array(part),
      });
    expect((await patch(0, bytes.subarray(0, half))).status).toBe(204);
    await apodix.crash();
    const head = await fetch(location, { method: 'HEAD', headers });
    expect(Number(head.headers.get('upload-offset'))).toBe(half);
    expect((await patch(half, bytes.subarray(half))).status).toBe(204);
    const view = await until('upload', (each) => each.takes[0]?.state === 'ready');
    expect(view.takes[0]?.facts?.sha256).toBe(createHash('sha256').update(bytes).digest('hex'));
  });

  it('while inspecting: the take is measured after the restart', async () => {
    const bringing = client.bringIn('inspect', clip, 'clip.mov').catch(() => undefined);
    await until('inspect', (view) =>
      view.jobs.some((job) => job.kind === 'inspect' && job.state === 'running' && job.stage !== ''),
    );
    await apodix.crash();
    await bringing;
    expect(
      (await until('inspect', (view) => view.takes[0]?.state === 'ready')).takes[0]?.facts?.video?.frameCount,
    ).toBe(100);
    await checkBlobs();
  });

  it('while making: the job goes on, one whole file comes out, no coder stays behind', async () => {
    const takeId = await client.bringIn('make', clip, 'clip.mov');
    const making = client.make(takeId).catch(() => undefined);
    await until('make', (view) =>
      view.jobs.some((job) => job.kind === 'make' && job.state === 'running' && job.share > 0.05),
    );
    await apodix.crash();
    await making;
    const view = await until('make', (each) => each.made.length === 1, 120);
    expect(view.made).toHaveLength(1);
    expect(view.made[0]?.findings.every((finding) => finding.state === 'met')).toBe(true);
    const file = await fetch(apodix.url + (view.made[0]?.fileUrl ?? ''), {
      headers: { cookie: client.cookie },
    });
    expect(
      createHash('sha256')
        .update(Buffer.from(await file.arrayBuffer()))
        .digest('hex'),
    ).toBe(view.made[0]?.sha256);
    expect(await findPids(`ffmpeg.*${apodix.dataFolder}`)).toEqual([]);
    await checkBlobs();
  });

  it('the worker alone, again and again: tried three times, then given up with a reason, and the next try works', async () => {
    const takeId = await client.bringIn('worker', clip, 'clip.mov');
    let isSettled = false;
    const making = client
      .make(takeId)
      .catch((error: Error) => error.message)
      .finally(() => (isSettled = true));
    let kills = 0;
    while (!isSettled) {
      await wait(150);
      // Of this server alone: others run beside it.
      for (const pid of await findPids('dist/worker/job-child', apodix.server.pid))
        if (killIfThere(pid)) kills += 1;
    }
    expect(kills).toBeGreaterThanOrEqual(3);
    expect(await making).toMatch(/interrupted three times/);
    expect((await client.readAssignment('worker')).made).toEqual([]);
    await client.make(takeId);
    expect((await client.readAssignment('worker')).made).toHaveLength(1);
  });

  it('a second server on the same data takes over nothing that the first is doing', async () => {
    const takeId = await client.bringIn('beside', clip, 'clip.mov');
    const making = client.make(takeId);
    await until('beside', (view) => view.jobs.some((job) => job.kind === 'make' && job.state === 'running'));
    const beside = await apodix.startBeside();
    try {
      expect(await findPids('dist/worker/job-child', beside.pid)).toEqual([]);
      await making;
      const { jobs, made } = await client.readAssignment('beside');
      expect([jobs.filter((job) => job.kind === 'make'), made.length]).toEqual([[], 1]);
    } finally {
      const gone = new Promise((done) => beside.once('exit', done));
      beside.kill('SIGTERM');
      await gone;
    }
  });

  it('while delivering: one delivery arrives, with the same bytes', async () => {
    const takeId = await client.bringIn('deliver', clip, 'clip.mov');
    await client.make(takeId);
    const { parcel } = await client.readAssignment('deliver');
    await client.writeParcel('deliver', { ...parcel, text: { ...parcel.text, isOwnWork: true } });
    await apodix.callSite('/api/fault', {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ mode: 'slow', times: 1 }),
    });
    const handing = client.handIn('deliver').catch(() => undefined);
    await until('deliver', (view) => view.jobs.some((job) => job.stage.startsWith('Sending')));
    await apodix.crash();
    await handing;
    const view = await until('deliver', (each) => each.handIns[0]?.state === 'received');
    const receipt = await client.readReceipt(view.receiptId ?? '');
    const { deliveries } = (await (await apodix.callSite('/api/deliveries')).json()) as {
      deliveries: { deliveryId: string; state: string; files: { sha256: string }[] }[];
    };
    expect(deliveries.map((each) => [each.deliveryId, each.state, each.files[0]?.sha256])).toEqual([
      [receipt.courseSite.deliveryId, 'received', view.made[0]?.sha256],
    ]);
  });
});

describe('a course site that fails', () => {
  const tell = (mode: string, times = 1) =>
    apodix.callSite('/api/fault', {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ mode, times }),
    });

  it('is closed for a moment, then cuts the line: the hand-in goes through all the same', async () => {
    const takeId = await client.bringIn('faults', clip, 'clip.mov');
    await client.make(takeId);
    const { parcel } = await client.readAssignment('faults');
    for (const mode of ['unavailable', 'cut-off']) {
      await tell(mode);
      await client.writeParcel('faults', {
        ...parcel,
        text: { ...parcel.text, isOwnWork: true, note: mode },
      });
      await client.handIn('faults');
    }
    expect((await client.readAssignment('faults')).handIns.map((each) => [each.attempt, each.state])).toEqual(
      [
        [2, 'received'],
        [1, 'received'],
      ],
    );
  });

  it.each([
    ['too-large', /larger than this site takes/],
    ['wrong-type', /type that this site does not take/],
    ['duplicate', /handed in before/],
    ['late', /due time has passed/],
  ])('%s: says why, stays not handed in, and can be tried again', async (mode, reason) => {
    // Typed words: nothing has to be made for what the site says.
    const { parcel } = await client.readAssignment('refuse');
    const answers = [{ slotId: 'words', text: 'Written.' }];
    await client.writeParcel('refuse', { ...parcel, answers, text: { ...parcel.text, isOwnWork: true } });
    await tell(mode);
    await expect(client.handIn('refuse')).rejects.toThrow(reason);
    const view = await client.readAssignment('refuse');
    expect([view.state, view.handIns[0]?.state, view.receiptId]).toEqual(['ready', 'not-handed-in', null]);
  });
});

describe('names from people are data only', () => {
  it.each([
    'a'.repeat(251) + '.mov',
    '🎻🎺 соло ‮gpj.mov',
    ...(isLong ? ['-rf --help.mov', 'CON', '.mov'] : []),
    '"quoted" \'name\' $(touch x) `y`.mov',
    '../../../../etc/passwd',
  ])('%j comes in, is made and is saved under a safe name', async (name) => {
    const takeId = await client.bringIn('names', tiny, name);
    const view = await client.readAssignment('names');
    const take = view.takes.find((each) => each.id === takeId);
    expect([take?.name, take?.state]).toEqual([name, 'ready']);
    const { made } = view;
    if (made.length === 0) await client.make(takeId);
    const source = await fetch(`${apodix.url}/api/takes/${takeId}/files/source`, {
      headers: { cookie: client.cookie },
    });
    expect(source.headers.get('cache-control')).toBe('no-store');
    expect(source.headers.get('content-disposition')).not.toMatch(/[/\\]\.\.|\u202e|\n/);
    expect(await readdir(join(apodix.dataFolder, 'uploads'))).toEqual([]);
  });
});

it('a made file can be called otherwise: safe name, same bytes, checked again', async () => {
  const before = (await client.readAssignment('names')).made[0];
  const answer = await fetch(`${apodix.url}/api/made/${before?.id}`, {
    method: 'PATCH',
    headers: { cookie: client.cookie, 'content-type': 'application/json' },
    body: JSON.stringify({ stem: '../../Varga: solo.mp4' }),
  });
  expect(answer.status).toBe(200);
  const after = (await client.readAssignment('names')).made[0];
  expect([after?.fileName, after?.sha256, after?.isCurrent]).toEqual([
    'Varga_ solo.mp4',
    before?.sha256,
    true,
  ]);
});

it('a full disk is told plainly and loses nothing', async ({ skip }) => {
  const mount = await mkdtemp(join(tmpdir(), 'apodix-small-'));
  const mounted = await execa('mount', ['-t', 'tmpfs', '-o', 'size=256k', 'tmpfs', mount], { reject: false });
  if (mounted.exitCode !== 0) skip('a small tmpfs cannot be mounted here');
  try {
    const result = await execa(
      process.execPath,
      ['packages/engine/bin/apodix.mjs', 'make', clip, '--asks', 'MP4, at most 4 MB', '--out', mount],
      { reject: false },
    );
    expect(result.exitCode).toBe(3);
    expect(JSON.parse(result.stdout)).toMatchObject({ refused: { code: 'NO_DISK_SPACE' } });
    expect(await readdir(mount)).toEqual([]);
    const handle = await open(clip, 'r');
    await handle.close();
  } finally {
    await execa('umount', [mount], { reject: false });
    await rm(mount, { recursive: true, force: true });
  }
});
