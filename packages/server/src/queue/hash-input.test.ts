import { expect, it } from 'vitest';
import { hashInput } from './hash-input.ts';

it('knows the same input again whatever the order of its members, and tells every other apart', () => {
  const input = {
    take: 'a'.repeat(64),
    recipe: { turnDegrees: 90, keep: null },
    ceilings: [{ maxBytes: 1000 }],
  };
  expect(
    hashInput({
      ceilings: [{ maxBytes: 1000 }],
      recipe: { keep: null, turnDegrees: 90 },
      take: 'a'.repeat(64),
    }),
  ).toBe(hashInput(input));
  const others = [
    { ...input, take: 'b'.repeat(64) },
    { ...input, recipe: { turnDegrees: 270, keep: null } },
    { ...input, ceilings: [{ maxBytes: 1001 }] },
    { ...input, ceilings: [] },
  ];
  expect(new Set([input, ...others].map((each) => hashInput(each))).size).toBe(5);
});
