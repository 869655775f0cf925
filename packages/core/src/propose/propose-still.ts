import type { ColorAdvice } from '../color/color-settings.ts';
import { fitTarget, type TargetFit } from '../color/fit-target.ts';
import { proposePaper } from '../color/propose-paper.ts';
import type { EvenLight } from '../light/even-light.ts';
import type { PhotoFacts } from '../media/facts.ts';
import { SURE_CONFIDENCE } from '../picture/find-piece.ts';
import { evenPatches } from '../picture/find-target.ts';
import type { RgbPicture } from '../picture/rgb-picture.ts';
import { isUneven, seeBlankSheet } from '../picture/see-light.ts';
import type { Recipe } from '../recipe/recipe.ts';

export interface StillProposal {
  readonly picture: Pick<Recipe['picture'], 'flatten' | 'light' | 'color'>;
  /** What was put right of the colors, and why. */
  readonly colorReasons: readonly string[];
  /** What was done to the shape and the light, or why it was not, a line each. */
  readonly remarks: readonly string[];
}

/** What a photograph is brought to unasked: only what is sure, and nothing to what was drawn on a screen. */
export function proposeStill(photo: PhotoFacts): StillProposal {
  const none = { flatten: null, light: null, color: null };
  const { piece, light, isFromScreen } = photo;
  if (isFromScreen)
    return {
      picture: none,
      colorReasons: [],
      remarks: ['It looks as if it was made on a screen: nothing is done to it.'],
    };
  const isSure = piece
    ? piece.confidence >= SURE_CONFIDENCE && !piece.isCutOff && !piece.isBesideSomebody
    : false;
  const remarks = piece && !isSure ? [describeUnsure(piece)] : [];
  if (piece && !isSure) return { picture: none, colorReasons: [], remarks };
  const flatten = piece ? { corners: piece.corners, aspect: piece.aspect } : null;
  if (piece) remarks.push(`Brought flat by its four corners, ${percent(piece.confidence)} sure.`);
  const isLit = light ? isUneven(light) : false;
  if (light && isLit)
    remarks.push(
      `Light evened out: ${percent(light.before)} darker in one place, ${percent(light.after)} now, ${LIGHT_WAYS[light.by]}.`,
    );
  const color = adviseColor(photo, light && isLit ? light.even : null);
  return {
    picture: { flatten, light: light && isLit ? light.even : null, color: color?.settings ?? null },
    colorReasons: color?.reasons ?? [],
    remarks,
  };
}

/** A target tells all colors; without one the paper tells what is white. */
function adviseColor({ target, light }: PhotoFacts, even: EvenLight | null): ColorAdvice | null {
  const fit = target ? fitTarget(evenPatches(target.patches, target.corners, even)) : null;
  if (fit) return { settings: fit.settings, reasons: describeFit(fit) };
  return light?.paper ? proposePaper(light.paper) : null;
}

/** What a target did, in words, with the mean difference before and after. */
export function describeFit({ meanBefore, meanAfter, foretold, after }: TargetFit): string[] {
  const known = after.filter((each) => each !== null).length;
  return [
    `Colour target: ΔE ${meanBefore.toFixed(1)} → ${meanAfter.toFixed(1)}, mean of ${known} patches`,
    `Colours between them: within ΔE ${foretold.toFixed(1)} or so`,
  ];
}

const percent = (share: number) => `${Math.round(share * 100)} %`;
/** What told how a photograph is lit, in words. */
export const LIGHT_WAYS = {
  margin: 'told by the paper’s margin',
  ground: 'told by what lies around it',
  border: 'told by the background',
  sheet: 'told by a blank sheet',
} as const;

function describeUnsure(piece: NonNullable<PhotoFacts['piece']>): string {
  if (piece.isBesideSomebody) return 'Somebody may be beside the piece: the whole picture is kept.';
  if (piece.isCutOff) return 'Part of the piece may lie beyond the picture: the whole picture is kept.';
  return `Its corners are only ${percent(piece.confidence)} sure: the whole picture is kept.`;
}

/**
 * A photograph's recipe with the light and the white that a second photograph tells, of a blank sheet in the
 * same place; colors of a target stay. Throws a `RangeError` in words where that does not fit.
 */
export function proposeBySheet(recipe: Recipe, photo: PhotoFacts, sheet: RgbPicture): Recipe {
  const seen = seeBlankSheet(sheet, photo, recipe.picture.flatten?.corners ?? null);
  const color = adviseColor({ ...photo, light: seen }, seen.even)?.settings ?? null;
  return { ...recipe, picture: { ...recipe.picture, light: seen.even, color } };
}
