import { execa } from 'execa';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { runPhotoChild } from './run-photo-child.ts';

let folder: string;
beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), 'apodix-child-'))));
afterAll(async () => rm(folder, { recursive: true, force: true }));

/** The processes that this one has begun. */
async function listChildren(): Promise<string[]> {
  const { stdout } = await execa('pgrep', ['-P', String(process.pid)], { reject: false });
  return stdout.split('\n').filter((id) => id !== '');
}

it.runIf(process.platform === 'linux')(
  'opens pictures in a process that the kernel holds to its ceilings',
  async () => {
    // Nobody writes into it, so that the child waits while it is looked at.
    const path = join(folder, 'waits.jpg');
    await execa('mkfifo', [path]);
    const before = new Set(await listChildren());
    const stop = new AbortController();
    const running = runPhotoChild({ task: 'inspect', path, container: 'jpeg', small: null }, stop.signal);
    const ended = expect(running).rejects.toMatchObject({ code: 'CANCELLED' });
    const limits = await vi.waitFor(
      async () => {
        for (const id of (await listChildren()).filter((each) => !before.has(each))) {
          const text = await readFile(`/proc/${id}/limits`, 'utf8').catch(() => '');
          if (/Max address space +\d/.test(text)) return text;
        }
        throw new Error('It has no ceilings yet.');
      },
      { timeout: 20_000 },
    );
    expect(limits).toMatch(/Max file size +4000000000 +4000000000/);
    expect(limits).toMatch(/Max cpu time +720 +720/);
    expect(limits).toMatch(/Max core file size +0 +0/);
    stop.abort();
    await ended;
  },
  30_000,
);
