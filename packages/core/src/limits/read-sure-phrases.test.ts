import { describe, expect, it } from 'vitest';
import { readSurePhrases } from './read-sure-phrases.ts';

describe('readSurePhrases', () => {
  it.each([
    ['MP4, at most 20 MB, no longer than 2 minutes', [{ kind: 'format', wanted: ['mp4'], appliesTo: 'video' }, { kind: 'file-size', maxBytes: 20_000_000 }, { kind: 'length', maxUs: 120_000_000 }]],
    ['JPEG or PNG; max 1.5 MiB', [{ kind: 'format', wanted: ['jpeg', 'png'], appliesTo: 'photo' }, { kind: 'file-size', maxBytes: 1_572_864 }]],
    ['between 1:30 and 2:00', [{ kind: 'length', minUs: 90_000_000, maxUs: 120_000_000 }]],
    ['at least 90 seconds, 720p', [{ kind: 'length', minUs: 90_000_000 }, { kind: 'picture-edge', edge: 'lines', max: 720 }]],
    ['long edge at most 3000 px', [{ kind: 'picture-edge', edge: 'long', max: 3000 }]],
    ['at least 2000 pixels on the long edge, landscape, with sound', [{ kind: 'picture-edge', edge: 'long', min: 2000 }, { kind: 'orientation', wanted: 'landscape' }, { kind: 'sound-present', isWanted: true }]],
  ])('reads %s', (text, limits) => {
    const read = readSurePhrases(text);
    expect(read.notUnderstood).toEqual([]);
    expect(read.limits).toHaveLength(limits.length);
    read.limits.forEach((limit, index) => expect(limit).toMatchObject(limits[index] ?? {}));
  });

  it('gives back what it does not read', () => expect(readSurePhrases('MP4, make it nice').notUnderstood).toEqual(['make it nice']));
});
