import { z } from 'zod';
import { About } from './about.ts';
import { ColorSettings } from '../color/color-settings.ts';
import { Crop, LEAST_ASPECT, MOST_ASPECT, MOST_BORDER, MOST_STRAIGHTEN_DEGREES } from '../geometry/frame.ts';
import { Flatten } from '../geometry/flatten.ts';
import { EvenLight } from '../light/even-light.ts';
import { HiddenArea, MOST_HIDDEN } from '../geometry/hidden.ts';
import { LEAST_STEADY } from '../geometry/steady.ts';
import { TurnDegrees } from '../geometry/turn.ts';
import { writeCanonicalJson } from '../json/canonical-json.ts';
import type { TimeRange } from '../time/range.ts';

export const RECIPE_VERSION = 2;

/** Sound that is further from its picture belongs to another place. */
export const MOST_LATER_US = 1_000_000;
/** Clocks of recorders do not differ by more. */
export const MOST_DRIFT_PPM = 500;
/** Where a limiter holds peaks, with room for what coding adds. */
export const LIMITED_DBTP = -1.7;
/** Quieter than this nobody hears it under another recording. */
export const LEAST_OWN_DB = -30;
/** More of it takes of the notes too. */
export const MOST_NOISE_DB = 12;
export const MOST_FADE_US = 10_000_000;
export const LEAST_DISSOLVE_US = 100_000;
export const MOST_DISSOLVE_US = 3_000_000;
export const LEAST_CARD_US = 1_000_000;
export const MOST_CARD_US = 15_000_000;
/** What fits on a card in letters that can be read across a room. */
export const MOST_CARD_LINES = 4;
export const MOST_CARD_SIGNS = 90;

/** A take that goes into the result, and where it lies in time. */
export const RecipeSource = z.strictObject({
  /** Its id; null is the take that the recipe belongs to. */
  takeId: z.string().min(1).max(64).nullable(),
  /** Picture and sound, or a separate recording of the sound alone. */
  role: z.enum(['take', 'sound']),
  /** What has to be added to its own times. */
  offsetUs: z.int(),
  /** How much its times are drawn out before that, in millionths: its clock ran slower by so much. */
  driftPpm: z.number().min(-MOST_DRIFT_PPM).max(MOST_DRIFT_PPM).default(0),
});
export type RecipeSource = z.infer<typeof RecipeSource>;

/** One stretch that is kept of a source, in its own presentation time; start inclusive, finish exclusive. */
export const RecipeSpan = z
  .strictObject({
    source: z.int().nonnegative(),
    startUs: z.int().min(0),
    finishUs: z.int().min(1),
    /** How long what comes before it goes over into it; where it is not said, it is a cut. */
    dissolveUs: z.int().min(LEAST_DISSOLVE_US).max(MOST_DISSOLVE_US).optional(),
  })
  .refine((span) => span.finishUs > span.startUs, { message: 'The finish has to come after the start.' });
export type RecipeSpan = z.infer<typeof RecipeSpan>;

/** Words on a dark ground, shown before everything else, in silence. */
export const OpeningCard = z.strictObject({
  title: z.string().min(1).max(MOST_CARD_SIGNS),
  /** Names, course, date: each a line of its own. */
  lines: z.array(z.string().min(1).max(MOST_CARD_SIGNS)).max(MOST_CARD_LINES),
  lengthUs: z.int().min(LEAST_CARD_US).max(MOST_CARD_US),
});
export type OpeningCard = z.infer<typeof OpeningCard>;

/** What to do to one take or several; plain data, engine-neutral, never touching the takes themselves. */
export const Recipe = z
  .strictObject({
    version: z.literal(RECIPE_VERSION),
    sources: z.array(RecipeSource).min(1).max(16),
    /** What is kept, in this order; none keeps all of the first source. */
    spans: z.array(RecipeSpan).max(200),
    picture: z.strictObject({
      /** Clockwise, after the take has been stood upright by its own metadata. */
      turnDegrees: TurnDegrees,
      /** Left and right exchanged, after turning. */
      isMirrored: z.boolean(),
      /** Clockwise, after both; enlarged as far as no corner stays empty. */
      straightenDegrees: z.number().min(-MOST_STRAIGHTEN_DEGREES).max(MOST_STRAIGHTEN_DEGREES).default(0),
      /** The part that is kept of that, in shares of its edges. */
      crop: Crop.nullable().default(null),
      /** Proportions that black bars fill it up to. */
      barsTo: z.number().min(LEAST_ASPECT).max(MOST_ASPECT).nullable().default(null),
      /** A white border, in shares of the shorter edge of what is kept; bars are white with it. */
      border: z.number().min(0).max(MOST_BORDER).default(0),
      color: ColorSettings.nullable().default(null),
      /** Whether the combs of half pictures are taken out: where they were found, always or never. */
      deinterlace: z.enum(['where-found', 'always', 'never']).default('where-found'),
      /** Places that nobody shall recognise. */
      hidden: z.array(HiddenArea).max(MOST_HIDDEN).default([]),
      /** How much of a hand's shaking is taken out, first of all; null for none. */
      steady: z.number().min(LEAST_STEADY).max(1).nullable().default(null),
      /** The corners of a flat piece in a photograph, which is brought to them before everything else. */
      flatten: Flatten.nullable().default(null),
      /** How the lamp lights a photograph: brought to where it is brightest, before all colors. */
      light: EvenLight.nullable().default(null),
      /** What is told about the piece inside a photograph's file; null for nothing. */
      about: About.nullable().default(null),
    }),
    sound: z.strictObject({
      /** One gain for all of it; 0 leaves the sound as it is. */
      gainDb: z.number().min(-40).max(40),
      /** Which side is heard: both as they are, one of them on both sides, or both mixed to one. */
      sides: z.enum(['as-recorded', 'left', 'right', 'mixed']).default('as-recorded'),
      /** How much later than it was recorded it is heard; below 0 earlier. */
      laterUs: z.int().min(-MOST_LATER_US).max(MOST_LATER_US).default(0),
      /** What is taken out below the lowest notes: steps, wind, a desk that is touched. */
      isRumbleCut: z.boolean().default(false),
      /** Hum of the mains and its harmonics that is taken out. */
      humHz: z
        .union([z.literal(50), z.literal(60)])
        .nullable()
        .default(null),
      /** How loud the take's own sound is under a separate recording; null where that replaces it. */
      ownDb: z.number().min(LEAST_OWN_DB).max(0).nullable().default(null),
      /** Steady noise that is lowered between the notes: by how much, and how loud it is. */
      noise: z
        .strictObject({
          lowerDb: z.number().min(1).max(MOST_NOISE_DB),
          floorDb: z.number().min(-90).max(-20),
        })
        .nullable()
        .default(null),
      /** Peaks that the gain would drive over −1 dBTP are held below it; else nothing is done to dynamics. */
      isLimited: z.boolean().default(false),
      /** How long it comes up at the start and dies away at the end; 0 for not at all. */
      fadeInUs: z.int().min(0).max(MOST_FADE_US).default(0),
      fadeOutUs: z.int().min(0).max(MOST_FADE_US).default(0),
    }),
    card: OpeningCard.nullable(),
  })
  .refine((recipe) => recipe.spans.every((span) => span.source < recipe.sources.length), {
    message: 'A span names a source that the recipe does not have.',
  });
export type Recipe = z.infer<typeof Recipe>;

export function createPlainRecipe(): Recipe {
  return {
    version: RECIPE_VERSION,
    sources: [{ takeId: null, role: 'take', offsetUs: 0, driftPpm: 0 }],
    spans: [],
    picture: {
      turnDegrees: 0,
      isMirrored: false,
      straightenDegrees: 0,
      crop: null,
      barsTo: null,
      border: 0,
      color: null,
      deinterlace: 'where-found',
      hidden: [],
      steady: null,
      flatten: null,
      light: null,
      about: null,
    },
    sound: {
      gainDb: 0,
      sides: 'as-recorded',
      laterUs: 0,
      isRumbleCut: false,
      humHz: null,
      ownDb: null,
      noise: null,
      isLimited: false,
      fadeInUs: 0,
      fadeOutUs: 0,
    },
    card: null,
  };
}

/** Whether sound stays as it was recorded, apart from its one gain. */
export function isPlainSound(sound: Recipe['sound']): boolean {
  return writeCanonicalJson({ ...sound, gainDb: 0 }) === writeCanonicalJson(createPlainRecipe().sound);
}

/**
 * A recipe without the operations that do nothing, as it was written before they were known: what was made by
 * it then is what it would make now.
 */
export function simplifyRecipe(recipe: Recipe): object {
  const plain = createPlainRecipe();
  const pick = (own: object, other: object, always: readonly string[]) =>
    Object.fromEntries(
      Object.entries(own).filter(
        ([name, value]) =>
          always.includes(name) ||
          writeCanonicalJson(value) !== writeCanonicalJson((other as Record<string, unknown>)[name]),
      ),
    );
  return {
    ...recipe,
    sources: recipe.sources.map((source) => pick(source, { driftPpm: 0 }, ['takeId', 'role', 'offsetUs'])),
    picture: pick({ ...recipe.picture, color: simplifyColor(recipe.picture.color) }, plain.picture, [
      'turnDegrees',
      'isMirrored',
    ]),
    sound: pick(recipe.sound, plain.sound, ['gainDb']),
  };
}

function simplifyColor(color: ColorSettings | null): object | null {
  if (!color) return color;
  const isKept = ([name, value]: [string, unknown]) => value !== null || !['look', 'mix'].includes(name);
  return Object.fromEntries(Object.entries(color).filter(isKept));
}

/** Whether two recipes ask for the same. */
export function isSameRecipe(left: Recipe, right: Recipe): boolean {
  return writeCanonicalJson(left) === writeCanonicalJson(right);
}

/**
 * What is kept of a take whose recipe has one stretch of it; null where all of it is, or where there are
 * several.
 */
export function readKeptRange(recipe: Recipe): TimeRange | null {
  const [span, ...more] = recipe.spans;
  return span && span.source === 0 && more.length === 0
    ? { startUs: span.startUs, finishUs: span.finishUs }
    : null;
}

/** The same recipe keeping one stretch of its first source, or all of it. */
export function keepRange(recipe: Recipe, range: TimeRange | null): Recipe {
  return {
    ...recipe,
    spans: range ? [{ source: 0, startUs: range.startUs, finishUs: range.finishUs }] : [],
  };
}
