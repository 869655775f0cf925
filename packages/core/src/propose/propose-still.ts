import type { ColorAdvice } from '../color/color-settings.ts';
import { fitTarget, type TargetFit } from '../color/fit-target.ts';
import { proposePaper } from '../color/propose-paper.ts';
import type { EvenLight } from '../light/even-light.ts';
import type { Flatten } from '../geometry/flatten.ts';
import { writeCanonicalJson } from '../json/canonical-json.ts';
import type { SeenLight } from '../light/seen-light.ts';
import type { PhotoFacts, SeenPiece } from '../media/facts.ts';
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

/**
 * What a photograph is brought to unasked: only what is sure, and nothing to what was drawn on a screen. By
 * itself a piece may miss a limit (`isRefused`), where the whole picture is taken.
 */
export function proposeStill(
  photo: PhotoFacts,
  isRefused: (flatten: Flatten) => boolean = () => false,
): StillProposal {
  const none = { flatten: null, light: null, color: null };
  const { piece, light, isFromScreen } = photo;
  if (isFromScreen)
    return {
      picture: none,
      colorReasons: [],
      remarks: ['It looks as if it was made on a screen: nothing is done to it.'],
    };
  const doubt = piece && describeDoubt(piece);
  if (doubt) return { picture: none, colorReasons: [], remarks: [doubt] };
  const flatten = piece ? flattenSeen(piece) : null;
  if (flatten && isRefused(flatten)) {
    const color = adviseColor(photo, null);
    const remarks = ['By itself the piece would miss a limit on its size: the whole picture is kept.'];
    return {
      picture: { ...none, color: color?.settings ?? null },
      colorReasons: color?.reasons ?? [],
      remarks,
    };
  }
  const lit = light && isUneven(light) ? light : null;
  const color = adviseColor(photo, lit?.even ?? null);
  return {
    picture: { flatten, light: lit?.even ?? null, color: color?.settings ?? null },
    colorReasons: color?.reasons ?? [],
    remarks: [
      ...(piece ? [`Brought flat by its four corners, ${percent(piece.confidence)} sure.`] : []),
      ...(piece?.lens
        ? [`Its sides straightened: the lens bowed them ${piece.lens < 0 ? 'outward' : 'inward'}.`]
        : []),
      ...(lit
        ? [
            `Light evened out: ${percent(lit.before)} darker in one place, ${percent(lit.after)} now, ${LIGHT_WAYS[lit.by]}.`,
          ]
        : []),
    ],
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

/** Bringing a piece flat as it was found. */
export function flattenSeen({ corners, aspect, lens }: SeenPiece): Flatten {
  return { corners, aspect, ...(lens === undefined ? {} : { lens }) };
}

/** Why a piece is not cut out unasked; null where nothing speaks against it. */
function describeDoubt({ isBesideSomebody, isCutOff, confidence }: SeenPiece): string | null {
  if (isBesideSomebody) return 'Somebody may be beside the piece: the whole picture is kept.';
  if (isCutOff) return 'Part of the piece may lie beyond the picture: the whole picture is kept.';
  if (confidence >= SURE_CONFIDENCE) return null;
  return `Its corners are only ${percent(confidence)} sure: the whole picture is kept.`;
}

/**
 * A photograph's recipe with the light and the white that a second photograph tells, of a blank sheet in the
 * same place. Colors that a person has chosen stay, and those of a target. Throws a `RangeError` in words
 * where that does not fit.
 */
export function proposeBySheet(
  recipe: Recipe,
  photo: PhotoFacts,
  sheet: RgbPicture,
): { readonly recipe: Recipe; readonly seen: SeenLight } {
  const { picture } = recipe;
  const seen = seeBlankSheet(sheet, photo, picture.flatten?.corners ?? null);
  const isOwn = picture.color !== null && !isSame(picture.color, adviseColor(photo, picture.light)?.settings);
  const color = isOwn ? picture.color : (adviseColor({ ...photo, light: seen }, seen.even)?.settings ?? null);
  return { recipe: { ...recipe, picture: { ...picture, light: seen.even, color } }, seen };
}

const isSame = (left: unknown, right: unknown) =>
  writeCanonicalJson(left) === writeCanonicalJson(right ?? null);
