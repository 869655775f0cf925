import type { Plan } from '@apodix/core';
import { expect, it } from 'vitest';
import { describePlan } from './describe-plan.ts';

const build = (plan: object) => plan as unknown as Plan;

it('tells a photograph by what it has, and nothing that it has not', () => {
  const plan = build({
    kind: 'photo',
    container: 'jpeg',
    widthPx: 1000,
    heightPx: 750,
    fileName: 'Varga.jpg',
  });
  expect(describePlan(plan)).toEqual([
    ['Format', 'JPEG'],
    ['Picture', '1000×750'],
    ['Name', 'Varga.jpg'],
  ]);
});
