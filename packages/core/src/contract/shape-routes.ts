import type { Route } from './route.ts';
import { RecipeVersion } from './schemas.ts';
import * as schema from './shape-schemas.ts';

/** What is done to a take in Shape. */
export const shapeRoutes = {
  writeRecipe: {
    method: 'PUT',
    path: '/api/takes/:takeId/recipe',
    access: 'take',
    body: schema.RecipeInput,
    answer: RecipeVersion,
    purpose: 'Keeps a new version of the recipe.',
  },
  alignTake: {
    method: 'POST',
    path: '/api/takes/:takeId/align',
    access: 'take',
    body: schema.AlignInput,
    answer: schema.AlignAnswer,
    purpose: 'Lays the sound of another own take on the picture of this one; changes nothing.',
  },
  takeStill: {
    method: 'POST',
    path: '/api/takes/:takeId/still',
    access: 'take',
    body: schema.StillInput,
    answer: schema.StillTaken,
    purpose: 'Makes a photograph take of one frame, as it was recorded.',
  },
  mergeShots: {
    method: 'POST',
    path: '/api/takes/:takeId/merge',
    access: 'take',
    body: schema.MergeInput,
    answer: schema.MergeDone,
    purpose: 'Makes a photograph take of this one and others of the same piece, without the lamp in it.',
  },
  drawCard: {
    method: 'POST',
    path: '/api/takes/:takeId/card',
    access: 'take',
    body: schema.CardInput,
    answer: schema.CardDrawn,
    purpose: 'Draws an opening card as it will stand in the made file; changes nothing.',
  },
} as const satisfies Record<string, Route>;
