import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Limit } from '../limits/limit.ts';
import { writeCanonicalJson } from '../json/canonical-json.ts';
import { findMissing, type ParcelState } from './parcel.ts';
import { judgeWork, type WorkCounts } from './work-state.ts';

describe('writeCanonicalJson', () => {
  it('writes the example of RFC 8785, 3.2.3', () => {
    // The example of the standard as it stands there.
    /* eslint-disable no-loss-of-precision, no-useless-escape */
    const example = {
      numbers: [333333333.33333329, 1e30, 4.5, 2e-3, 0.000000000000000000000000001],
      string: '\u20ac$\u000F\u000aA\'\u0042\u0022\u005c\\"\/',
      literals: [null, true, false],
    };
    /* eslint-enable no-loss-of-precision, no-useless-escape */
    expect(writeCanonicalJson(example)).toBe(
      '{"literals":[null,true,false],"numbers":[333333333.3333333,1e+30,4.5,0.002,1e-27],"string":"€$\\u000f\\nA\'B\\"\\\\\\\\\\"/"}',
    );
  });
  it('does not depend on the order of members and can be read back', () => {
    fc.assert(
      fc.property(fc.dictionary(fc.string(), fc.jsonValue()), (value) => {
        const turned = Object.fromEntries(Object.entries(value).reverse());
        expect(writeCanonicalJson(turned)).toBe(writeCanonicalJson(value));
        expect(JSON.parse(writeCanonicalJson(value))).toEqual(JSON.parse(JSON.stringify(value)));
      }),
    );
  });
  it('refuses what JSON cannot hold', () =>
    expect(() => writeCanonicalJson({ a: Infinity })).toThrow(TypeError));
});

describe('findMissing', () => {
  const item = {
    slotId: 'video',
    fileName: 'a.mp4',
    sizeBytes: 5_000_000,
    everyMustMet: true,
    sourceSha256: 'a',
    likeness: 'ffffffffffffffff',
  };
  const full: ParcelState = {
    slots: [{ id: 'video', label: 'Performance video', item: 'video', min: 1, max: 1, alternative: null }],
    items: [item],
    answers: [],
    text: { note: '', participants: '', isOwnWork: true },
    limits: [],
  };
  it('finds nothing missing in a complete parcel', () => expect(findMissing(full)).toEqual([]));
  it.each<[string, Partial<ParcelState>]>([
    ['put in: Performance video', { items: [] }],
    ['put right what falls short in a.mp4', { items: [{ ...item, everyMustMet: false }] }],
    ['tick the statement of own work', { text: { ...full.text, isOwnWork: false } }],
    ['write who took part', { limits: [Limit.parse({ id: 'p', kind: 'participants' })] }],
    ['write a note to the teacher', { limits: [Limit.parse({ id: 'n', kind: 'note' })] }],
    [
      'make the files smaller: together they have 5 MB, at most 4 MB is allowed',
      { limits: [Limit.parse({ id: 't', kind: 'total-size', maxBytes: 4_000_000 })] },
    ],
    [
      'put in another one: a.mp4 and b.mp4 come from the same recording',
      {
        slots: [{ ...full.slots[0]!, max: 2 }],
        items: [item, { ...item, fileName: 'b.mp4', likeness: null }],
        limits: [Limit.parse({ id: 'd', kind: 'different' })],
      },
    ],
    [
      'put in another one: a.mp4 and b.mp4 look nearly the same',
      {
        slots: [{ ...full.slots[0]!, max: 2 }],
        items: [item, { ...item, fileName: 'b.mp4', sourceSha256: 'b', likeness: 'fffffffffffffff0' }],
        limits: [Limit.parse({ id: 'd', kind: 'different' })],
      },
    ],
    ['take out 1: Performance video', { items: [item, { ...item, fileName: 'b.mp4' }] }],
  ])('%s', (words, changes) => expect(findMissing({ ...full, ...changes })).toEqual([words]));
  it('two files of one name would overwrite each other', () => {
    const slots = [
      { id: 'video', label: 'Videos', item: 'video' as const, min: 1, max: 3, alternative: null },
    ];
    expect(findMissing({ ...full, slots, items: [item, { ...item, fileName: 'A.MP4' }] })[0]).toMatch(
      /another name/,
    );
  });
});

describe('judgeWork', () => {
  const nothing: WorkCounts = {
    wanted: 1,
    answers: { wanted: 0, given: 0 },
    takes: 0,
    refusedTakes: 0,
    inspecting: 0,
    shaped: 0,
    proven: 0,
    madeShort: 0,
    missing: ['tick the statement of own work'],
    handIn: null,
    hasFeedback: false,
    isNewerThanHandIn: false,
  };
  it.each<[string, string, Partial<WorkCounts>]>([
    ['nothing-yet', 'brief', {}],
    ['nothing-yet', 'takes', { refusedTakes: 1 }],
    ['taken', 'shape', { takes: 2 }],
    ['shaped', 'fit', { takes: 1, shaped: 1 }],
    ['made', 'fit', { takes: 1, madeShort: 1 }],
    ['made', 'takes', { takes: 2, proven: 2, wanted: 3 }],
    ['ready', 'hand-in', { takes: 1, proven: 1 }],
    ['sending', 'hand-in', { takes: 1, proven: 1, handIn: 'on-its-way' }],
    ['handed-in', 'hand-in', { takes: 1, proven: 1, handIn: 'received' }],
    ['feedback-back', 'hand-in', { handIn: 'received', hasFeedback: true }],
    ['ready', 'hand-in', { takes: 1, proven: 1, handIn: 'not-handed-in' }],
    ['handed-in', 'hand-in', { takes: 1, proven: 1, handIn: 'being-checked' }],
    ['handed-in', 'hand-in', { handIn: 'by-hand' }],
    ['ready', 'hand-in', { takes: 1, proven: 1, handIn: 'taken-back' }],
    ['made', 'hand-in', { takes: 1, proven: 1, answers: { wanted: 1, given: 0 } }],
    ['nothing-yet', 'hand-in', { wanted: 0, answers: { wanted: 2, given: 1 } }],
    ['ready', 'hand-in', { wanted: 0, answers: { wanted: 2, given: 2 } }],
    ['ready', 'hand-in', { takes: 1, proven: 1, handIn: 'received', isNewerThanHandIn: true }],
  ])('%s, next %s', (state, nextStop, changes) =>
    expect(judgeWork({ ...nothing, ...changes })).toMatchObject({ state, nextStop }),
  );
});
