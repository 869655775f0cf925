import { afterEach, expect, it, vi } from 'vitest';
import { openBlocks } from './open-blocks.ts';

const SIZE = 1_000_003;
const file = Uint8Array.from({ length: SIZE }, (_, at) => (at * 31 + (at >> 8)) & 255);
const asked: string[] = [];
function serve(status = 206): void {
  vi.stubGlobal('fetch', (_url: string, { headers }: { headers: { range: string } }) => {
    asked.push(headers.range);
    const [start, end] = headers.range.slice('bytes='.length).split('-').map(Number) as [number, number];
    const told = { 'content-range': `bytes ${start}-${Math.min(end, SIZE - 1)}/${SIZE}` };
    return Promise.resolve(new Response(file.slice(start, end + 1), { status, headers: told }));
  });
}
afterEach(() => {
  asked.length = 0;
  vi.unstubAllGlobals();
});

it('gives the bytes that are there, over borders of blocks and up to the end', async () => {
  serve();
  const blocks = openBlocks('/film.mp4');
  expect(await blocks.getSize()).toBe(SIZE);
  for (const [start, end] of [
    [0, 1],
    [262_000, 262_300],
    [100, 800_000],
    [SIZE - 5, SIZE],
  ] as const)
    expect(Buffer.compare(await blocks.read(start, end), file.slice(start, end))).toBe(0);
});

it('asks for each block once, and always with both its ends', async () => {
  serve();
  const blocks = openBlocks('/film.mp4');
  await Promise.all([blocks.read(0, 10), blocks.read(50, 90)]);
  await blocks.read(200, 300);
  expect(asked).toEqual(['bytes=0-262143']);
});

it('fails where the film is answered whole, and asks again for what failed', async () => {
  serve(200);
  const blocks = openBlocks('/film.mp4');
  await expect(blocks.getSize()).rejects.toThrow('in parts');
  await expect(blocks.read(0, 10)).rejects.toThrow('200');
  serve();
  expect(await blocks.read(0, 2)).toEqual(file.slice(0, 2));
});
