import { describe, expect, it } from 'vitest';
import { checkLimit } from '../limits/check.ts';
import { Limit } from '../limits/limit.ts';
import { convertFactsToSubject } from '../limits/subject.ts';
import type { PhotoFacts } from '../media/facts.ts';
import { createPlainRecipe, type Recipe } from '../recipe/recipe.ts';
import { buildPhotoFacts, SEEN_PIECE } from '../test-support/facts.ts';
import { readPieceInView } from './piece-in-view.ts';

const { corners } = SEEN_PIECE;
const read = (piece: object, picture: Partial<Recipe['picture']> = {}) => {
  const facts = buildPhotoFacts();
  const photo = {
    ...(facts.photo as PhotoFacts),
    piece: { ...SEEN_PIECE, ...piece },
  };
  const plain = createPlainRecipe();
  return readPieceInView({ photo }, { ...plain, picture: { ...plain.picture, ...picture } });
};

describe('whether the whole piece is in view', () => {
  it('is told where it was found for sure and nothing of it was cut away', () => {
    expect(read({})).toBe('whole');
    expect(read({}, { flatten: { corners, aspect: null } })).toBe('whole');
    expect(read({ confidence: 0.5 })).toBeNull();
    expect(read({}, { crop: { x: 0, y: 0, width: 0.5, height: 1 } })).toBeNull();
    const inner = corners.map(({ x, y }, index) => ({ x: index === 0 ? x + 0.1 : x, y }));
    expect(read({}, { flatten: { corners: inner as typeof corners, aspect: null } })).toBeNull();
    expect(read({ isCutOff: true })).toBe('at-border');
  });

  it('decides the limit where it is whole, and asks a person where a side lies at the border', () => {
    const of = (pieceInView: ReturnType<typeof readPieceInView>) =>
      checkLimit(
        Limit.parse({ id: 'whole', kind: 'whole-piece' }),
        convertFactsToSubject(buildPhotoFacts(), {
          stage: 'proven',
          fileName: 'a.jpg',
          wantedName: null,
          spanCount: 1,
          slotId: null,
          clippedCount: null,
          continuity: null,
          inView: null,
          pieceInView,
        }),
      ).state;
    expect([of('whole'), of('at-border'), of(null)]).toEqual(['met', 'person', 'person']);
  });
});
