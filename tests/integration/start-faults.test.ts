import { execa } from 'execa';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { createServer, type AddressInfo, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

let folder = '';
let blocker: Server;
let port = 0;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-start-'));
  blocker = createServer();
  await new Promise<void>((done) => blocker.listen(0, '127.0.0.1', done));
  port = (blocker.address() as AddressInfo).port;
});
afterAll(async () => {
  blocker.close();
  await rm(folder, { recursive: true, force: true });
});

const run = (path: string, env: Record<string, string>) =>
  execa(process.execPath, [path], {
    reject: false,
    timeout: 60_000,
    env: { APODIX_DATA: folder, APODIX_LOG_LEVEL: 'silent', ...env },
  });

describe('a start that cannot be', () => {
  it.each([
    ['packages/server/dist/main.js', 'APODIX_PORT'],
    ['packages/course-site/dist/main.js', 'APODIX_COURSE_SITE_PORT'],
  ])('%s: a port that is taken is told by name', async (path, setting) => {
    const { exitCode, stderr } = await run(path, { [setting]: String(port) });
    expect([exitCode, stderr]).toEqual([
      1,
      expect.stringContaining(`Port ${port} is taken. Set ${setting} to another one.`) as string,
    ]);
  });

  it('a wrong setting is told by name', async () => {
    const { exitCode, stderr } = await run('packages/server/dist/main.js', { APODIX_JOB_COUNT: 'many' });
    expect([exitCode, stderr]).toEqual([2, expect.stringContaining('APODIX_JOB_COUNT') as string]);
  });

  it('a data folder that cannot be one is told plainly', async () => {
    const file = join(folder, 'a-file');
    await writeFile(file, '');
    const { exitCode, stderr } = await execa(
      process.execPath,
      ['-e', "import('./scripts/set-up.mjs').then(({ checkDisk }) => checkDisk(process.argv[1]))", file],
      { reject: false },
    );
    expect([exitCode, stderr]).toEqual([
      1,
      expect.stringContaining('cannot be written. Set APODIX_DATA') as string,
    ]);
  });
});
