import { execa } from 'execa';
import { expect, it } from 'vitest';
import { writeFrameNumbers } from './select-frames.ts';

it.each([0, 1, 2, 3, 99, 101, 240, 1000])('FFmpeg takes just the %i frames that are named', async (count) => {
  const numbers = Array.from({ length: count }, (_, index) => index * 2 + (index % 2));
  const source = ['-f', 'lavfi', '-i', 'color=s=16x16:r=25:d=81'];
  const filters = ['-vf', `select='${writeFrameNumbers(numbers)}'`, '-fps_mode', 'passthrough'];
  const { stdout } = await execa('ffmpeg', ['-v', 'error', ...source, ...filters, '-f', 'framecrc', '-']);
  const frames = stdout.split('\n').filter((line) => line !== '' && !line.startsWith('#'));
  expect(frames.map((line) => Number(line.split(',')[2]))).toEqual(numbers);
});
