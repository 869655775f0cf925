import { describe, expect, it } from 'vitest';
import { readSign } from './read-sign.ts';

const finding = (stage: 'measured' | 'planned' | 'proven', state: 'met' | 'short' | 'unknown' | 'person') =>
  ({ stage, state, severity: 'must' }) as const;

describe('the proof sign', () => {
  it('shows nothing where nothing was found', () =>
    expect(readSign([])).toEqual({ measured: 'open', planned: 'open', proven: 'open' }));

  it('shows the worst of each stage', () => {
    const findings = [
      finding('proven', 'met'),
      finding('proven', 'short'),
      finding('planned', 'met'),
      finding('measured', 'unknown'),
    ];
    expect(readSign(findings)).toEqual({ measured: 'unknown', planned: 'met', proven: 'short' });
  });

  it('tells what is left to a person from what is met', () =>
    expect(readSign([finding('proven', 'met'), finding('proven', 'person')]).proven).toBe('person'));

  it('passes over wishes', () =>
    expect(
      readSign([finding('proven', 'met'), { ...finding('proven', 'short'), severity: 'should' }]).proven,
    ).toBe('met'));
});
