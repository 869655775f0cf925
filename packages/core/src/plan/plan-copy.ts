import { isPlainColor } from '../color/color-settings.ts';
import { isReframed } from '../geometry/frame.ts';
import { estimateMp4Overhead } from '../fit/video-budget.ts';
import { isPlainSound } from '../recipe/recipe.ts';
import { measureFramesUs, readRate, type MediaFacts } from '../media/facts.ts';
import type { SoundPlan, VideoPlan } from './plan.ts';
import { listJoinedSources } from './join-takes.ts';
import { readSoundSource } from './separate-sound.ts';
import type { Ceilings } from '../limits/ceilings.ts';

/** A taken-over stream is not uniform in time: a part may hold this much more than its share. */
const UNEVEN = 1.12;

/**
 * A plan that takes the recording's own coded picture over, where that already meets every limit: nothing is
 * lost and it takes a moment. Only what every player knows is taken over: H.264 in 8-bit 4:2:0, whole
 * pictures, upright, square pixels, BT.709 or unsaid, constant rate. null where the picture has to be coded.
 */
export function planCopy(plan: VideoPlan, facts: MediaFacts, ceilings: Ceilings): VideoPlan | null {
  const { video } = facts;
  if (
    !video ||
    !isUniversal(facts) ||
    plan.container === 'webm' ||
    plan.rate.videoCodec !== 'h264' ||
    plan.cut.recipe.spans.length > 1 ||
    listJoinedSources(plan.cut.recipe).length > 0 ||
    plan.cut.recipe.card !== null
  )
    return null;
  const { cut } = plan;
  const { turnDegrees, isMirrored, color } = cut.recipe.picture;
  const isSeenAsItIs =
    turnDegrees === 0 &&
    !isMirrored &&
    !isReframed(cut.recipe.picture) &&
    isPlainColor(color) &&
    cut.recipe.picture.hidden.length === 0 &&
    cut.recipe.picture.steady === null &&
    !cut.isDeinterlaced;
  if (!isSeenAsItIs || video.startUs > 1000) return null;
  if (readRate(cut.frameRate) !== readRate(video.frameRate)) return null;
  const { widthPx, heightPx, longEdgePx, shortEdgePx } = ceilings.size;
  const [long, short] = [Math.max(video.widthPx, video.heightPx), Math.min(video.widthPx, video.heightPx)];
  if (
    video.widthPx > (widthPx ?? Infinity) ||
    video.heightPx > (heightPx ?? Infinity) ||
    long > (longEdgePx ?? Infinity) ||
    short > (shortEdgePx ?? Infinity)
  )
    return null;
  const wholeUs = Math.max(1, video.durationUs);
  const keptShare = Math.min(1, cut.durationUs / wholeUs);
  const isWhole = cut.frameCount === video.frameCount;
  const seconds = measureFramesUs(cut) / 1e6;
  const isAsRecorded = isWhole && isPlainSound(cut.recipe.sound) && readSoundSource(cut.recipe) === null;
  const sound = keepSound(plan.sound, facts, isAsRecorded);
  const soundBps = sound?.isCopied ? (facts.sound?.bitrateBps ?? 0) : (sound?.bitrateBps ?? 0);
  const packets = sound ? (seconds * sound.rateHz) / 1024 : 0;
  const pictureBytes = ((video.bitrateBps * wholeUs) / 8e6) * keptShare;
  const predictedBytes = Math.round(
    pictureBytes + (soundBps * seconds) / 8 + estimateMp4Overhead(cut.frameCount, packets, seconds * 1e6),
  );
  if (ceilings.maxBytes !== null && predictedBytes * (isWhole ? 1.002 : UNEVEN) > ceilings.maxBytes)
    return null;
  return {
    ...plan,
    method: isWhole ? 'rewrap' : 'cut',
    cut: { ...cut, widthPx: video.widthPx, heightPx: video.heightPx },
    rate: { ...plan.rate, model: null },
    prediction: { bytes: Math.max(1, predictedBytes), ssim: 1, ownSsim: 1 },
    sound,
  };
}

/** Whether every common player and browser shows the coded picture as it is. */
function isUniversal(facts: MediaFacts): boolean {
  const { video, container } = facts;
  if (
    !video ||
    video.codec !== 'h264' ||
    video.pixelFormat !== 'yuv420p' ||
    video.bitDepth !== 8 ||
    video.hdr
  )
    return false;
  if (!['mp4', 'mov', 'mkv'].includes(container)) return false;
  if (
    !/^(High|Main|Constrained Baseline|Baseline)$/.test(video.profile ?? '') ||
    Number(video.level ?? 9) > 4.11
  )
    return false;
  if (
    video.rotationDegrees !== 0 ||
    video.pixelAspect.numerator !== video.pixelAspect.denominator ||
    video.interlace !== 'progressive'
  )
    return false;
  const isTagged709 = [video.color.primaries, video.color.transfer, video.color.matrix].every(
    (tag) => tag === 'bt709',
  );
  return (
    isTagged709 &&
    video.color.range !== 'full' &&
    video.rateKind === 'constant' &&
    video.codedWidthPx % 2 === 0 &&
    video.codedHeightPx % 2 === 0
  );
}

/** The sound of a whole take is taken over too where it is what would be made; else it is coded once more. */
function keepSound(sound: SoundPlan | null, facts: MediaFacts, isWhole: boolean): SoundPlan | null {
  if (!sound || !facts.sound) return sound;
  const { codec, profile, channels, rateHz, startOffsetUs, startUs, durationUs } = facts.sound;
  const isLonger =
    startUs + durationUs > (facts.video?.startUs ?? 0) + (facts.video?.durationUs ?? 0) + 25_000;
  const isSame =
    isWhole &&
    sound.gainDb === 0 &&
    codec === 'aac' &&
    (profile ?? 'LC') === 'LC' &&
    channels === sound.channels &&
    rateHz === sound.rateHz &&
    Math.abs(startOffsetUs) < 25_000 &&
    !isLonger;
  return isSame ? { ...sound, isCopied: true } : sound;
}
