import { describe, expect, it } from 'vitest';
import { cleanText } from './clean-text.ts';
import { english } from './english.ts';
import { readItems } from './quantities.ts';
import { createMender, readTokens } from './tokens.ts';

const mend = createMender(english);
const read = (text: string) => readItems(readTokens(cleanText(text), mend), english);
const quantity = (text: string) => read(text).find((item) => item.kind === 'quantity');

describe('tokens', () => {
  it.each([
    ['100mb', ['100', 'mb']],
    ['mp4', ['mp4']],
    ['H.264', ['h264']],
    ['2m30s', ['2', 'm', '30', 's']],
    ["don't", ["don't"]],
    ['1,000.5', ['1,000.5']],
    ['mpeg-4', ['mpeg4']],
    ['a4', ['a4']],
  ])('%s', (text, words) => {
    expect(readTokens(cleanText(text), mend).map((token) => token.text)).toEqual(words);
  });

  it.each([
    ['minnutes', 'minutes'],
    ['maximim', 'maximum'],
    ['landscpe', 'landscape'],
    ['vidoes', 'videos'],
    ['secconds', 'seconds'],
    ['undr', 'under'],
  ])('mends %s to %s', (slip, word) => expect(mend(slip)).toBe(word));

  it.each([
    'minuet',
    'minuets',
    'last',
    'fifth',
    'seventh',
    'large',
    'landscapes',
    'summit',
    'print',
    'blow',
    'sound',
  ])('leaves the real word %s', (word) => expect(mend(word)).toBe(word));
});

describe('quantities', () => {
  it.each([
    ['2 minutes', 'duration', 120e6],
    ['two and a half minutes', 'duration', 150e6],
    ['a minute and a half', 'duration', 90e6],
    ['half an hour', 'duration', 1800e6],
    ['three quarters of an hour', 'duration', 2700e6],
    ['1 h 20 min', 'duration', 4800e6],
    ['2\'30"', 'duration', 150e6],
    ['2:30', 'duration', 150e6],
    ['1:02:03', 'duration', 3723e6],
    ['forty-five secs', 'duration', 45e6],
    ['two minutes thirty', 'duration', 150e6],
    ['1 1/2 min', 'duration', 90e6],
    ['a hundred megs', 'bytes', 100e6],
    ['1.5 gigs', 'bytes', 1.5e9],
    ['20 MiB', 'bytes', 20_971_520],
    ['a couple of megs', 'bytes', 2e6],
    ['full HD', 'lines', 1080],
    ['4K', 'lines', 2160],
    ['720p', 'lines', 720],
    ['1080 lines', 'lines', 1080],
    ['50 frames per second', 'fps', 50],
    ['25 pictures a second', 'fps', 25],
    ['44.1 kHz', 'hz', 44_100],
    ['-16 LUFS', 'lufs', -16],
    ['minus 16 LUFS', 'lufs', -16],
    ['-1 dBTP', 'peak', -1],
    ['300 dpi', 'dpi', 300],
    ['twelve hundred px', 'px', 1200],
    ['a dozen', 'number', 12],
  ] as const)('%s is %s %d', (text, dimension, value) => {
    const found = quantity(text);
    expect([found?.dimension, found?.value]).toEqual([dimension, value]);
  });

  it.each(['£4.50', '30 marks', '104 bpm', '12 pages', '3 metres'])(
    '%s measures something that is no limit',
    (text) => expect(quantity(text)?.dimension).toBe('other'),
  );

  it('tells lengths, ratios and times of day apart', () => {
    expect(read('16:9')[0]).toMatchObject({ kind: 'ratio', value: 16, second: 9 });
    expect(read('at 14:30').map((item) => item.kind)).toEqual(['word', 'time']);
    expect(read('2:30 pm')[0]?.kind).toBe('time');
    expect(read('1920 x 1080')[0]).toMatchObject({ kind: 'size', value: 1920, second: 1080 });
  });
});
