import { Limit, limitTable, type LimitKind } from '@apodix/core';
import { describe, expect, it } from 'vitest';
import { limitForms, parseFields, writeFields } from './limit-fields.ts';

describe('the form of each kind of limit', () => {
  it.each(Object.keys(limitTable).filter((kind) => kind !== 'due') as LimitKind[])(
    '%s: what it starts with is a limit, and comes back as it was written',
    (kind) => {
      const start = Limit.parse({ id: 'x', kind, ...limitForms[kind].start });
      const { values, fault } = parseFields(kind, writeFields(start));
      expect(fault).toBeNull();
      expect(Limit.parse({ ...start, ...values })).toEqual(start);
    },
  );

  it.each([
    ['length', { minUs: '1:30', maxUs: '2 min' }, { minUs: 90_000_000, maxUs: 120_000_000, isAbout: false }],
    ['length', { minUs: '', maxUs: '1:02:03.5' }, { minUs: null, maxUs: 3_723_500_000, isAbout: false }],
    ['file-size', { minBytes: '', maxBytes: '12,5' }, { minBytes: null, maxBytes: 12_500_000 }],
    ['loudness', { min: '−20', max: '-14' }, { min: -20, max: -14 }],
  ] as const)('%s reads %j', (kind, raw, values) =>
    expect(parseFields(kind, raw)).toEqual({ values, fault: null }),
  );

  it.each([
    ['length', { maxUs: 'soon' }],
    ['file-size', { maxBytes: '-3' }],
    ['total-size', { maxBytes: '' }],
    ['file-name', { pattern: '  ' }],
    ['picture-edge', { edge: 'lines', max: '1080p' }],
  ] as const)('%s refuses %j in words', (kind, raw) => {
    expect(parseFields(kind, raw).fault).toMatch(/cannot be read/);
  });
});
