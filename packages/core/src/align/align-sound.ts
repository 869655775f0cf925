import { findCoarseOffsets } from './coarse-offsets.ts';
import { findFineOffset, STRETCH } from './fine-offset.ts';
import { fitClock, type ClockFit, type TimedOffset } from './fit-clock.ts';
import { ALIGN_RATE_HZ, measureOnsetBands } from './onset-bands.ts';

export interface SoundAlignment {
  /** What has to be added to the separate sound's own times, at its start. */
  readonly offsetUs: number;
  /** How much slower its clock ran, in millionths: its times are drawn out by so much. */
  readonly driftPpm: number;
  /** 0 to 1: how surely both are of the same performance. */
  readonly confidence: number;
}

/** From here on two sounds are taken to belong together. */
export const LEAST_ALIGN_CONFIDENCE = 0.5;
const MOST_PLACES = 6;
const MOST_STRETCHES = 40;
/** Coarse looks are a fiftieth of a second apart; clocks may differ by this much in a long take. */
const REACH_S = 0.12;
const MOST_DRIFT_PPM = 500;
/** A stretch says something where its peak stands out so much. */
const LEAST_SALIENCE = 7;

/**
 * Lays a separate recording of the sound on that of the picture: where their beginnings of notes and words
 * agree best, then by many short stretches between samples, then a straight line through what those say,
 * whose slope is the difference of both clocks. Both are mono at 8 kHz, −1 to 1. null where one is shorter
 * than a second or silent; that they do not belong together is told by the confidence.
 */
export function alignSound(picture: Float32Array, sound: Float32Array): SoundAlignment | null {
  if (Math.min(picture.length, sound.length) < ALIGN_RATE_HZ || isSilent(picture) || isSilent(sound))
    return null;
  const places = findCoarseOffsets(measureOnsetBands(picture), measureOnsetBands(sound), MOST_PLACES);
  const fits = places
    .map(({ offsetUs }) => fitPlace(picture, sound, offsetUs / 1e6))
    .filter((fit) => fit !== null)
    .sort((left, right) => right.agreeing - left.agreeing || right.share - left.share);
  const [best] = fits;
  if (!best) return { offsetUs: places[0]?.offsetUs ?? 0, driftPpm: 0, confidence: 0 };
  const rival = fits.find((fit) => Math.abs(fit.offsetS - best.offsetS) > 0.05);
  return {
    offsetUs: Math.round(best.offsetS * 1e6),
    driftPpm: Math.round(best.driftPpm * 100) / 100,
    confidence: Math.round(judge(best, rival) * 1000) / 1000,
  };
}

function isSilent(samples: Float32Array): boolean {
  let power = 0;
  for (const sample of samples) power += sample * sample;
  return power / samples.length < 1e-9;
}

/** Holds many stretches of both against each other with the second moved by about so much. */
function fitPlace(picture: Float32Array, sound: Float32Array, offsetS: number): ClockFit | null {
  const [pictureS, soundS] = [picture.length / ALIGN_RATE_HZ, sound.length / ALIGN_RATE_HZ];
  const from = Math.max(0, -offsetS);
  const to = Math.min(soundS, pictureS - offsetS);
  const stretchS = STRETCH / ALIGN_RATE_HZ;
  const spareS = to - from - stretchS;
  // A stretch may begin before what both have in common: the fade takes the weight from its ends.
  const count = Math.max(3, Math.min(MOST_STRETCHES, Math.round((2 * spareS) / stretchS) + 1));
  const reachS = REACH_S + ((to - from) * MOST_DRIFT_PPM) / 2e6;
  const found: TimedOffset[] = [];
  for (let index = 0; index < count; index += 1) {
    const startS = from + (spareS * index) / (count - 1);
    const secondAt = Math.round(startS * ALIGN_RATE_HZ);
    const firstAt = secondAt + Math.round(offsetS * ALIGN_RATE_HZ);
    const fine = findFineOffset(picture, firstAt, sound, secondAt, reachS);
    const exact = (firstAt - secondAt) / ALIGN_RATE_HZ;
    if (fine && fine.salience >= LEAST_SALIENCE)
      found.push({ atS: startS + stretchS / 2, offsetS: exact + fine.lagS, salience: fine.salience });
  }
  return fitClock(found, count, MOST_DRIFT_PPM);
}

/** Chance alone lets one stretch in twenty agree; a rival place that fits nearly as well takes trust away. */
function judge({ share, agreeing, meanSalience }: ClockFit, rival: ClockFit | undefined): number {
  const bySharing = Math.max(0, Math.min(1, (share - 0.15) / 0.35));
  const bySalience = Math.max(0, Math.min(1, (meanSalience - LEAST_SALIENCE) / 6));
  const byCount = Math.min(1, agreeing / 3);
  const byRival = rival
    ? Math.max(0, Math.min(1, 1.6 * (1 - (rival.share * rival.meanSalience) / (share * meanSalience))))
    : 1;
  return bySharing * (0.5 + 0.5 * bySalience) * byCount * byRival;
}
