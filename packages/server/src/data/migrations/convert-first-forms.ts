import { openRecipe } from '@apodix/core';

type Loose = Record<string, unknown>;

/** A plan of the first form, with its parts apart. */
export function convertFirstPlan(raw: Loose): Loose {
  const { recipe } = openRecipe(raw.recipe);
  const common = { kind: raw.kind, fileName: raw.fileName, container: raw.container };
  const bytes = raw.predictedBytes;
  const range = raw.keep as { startUs: number; finishUs: number } | undefined;
  const sound = raw.sound ? { isCopied: false, ...(raw.sound as Loose) } : null;
  if (raw.kind === 'photo')
    return {
      ...common,
      recipe,
      maxBytes: raw.maxBytes ?? null,
      widthPx: raw.widthPx,
      heightPx: raw.heightPx,
      leastShortEdgePx: raw.leastShortEdgePx,
      prediction: { bytes, isTight: false },
    };
  const lengthUs = range ? range.finishUs - range.startUs : 1;
  if (raw.kind === 'sound') {
    const rateHz = Number((raw.sound as Loose).rateHz);
    return {
      ...common,
      recipe,
      maxBytes: raw.maxBytes ?? null,
      sampleCount: Math.max(1, Math.floor((lengthUs * rateHz) / 1e6)),
      prediction: { bytes, durationUs: lengthUs },
      sound,
    };
  }
  const rate = raw.frameRate as { numerator: number; denominator: number };
  return {
    ...common,
    method: raw.method ?? 'code',
    cut: {
      recipe,
      widthPx: raw.widthPx,
      heightPx: raw.heightPx,
      frameRate: rate,
      frameCount: raw.frameCount,
      durationUs: Math.round((Number(raw.frameCount) * rate.denominator * 1e6) / rate.numerator),
      toneMapFrom: raw.toneMapFrom ?? null,
      isDeinterlaced: raw.isDeinterlaced ?? false,
    },
    rate: {
      maxBytes: raw.maxBytes ?? null,
      videoCodec: raw.videoCodec,
      videoBps: raw.videoBps,
      usefulBps: raw.usefulBps,
      leastCrf: raw.leastCrf ?? 14,
      model: raw.rateModel ? { sampledShare: 0, ...(raw.rateModel as Loose) } : null,
    },
    prediction: { bytes, ssim: raw.predictedSsim ?? null, ownSsim: raw.predictedOwnSsim ?? null },
    sound,
  };
}

/** Rows of the first proof, by what they are called now. */
const PROOF_ROWS: Readonly<Record<string, string>> = {
  frames: 'frames',
  ends: 'order',
  clarity: 'clarity',
  step: 'step',
  loudness: 'loudness',
};
const JUDGED_BY_PERSON = ['whole-piece', 'sharp', 'one-take'];

/** A finding of the first form, told apart by what it is of. */
export function convertFirstFinding(raw: unknown): Loose {
  const { limitId, kind, ...rest } = raw as Loose;
  if (kind === 'proof') {
    const row = PROOF_ROWS[String(limitId).replace(/^proof-/, '')] ?? 'whole';
    return { of: 'proof', row, ...rest };
  }
  const isOpen = rest.state === 'unknown' && JUDGED_BY_PERSON.includes(String(kind));
  return { of: 'limit', limitId, kind, ...rest, state: isOpen ? 'person' : rest.state };
}
