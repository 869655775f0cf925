import {
  CARD_PREFIX,
  compareLuma,
  FlickerMeter,
  measureDetail,
  readPicture,
  shrinkLuma,
  type LumaPicture,
} from '@apodix/core';
import jsQR from 'jsqr';
import { drawFrame, LOOK_EDGE, type Frame } from './take-frame.ts';

/*
 * Looks at the picture for the camera: a frame comes in, figures go out, nothing is kept but a small picture
 * to tell movement by.
 */

export interface ReadingRequest {
  readonly frame: Frame;
  readonly wantsPiece: boolean;
  /** Whether somebody may show a card. */
  readonly wantsCard: boolean;
}

let canvas: OffscreenCanvas | null = null;
let before: LumaPicture | null = null;
let flicker = new FlickerMeter();
let turn = 0;
/** Codes are looked for in every so manyth picture. */
const CODE_EVERY = 3;

function findCard(pixels: ImageData): string | null {
  turn += 1;
  if (turn % CODE_EVERY !== 0) return null;
  const code = jsQR(pixels.data, pixels.width, pixels.height, { inversionAttempts: 'dontInvert' });
  return code?.data.startsWith(CARD_PREFIX) ? code.data : null;
}

function readPixels(frame: Frame): ImageData {
  const drawn = drawFrame(frame, LOOK_EDGE, canvas);
  if (drawn.canvas !== canvas) {
    canvas = drawn.canvas;
    flicker = new FlickerMeter();
    before = null;
  }
  return drawn.context.getImageData(0, 0, canvas.width, canvas.height);
}

export type ReadingAnswer = ReturnType<typeof look>;

function look({ frame, wantsPiece, wantsCard }: ReadingRequest) {
  const pixels = readPixels(frame);
  const { data, width, height } = pixels;
  const size = { widthPx: width, heightPx: height };
  const { luma, ...reading } = readPicture({ ...size, bytes: data, bands: 4 }, wantsPiece);
  const small = shrinkLuma(luma, { widthPx: 64, heightPx: 36 });
  const movement = before ? compareLuma(before, small) : null;
  before = small;
  return {
    reading,
    size,
    movement,
    flicker: flicker.add(luma),
    detail: measureDetail(luma),
    card: wantsCard ? findCard(pixels) : null,
  };
}

self.onmessage = ({ data }: MessageEvent<ReadingRequest>) => {
  try {
    self.postMessage({ answer: look(data) });
  } catch (error) {
    self.postMessage({ fault: String(error) });
  }
};
