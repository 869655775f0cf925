import { Limit } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { buildOwnSlots } from './own-slots.ts';

const slots = (...raw: Record<string, unknown>[]) =>
  buildOwnSlots(raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each })));

describe('slots of an assignment of one’s own', () => {
  it('are as many and as full as the limits say', () => {
    expect(
      slots(
        { kind: 'count', item: 'photo', min: 3, max: 3, label: 'Sketches' },
        { kind: 'count', item: 'video', min: 1, max: null },
      ),
    ).toEqual([
      { id: 'slot-1', label: 'Sketches', item: 'photo', min: 3, max: 3, alternative: null },
      { id: 'slot-2', label: 'Video', item: 'video', min: 1, max: 20, alternative: null },
    ]);
  });
  it('for a document take pictures: they go onto its pages', () =>
    expect(slots({ kind: 'count', item: 'document', min: 1, max: 1 })).toMatchObject([
      { label: 'Document', item: 'photo', min: 1, max: 1 },
    ]));
  it('hold as many as are wanted at least, even above twenty', () =>
    expect(slots({ kind: 'count', item: 'photo', min: 30, max: null })[0]?.max).toBe(30));
  it('follow the formats where nothing is counted', () => {
    expect(slots({ kind: 'format', wanted: ['mp4', 'mov'] }).map((slot) => slot.item)).toEqual(['video']);
    expect(slots({ kind: 'format', wanted: ['jpeg', 'mp3'] }).map((slot) => slot.item)).toEqual([
      'photo',
      'sound',
    ]);
    expect(slots({ kind: 'format', wanted: ['pdf'] }).map((slot) => slot.item)).toEqual(['photo']);
  });
  it('take anything where nothing is said', () =>
    expect(slots({ kind: 'file-size', maxBytes: 1000 }).map((slot) => [slot.item, slot.min])).toEqual([
      ['video', 0],
      ['photo', 0],
      ['sound', 0],
    ]));
});
