import { Limit } from '@apodix/core';
import { ApiClient } from '@apodix/demo';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, it } from 'vitest';
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
  ]);
  client = new ApiClient(apodix.url);
  await client.signIn('ann');
});
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
const writeLimits = (limits: Limit[]) =>
  fetch(`${apodix.url}/api/assignments/drawing/limits`, {
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
