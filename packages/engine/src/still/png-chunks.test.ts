import { expect, it } from 'vitest';
import { buildPngChunk } from './png-chunks.ts';

it('builds the end chunk that every PNG has, with its published check', () => {
  expect(buildPngChunk('IEND', new Uint8Array()).toString('hex')).toBe('0000000049454e44ae426082');
});
