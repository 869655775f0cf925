import type { SoundPeaks, TakeComplexity } from '../media/analysis.ts';
import { readRate, type MediaFacts } from '../media/facts.ts';
import type { Recipe, RecipeSource, RecipeSpan } from '../recipe/recipe.ts';
import type { SoundBlocks } from '../series/sound-blocks.ts';
import type { DrawnPart, TakePlace, TakeSeries } from '../series/take-series.ts';
import type { FrameTimes } from '../time/frame-times.ts';
import { drawParts } from './draw-parts.ts';
import { placeSpan } from './place-span.ts';
import { applySeparateSound, type OtherTake } from './separate-sound.ts';

interface Measured {
  readonly facts: MediaFacts;
  readonly series: TakeSeries;
}

/** Takes lie on whole seconds of their common time: columns of any series fall together there. */
const PLACE_STEP_US = 1_000_000;

/** Takes beside its own that a recipe keeps parts of, or would. */
export function listJoinedSources(recipe: Pick<Recipe, 'sources'>): RecipeSource[] {
  return recipe.sources.filter((source) => source.role === 'take' && source.takeId !== null);
}

/**
 * A recipe of its own take alone: what others add to it, parts or sound, and what is drawn, is left out.
 */
export function keepOwnTake(recipe: Recipe): Recipe {
  const isDrawn = recipe.card !== null || recipe.spans.some((span) => span.dissolveUs !== undefined);
  if (recipe.sources.length === 1 && !isDrawn) return recipe;
  return {
    ...recipe,
    sources: recipe.sources.slice(0, 1),
    spans: recipe.spans
      .filter((span) => span.source === 0)
      .map(({ source, startUs, finishUs }) => ({ source, startUs, finishUs })),
    card: null,
  };
}

/**
 * A take with everything that its recipe takes from elsewhere: other takes joined to it, and the sound of a
 * separate recording. What is not among `others` is missing from it.
 */
export function applyOthers(
  take: Measured,
  recipe: Pick<Recipe, 'sources' | 'sound' | 'spans' | 'card'>,
  others: readonly OtherTake[],
): Measured {
  return joinTakes(applySeparateSound(take, recipe, others), recipe, others);
}

/**
 * Several takes as if they were one, recorded one after the other on a common time: frames, sound and what
 * was seen along them, and behind them what is drawn: an opening card, parts that go over into one another.
 * `series.places` tells where each lies; spans of the recipe are moved there by `placeSpans`. Between two
 * takes stands one frame of nothing. The take as it is where nothing is joined or drawn.
 */
export function joinTakes(
  take: Measured,
  recipe: Pick<Recipe, 'sources'> & Partial<Pick<Recipe, 'spans' | 'card'>>,
  others: readonly OtherTake[],
): Measured {
  const joined = listJoined(recipe, others);
  const own = Math.max(
    0,
    recipe.sources.findIndex((source) => source.takeId === null),
  );
  const takes =
    joined.length === 0
      ? take
      : layBehind([{ ...take, source: own }, ...joined.map(({ source, other }) => ({ ...other, source }))]);
  const places = takes.series.places ?? placeParts([{ ...take, source: own }]).map(readPlace);
  const drawn = drawParts(takes, recipe, places);
  if (drawn.length === 0) return takes;
  const whole = layBehind([{ ...takes, source: own }, ...drawn]);
  return {
    ...whole,
    series: { ...whole.series, places: [...places, ...(whole.series.places ?? []).slice(1)] },
  };
}

interface Part extends Measured {
  readonly source: number;
  readonly drawn?: DrawnPart;
}

/** Parts behind one another, each on a whole second. */
function layBehind(parts: readonly [Part, ...Part[]]): Measured {
  const [take] = parts;
  const places = placeParts(parts);
  const at = (index: number) => places.find((place) => place.part === index)?.startUs ?? 0;
  const isSameRate = parts.every(
    ({ facts }) =>
      facts.video?.rateKind === 'constant' &&
      Math.abs(
        readRate(facts.video.frameRate) - readRate(take.facts.video?.frameRate ?? facts.video.frameRate),
      ) < 1e-6,
  );
  const { video } = take.facts;
  const sound = take.facts.sound ?? parts.find(({ facts }) => facts.sound)?.facts.sound ?? null;
  const endUs = places.at(-1)?.endUs ?? 0;
  return {
    facts: {
      ...take.facts,
      video: video && { ...video, rateKind: isSameRate ? 'constant' : 'variable' },
      sound,
      durationUs: endUs,
    },
    series: {
      ...take.series,
      places: places.map(readPlace),
      frames: joinFrames(parts, places),
      keyframesUs: parts.flatMap(({ series }, index) => series.keyframesUs.map((us) => us + at(index))),
      peaks: joinPeaks(
        parts.map(({ series }) => series.peaks),
        at,
        endUs,
      ),
      complexity: joinComplexity(
        parts.map(({ series }) => series.complexity),
        at,
        endUs,
      ),
      blocks: joinBlocks(
        parts.map(({ series }) => series.blocks),
        at,
      ),
      sharpness: null,
    },
  };
}

/**
 * The spans of a recipe on the common time, with what is drawn before and between them; spans of takes that
 * are not there are left out.
 */
export function placeSpans(
  spans: readonly RecipeSpan[],
  places: readonly TakePlace[] | null | undefined,
): RecipeSpan[] {
  if (!places) return spans.filter((span) => span.source === 0);
  const rangeOf = ({ startUs, endUs }: TakePlace) => ({ source: 0, startUs, finishUs: endUs });
  const card = places.filter((place) => place.drawn?.kind === 'card').map(rangeOf);
  const first = places[0];
  if (spans.length === 0 && first) return [...card, rangeOf(first)];
  const findDissolve = (into: number) =>
    places.find((place) => place.drawn?.kind === 'dissolve' && place.drawn.into === into);
  const kept = spans.flatMap((span, index) => {
    const own = placeSpan(span, places);
    if (!own) return [];
    const [before, after] = [findDissolve(index), findDissolve(index + 1)];
    const startUs = before?.drawn?.kind === 'dissolve' ? before.drawn.to.finishUs : own.startUs;
    const finishUs = after?.drawn?.kind === 'dissolve' ? after.drawn.from.startUs : own.finishUs;
    return [...(before ? [rangeOf(before)] : []), { source: 0, startUs, finishUs }];
  });
  return [...card, ...kept];
}

/** The place that a moment of the common time lies in. */
export function findPlace(places: readonly TakePlace[], atUs: number): TakePlace {
  const found = places.findLast((place) => atUs >= place.startUs) ?? places[0];
  if (!found) throw new RangeError('No take is placed.');
  return found;
}

interface Joined {
  readonly source: number;
  readonly other: OtherTake;
}

function listJoined(recipe: Pick<Recipe, 'sources'>, others: readonly OtherTake[]): Joined[] {
  return recipe.sources.flatMap((source, index) => {
    const other = source.role === 'take' ? others.find((each) => each.takeId === source.takeId) : undefined;
    return other ? [{ source: index, other }] : [];
  });
}

interface Placed extends TakePlace {
  /** Which of the parts. */
  readonly part: number;
}

const readPlace = ({ source, startUs, firstFrame, endUs, drawn }: TakePlace): TakePlace => ({
  source,
  startUs,
  firstFrame,
  endUs,
  ...(drawn ? { drawn } : {}),
});

function placeParts(parts: readonly Part[]): Placed[] {
  const places: Placed[] = [];
  let [startUs, firstFrame] = [0, 0];
  for (const [part, { source, drawn, facts, series }] of parts.entries()) {
    const frames = facts.video ? series.frames : null;
    const endUs = startUs + (frames?.endUs ?? facts.durationUs ?? 1);
    places.push({ part, source, startUs, firstFrame, endUs, ...(drawn ? { drawn } : {}) });
    startUs = Math.floor(endUs / PLACE_STEP_US + 1) * PLACE_STEP_US;
    // The frame of nothing between two takes counts too.
    firstFrame += (frames?.timesUs.length ?? 0) + 1;
  }
  return places;
}

function joinFrames(parts: readonly Measured[], places: readonly Placed[]): FrameTimes | null {
  const timesUs: number[] = [];
  for (const place of places) {
    const frames = parts[place.part]?.series.frames;
    if (!frames) return null;
    const own = frames.timesUs.map((us) => us + place.startUs);
    // Not spread: a take may have more frames than a call may have arguments.
    for (const us of own) timesUs.push(us);
    if (place !== places.at(-1)) timesUs.push(place.endUs);
  }
  return { timesUs, endUs: places.at(-1)?.endUs ?? 0 };
}

function joinPeaks(
  parts: readonly (SoundPeaks | null)[],
  at: (index: number) => number,
  endUs: number,
): SoundPeaks | null {
  const known = parts.find((each) => each !== null);
  if (!known) return null;
  const { columnsPerSecond } = known;
  const peaks = new Array<number>(Math.ceil((endUs / 1e6) * columnsPerSecond)).fill(0);
  for (const [index, part] of parts.entries()) {
    if (!part) continue;
    const from = Math.round((at(index) / 1e6) * columnsPerSecond);
    const count = Math.round((part.peaks.length * columnsPerSecond) / part.columnsPerSecond);
    for (let column = 0; column < count && from + column < peaks.length; column += 1)
      peaks[from + column] = part.peaks[Math.floor((column * part.columnsPerSecond) / columnsPerSecond)] ?? 0;
  }
  return { columnsPerSecond, peaks };
}

function joinComplexity(
  parts: readonly (TakeComplexity | null)[],
  at: (index: number) => number,
  endUs: number,
): TakeComplexity | null {
  const known = parts.find((each) => each !== null);
  if (!known || parts.some((part) => !part || part.columnUs !== known.columnUs)) return null;
  const { columnUs } = known;
  const bits = new Array<number>(Math.ceil(endUs / columnUs)).fill(0);
  for (const [index, part] of parts.entries())
    for (const [column, each] of (part?.bits ?? []).entries()) {
      const place = Math.round(at(index) / columnUs) + column;
      if (place < bits.length) bits[place] = each;
    }
  return { columnUs, bits };
}

function joinBlocks(
  parts: readonly (SoundBlocks | null)[],
  at: (index: number) => number,
): SoundBlocks | null {
  const known = parts.find((each) => each !== null);
  if (!known) return null;
  const { blockUs } = known;
  const placed = parts.flatMap((part, index) =>
    part ? [{ part, first: Math.max(0, Math.round((at(index) + part.startUs) / blockUs)) }] : [],
  );
  const count = Math.max(...placed.map(({ part, first }) => first + part.powerLeft.length));
  const sides = parts.some((part) => part?.sides === 2) ? 2 : 1;
  // One side alone comes out of both at half its power each.
  const join = (read: (blocks: SoundBlocks) => Float32Array, one = 1) => {
    const joined = new Float32Array(count);
    for (const { part, first } of placed) {
      const share = sides === 2 && part.sides === 1 ? one : 1;
      joined.set(share === 1 ? read(part) : read(part).map((power) => power * share), first);
    }
    return joined;
  };
  const clipped = new Uint16Array(count);
  for (const { part, first } of placed) clipped.set(part.clipped, first);
  return {
    blockUs,
    startUs: 0,
    sides,
    powerLeft: join((blocks) => blocks.powerLeft, 0.5),
    powerRight: join((blocks) => blocks.powerRight, 0.5),
    powerMix: join((blocks) => blocks.powerMix, 0.5),
    peak: join((blocks) => blocks.peak),
    clipped,
  };
}
