import { execa } from 'execa';
import { mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { buildToolFault, runTool } from './run-tool.ts';

let folder: string;
beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), 'apodix-tool-'))));
afterAll(async () => rm(folder, { recursive: true, force: true }));
/** Runs until it is told to stop. */
const endless = ['-v', 'error', '-re', '-f', 'lavfi', '-i', 'anullsrc', '-f', 'null', '-'];

describe('runTool', () => {
  it('gives what a program writes and how it ended', async () => {
    const result = await runTool({
      fault: null,
      tool: 'ffprobe',
      args: ['-v', 'error', '-show_entries', 'program_version=version', '-of', 'json'],
    });
    expect(result).toMatchObject({ exitCode: 0, isCancelled: false, isTimedOut: false });
    expect(JSON.parse(result.stdout)).toBeDefined();
  });

  it('does not throw for a bad end, and keeps the last words', async () => {
    const result = await runTool({
      fault: null,
      tool: 'ffmpeg',
      args: ['-v', 'error', '-i', join(folder, 'missing.mp4'), '-f', 'null', '-'],
    });
    expect(result.exitCode).not.toBe(0);
    expect(result.stderrTail).toContain('No such file');
    expect(buildToolFault(result, 'DAMAGED').code).toBe('DAMAGED');
  });

  it('ends within a second of being cancelled', async () => {
    const stop = new AbortController();
    const running = runTool({ fault: null, tool: 'ffmpeg', args: endless, signal: stop.signal });
    await new Promise((resolve) => setTimeout(resolve, 500));
    const startedAt = performance.now();
    stop.abort();
    const result = await running;
    expect(performance.now() - startedAt).toBeLessThan(1000);
    expect(result.isCancelled).toBe(true);
    expect(buildToolFault(result, 'MAKE_FAILED').code).toBe('CANCELLED');
  });

  it('tells a program that is not on this machine from a file that is damaged', async () => {
    const args = ['-v', 'error', join(folder, 'missing.mp4')];
    const missing = runTool({ fault: 'DAMAGED', tool: 'ffplay-of-nobody' as 'ffprobe', args });
    await expect(missing).rejects.toMatchObject({ code: 'TOOL_MISSING' });
    await writeFile(join(folder, 'damaged.mp4'), 'ffprobe: No such file or directory');
    const damaged = runTool({ fault: 'DAMAGED', tool: 'ffprobe', args: [join(folder, 'damaged.mp4')] });
    await expect(damaged).rejects.toMatchObject({ code: 'DAMAGED' });
    // Neither does a file whose name reads like the message of a missing program.
    const name = 'nice: ffprobe: No such file';
    const misleading = runTool({ fault: 'DAMAGED', tool: 'ffprobe', args: [join(folder, name)] });
    await expect(misleading).rejects.toMatchObject({ code: 'DAMAGED' });
  });

  it('does not start what is cancelled already', async () => {
    const result = await runTool({ fault: null, tool: 'ffmpeg', args: endless, signal: AbortSignal.abort() });
    expect(result.isCancelled).toBe(true);
  });

  it('ends what takes longer than it may', async () => {
    const result = await runTool({ fault: null, tool: 'ffmpeg', args: endless, limits: { seconds: 1 } });
    expect(result.isTimedOut).toBe(true);
    expect(buildToolFault(result, 'MAKE_FAILED').code).toBe('TOO_HEAVY');
  });

  it('holds a file that grows beyond what is allowed', async () => {
    const path = join(folder, 'big.wav');
    const result = await runTool({
      fault: null,
      tool: 'ffmpeg',
      args: ['-v', 'error', '-f', 'lavfi', '-i', 'anoisesrc=r=48000:d=60', '-f', 'wav', '-y', path],
      limits: { outputBytes: 200_000 },
    });
    expect(result.exitCode === 0 && result.signal === null).toBe(false);
    expect((await stat(path)).size).toBeLessThanOrEqual(200_000);
  });

  it.runIf(process.platform === 'linux')('sets every ceiling in the kernel, at low priority', async () => {
    const stop = new AbortController();
    const limits = { seconds: 30, memoryBytes: 1_500_000_000, outputBytes: 200_000 };
    const running = runTool({ fault: null, tool: 'ffmpeg', args: endless, limits, signal: stop.signal });
    // It goes through setpriv, prlimit and nice, which replace each other in one process.
    const { stdout } = await vi.waitFor(() => execa('pgrep', ['-P', String(process.pid), '-x', 'ffmpeg']), {
      timeout: 10_000,
    });
    const held = await readFile(`/proc/${stdout.trim()}/limits`, 'utf8');
    const priority = (await readFile(`/proc/${stdout.trim()}/stat`, 'utf8')).split(') ')[1]?.split(' ')[16];
    stop.abort();
    await running;
    expect(held).toMatch(/Max address space +1500000000 /);
    expect(held).toMatch(/Max file size +200000 /);
    expect(held).toMatch(/Max cpu time +120 /);
    expect(Number(priority)).toBeGreaterThanOrEqual(10);
  });

  it('tells lines as they come, in the folder that it is given', async () => {
    const lines: string[] = [];
    await runTool({
      fault: null,
      tool: 'ffmpeg',
      args: [
        '-v',
        'error',
        '-progress',
        'pipe:1',
        '-f',
        'lavfi',
        '-i',
        'sine=d=1',
        '-f',
        'wav',
        '-y',
        'here.wav',
      ],
      cwd: folder,
      onStdoutLine: (line) => lines.push(line),
    });
    expect(lines.at(-1)).toBe('progress=end');
    expect((await readFile(join(folder, 'here.wav'))).subarray(0, 4).toString()).toBe('RIFF');
  });
});

describe('buildToolFault', () => {
  const ended = (stderrTail: string, signal: string | null = null) =>
    buildToolFault(
      {
        command: 'ffmpeg',
        durationMs: 1,
        exitCode: 1,
        signal,
        isCancelled: false,
        isTimedOut: false,
        isMissing: false,
        stdout: '',
        stderrTail,
      },
      'MAKE_FAILED',
    ).code;
  it('knows a full disk, too little memory and everything else', () => {
    expect([
      ended('av_interleaved_write_frame(): No space left on device'),
      ended('Disk quota exceeded'),
      ended('', 'SIGXFSZ'),
    ]).toEqual(['NO_DISK_SPACE', 'NO_DISK_SPACE', 'NO_DISK_SPACE']);
    expect([ended('Cannot allocate memory'), ended('', 'SIGXCPU')]).toEqual(['TOO_HEAVY', 'TOO_HEAVY']);
    expect([ended('moov atom not found'), ended('', 'SIGKILL')]).toEqual(['MAKE_FAILED', 'MAKE_FAILED']);
  });
});
