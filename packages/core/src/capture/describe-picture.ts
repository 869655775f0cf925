import { measureArea } from '../picture/find-piece.ts';
import { joinWords } from '../limits/words.ts';
import type { SizePx } from '../geometry/turn.ts';
import type { Advice } from './describe-sound.ts';
import type { PictureReading } from './read-picture.ts';

export interface PictureAdvice {
  readonly light: Advice;
  readonly level: Advice;
  readonly focus: Advice;
  /** Where the piece lies; null where no piece is wanted. */
  readonly piece: Advice | null;
}

const DARK = 55;
const DIM = 85;
const WARM = 1.25;
const COOL = 0.8;
const BLURRED = 0.55;
const LEVEL_DEGREES = 1;
const SMALL_SHARE = 0.35;
const GLARE_SHARE = 0.003;
const FLICKER_SHARE = 0.02;

/** What the readings of a picture mean, and what to do. */
export function describePicture(
  reading: PictureReading,
  flicker: number | null,
  size: SizePx,
  wantsPiece: boolean,
): PictureAdvice {
  return {
    light: describeLight(reading, flicker),
    level: describeLevel(reading.tiltDegrees),
    focus: describeFocus(reading.blur),
    piece: wantsPiece ? describePiece(reading, size) : null,
  };
}

const good = (text: string): Advice => ({ text, isGood: true });
const bad = (text: string): Advice => ({ text, isGood: false });

function describeLight({ light, glareShare }: PictureReading, flicker: number | null): Advice {
  if (light.mean < DARK && light.high < 150) return bad('Too dark: turn on a lamp or face the window.');
  if (light.burntShare > 0.12) return bad('Too bright: turn away from the window or lamp.');
  if (flicker !== null && flicker > FLICKER_SHARE)
    return bad('The lamp flickers: use daylight or another lamp.');
  if (glareShare > GLARE_SHARE) return bad('A lamp shines in it: move the lamp or the camera aside.');
  const tint = light.warmth > WARM ? 'the lamp is warm' : light.warmth < COOL ? 'the light is blue' : null;
  if (light.mean < DIM) return good(`A little dim${tint ? `, ${tint}` : ''}. That can be put right.`);
  return good(tint ? `Bright enough, ${tint}. That can be put right.` : 'Bright enough.');
}

function describeLevel(tilt: number | null): Advice {
  if (tilt === null) return good('No straight lines to go by.');
  if (Math.abs(tilt) < LEVEL_DEGREES) return good('Level.');
  // What leans clockwise in the picture was filmed by a camera that leans the other way.
  return bad(
    `Tilted ${Math.abs(tilt).toFixed(1)}°: turn the camera ${tilt > 0 ? 'clockwise' : 'anticlockwise'}.`,
  );
}

function describeFocus(blur: number | null): Advice {
  if (blur === null) return good('Too plain a picture to tell.');
  return blur > BLURRED ? bad('Blurred: hold still, wipe the lens, or tap to focus.') : good('Sharp.');
}

function describePiece({ piece }: PictureReading, size: SizePx): Advice {
  if (!piece) return bad('No piece is found: show all four edges on a plain background.');
  if (piece.touches.length > 0)
    return bad(`Cut off at the ${joinWords(piece.touches, 'and')}: move back a little.`);
  const share = measureArea(piece.corners, size.widthPx, size.heightPx);
  if (share < SMALL_SHARE) return bad(`It fills ${Math.round(share * 100)} % of the picture: come closer.`);
  return good('The whole piece is in the picture.');
}
