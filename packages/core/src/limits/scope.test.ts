import { describe, expect, it } from 'vitest';
import {
  buildDocumentFacts,
  buildPhotoFacts,
  buildSoundFacts,
  buildVideoFacts,
} from '../test-support/facts.ts';
import { isLimitForTake } from './check.ts';
import { Limit } from './limit.ts';

const video = buildVideoFacts();
const photo = buildPhotoFacts();
const pdf = buildDocumentFacts();
const sound = buildSoundFacts();
const concerned = (raw: Record<string, unknown>) => {
  const limit = Limit.parse({ id: 'l', ...raw });
  return Object.entries({ video, photo, pdf, sound })
    .filter(([, facts]) => isLimitForTake(limit, facts))
    .map(([name]) => name);
};

describe('which takes a limit speaks of', () => {
  it('all, where it names none', () =>
    expect(concerned({ kind: 'file-size', maxBytes: 1_000_000 })).toEqual([
      'video',
      'photo',
      'pdf',
      'sound',
    ]));
  it('those of the kind that it names', () => {
    expect(concerned({ kind: 'file-size', maxBytes: 1_000_000, appliesTo: 'video' })).toEqual(['video']);
    expect(concerned({ kind: 'file-size', maxBytes: 1_000_000, appliesTo: 'sound' })).toEqual(['sound']);
  });
  it('documents are PDFs only; what is said of photographs is said of pictures in a PDF too', () => {
    expect(concerned({ kind: 'file-size', maxBytes: 1_000_000, appliesTo: 'document' })).toEqual(['pdf']);
    expect(concerned({ kind: 'file-size', maxBytes: 1_000_000, appliesTo: 'photo' })).toEqual([
      'photo',
      'pdf',
    ]);
  });
  it('only what has the thing that it limits', () => {
    expect(concerned({ kind: 'length', maxUs: 60_000_000 })).toEqual(['video', 'sound']);
    expect(concerned({ kind: 'frame-rate', max: 30 })).toEqual(['video']);
    expect(concerned({ kind: 'picture-edge', edge: 'long', max: 3000 })).toEqual(['video', 'photo', 'pdf']);
  });
  it('never the parcel', () => {
    expect(concerned({ kind: 'total-size', maxBytes: 1_000_000 })).toEqual([]);
    expect(concerned({ kind: 'due', at: '2026-11-27T16:00' })).toEqual([]);
  });
});
