import {
  chooseWritingWay,
  SURE_UPRIGHT,
  type LumaPicture,
  type WayConfidences,
  type WritingWay,
} from '@apodix/core';
import sharp from 'sharp';
import { openRecogniser } from './open-recogniser.ts';

/** Sheets of printed words can be told within this; what takes longer is no such thing. */
const MOST_MS = 40_000;

/**
 * Which way the writing in a picture runs: what is printed is recognised with far more confidence the right
 * way round. The other ways are looked at only where it is not upright. null where no way stands out, or
 * where the recogniser gives up: a photograph is as good without.
 */
export async function tellWritingWay(picture: LumaPicture): Promise<WritingWay | null> {
  try {
    return await recognise(picture);
  } catch {
    return null;
  }
}

async function recognise({ luma, widthPx, heightPx }: LumaPicture): Promise<WritingWay | null> {
  const worker = await openRecogniser();
  const endAt = Date.now() + MOST_MS;
  try {
    const confidences: Record<string, number> = {};
    const look = async (way: WritingWay) => {
      if (Date.now() > endAt) return;
      const picture = sharp(Buffer.from(luma), { raw: { width: widthPx, height: heightPx, channels: 1 } })
        .flop(way === 'mirrored')
        .flip(way === 'flipped')
        .rotate(way === 'upside-down' ? 180 : 0);
      const { data: found } = await worker.recognize(await picture.png({ compressionLevel: 1 }).toBuffer());
      confidences[way] = found.text.trim() === '' ? 0 : found.confidence;
    };
    await look('upright');
    if ((confidences.upright ?? 0) < SURE_UPRIGHT)
      for (const way of ['mirrored', 'upside-down', 'flipped'] as const) await look(way);
    return chooseWritingWay(confidences as WayConfidences);
  } finally {
    await worker.terminate();
  }
}
