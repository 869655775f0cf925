import { chooseLeastSlope, findLines, measureSlopes, measureTilt } from '../picture/find-lines.ts';
import { findPieceBySlopes, LEAST_CONFIDENCE, type FoundPiece } from '../picture/find-piece.ts';
import { measureBlur } from '../picture/measure-blur.ts';
import { measureGlare } from '../picture/measure-glare.ts';
import { measureLight, type LightFigures } from '../picture/measure-light.ts';
import { convertRgbToLuma, type LumaPicture, type RgbPicture } from '../picture/rgb-picture.ts';

/** What one look at the picture measures. */
export interface PictureReading {
  readonly light: LightFigures;
  /** 0 sharp to 1; null where nothing could tell. */
  readonly blur: number | null;
  /** Degrees, clockwise positive; null where no line speaks. */
  readonly tiltDegrees: number | null;
  /** The piece that was found; null where none was looked for or none stands out. */
  readonly piece: FoundPiece | null;
  /** Share of the piece, or of the picture, that shines. */
  readonly glareShare: number;
}

const MOST_LINES = 32;

/**
 * Looks at a picture of at most 640 pixels along the long edge; about 40 ms with a piece to look for, half
 * without.
 */
export function readPicture(
  picture: RgbPicture,
  wantsPiece: boolean,
): PictureReading & { luma: LumaPicture } {
  const luma = convertRgbToLuma(picture);
  const slopes = measureSlopes(luma);
  const lines = findLines(slopes, MOST_LINES, chooseLeastSlope(slopes));
  const found = wantsPiece ? findPieceBySlopes(slopes, lines) : null;
  const piece = found && found.confidence >= LEAST_CONFIDENCE ? found : null;
  return {
    light: measureLight(picture),
    blur: measureBlur(luma),
    tiltDegrees: piece ? measurePieceTilt(piece) : measureTilt(lines),
    piece,
    glareShare: measureGlare(picture, piece?.corners ?? null),
    luma,
  };
}

/** The mean lean of the upper and the lower side. */
function measurePieceTilt({ corners: [a, b, c, d] }: FoundPiece): number {
  const lean = (from: { x: number; y: number }, to: { x: number; y: number }) =>
    (Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI;
  return (lean(a, b) + lean(d, c)) / 2;
}
