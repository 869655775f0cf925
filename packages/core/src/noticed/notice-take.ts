import { formatDuration } from '../units/duration.ts';
import { SURE_CONFIDENCE } from '../picture/find-piece.ts';
import { judgeDetail } from '../picture/judge-detail.ts';
import { readRate, type MediaFacts } from '../media/facts.ts';

/** One thing that was noticed of a take, and what Apodix does about it. */
export interface Noticed {
  readonly code: string;
  readonly what: string;
  readonly then: string;
  /** It cannot be put right any more. */
  readonly isLoss: boolean;
}

const QUIET_LUFS = -26;
const MANY_PICTURES = 48;
const DARK = 50;
const BLURRED = 0.6;
const GLARE_SHARE = 0.004;
const ONE_SIDE_DB = 15;
const LONG_US = 4_000_000;
const WARM = 1.25;

interface Rule {
  readonly code: string;
  readonly isLoss?: boolean;
  readonly isTrue: (facts: MediaFacts) => boolean;
  readonly what: (facts: MediaFacts) => string;
  readonly then: string;
}

/** What is lost comes first, then what is most in the way. */
const rules: readonly Rule[] = [
  {
    code: 'clipped',
    isLoss: true,
    isTrue: ({ sound }) => (sound?.clippedCount ?? 0) > 0,
    what: ({ sound }) =>
      `Too loud at ${sound?.clippedCount} place${sound?.clippedCount === 1 ? '' : 's'}: it distorts.`,
    then: 'That cannot be repaired. Record again with a lower level if it is heard.',
  },
  {
    code: 'blurred',
    isLoss: true,
    isTrue: ({ conditions }) => (conditions?.blur ?? 0) > BLURRED,
    what: () => 'Blurred.',
    then: 'That cannot be repaired. Hold still, tap to focus, and take it again.',
  },
  {
    code: 'glare',
    isLoss: true,
    isTrue: ({ photo }) => (photo?.isFromScreen ? 0 : (photo?.glareShare ?? 0)) > GLARE_SHARE,
    what: () => 'A lamp shines in it: nothing is drawn there any more.',
    then: 'That cannot be repaired. Move the lamp to the side, and take it again.',
  },
  {
    code: 'partly-soft',
    isTrue: ({ photo, conditions }) => {
      const found = photo && judgeDetail(photo);
      return found?.clearness === 'partly' && (conditions?.blur ?? 0) <= BLURRED;
    },
    what: () => 'Sharp in some places only.',
    then: 'If the piece is flat, take it again from straight in front. Check in Shape shows where.',
  },
  {
    code: 'grainy',
    isTrue: ({ photo }) => Boolean(photo && judgeDetail(photo)?.isGrainy),
    what: () => 'Grainy: the light was low.',
    then: 'More light is better: take it again by a window, or with a second lamp.',
  },
  {
    code: 'small-writing',
    isTrue: ({ photo }) => photo !== null && judgeDetail(photo)?.writing === 'too-small',
    what: ({ photo }) =>
      `Its writing is small: letters ${Math.round(photo?.detail?.writing?.heightPx ?? 0)} points high.`,
    then: 'If it is to be read, take it again from nearer.',
  },
  {
    code: 'writing-way',
    isTrue: ({ photo }) => Boolean(photo?.writingWay && photo.writingWay !== 'upright'),
    what: ({ photo }) =>
      photo?.writingWay === 'mirrored' ? 'Its writing runs backwards.' : 'Its writing stands on its head.',
    then: 'Frame in Shape puts it right with one press.',
  },
  {
    code: 'cut-off',
    isTrue: ({ photo }) => Boolean(photo?.piece?.isCutOff && photo.piece.confidence >= SURE_CONFIDENCE),
    what: () => 'A side of the piece lies at the border of the picture.',
    then: 'If it goes on beyond that, take it again from further away.',
  },
  {
    code: 'sound-unread',
    isLoss: true,
    isTrue: ({ unread }) => unread.includes('sound'),
    what: () => 'Its sound cannot be read.',
    then: 'The picture is whole and can be used.',
  },
  {
    code: 'picture-unread',
    isLoss: true,
    isTrue: ({ unread }) => unread.includes('picture'),
    what: () => 'Its picture cannot be read.',
    then: 'The sound is whole and can be used.',
  },
  {
    code: 'silent',
    isLoss: true,
    isTrue: ({ kind, sound }) => kind === 'video' && (!sound || sound.loudnessLufs === null),
    what: ({ sound }) => (sound ? 'Nothing is heard.' : 'It has no sound.'),
    then: 'If sound is wanted, record again or add a recording of it.',
  },
  {
    code: 'one-side',
    isTrue: ({ conditions }) => (conditions?.sidesApartDb ?? 0) >= ONE_SIDE_DB,
    what: () => 'Only one side has sound.',
    then: 'In Shape it can be put on both.',
  },
  {
    code: 'quiet',
    isTrue: ({ sound }) => (sound?.loudnessLufs ?? 0) < QUIET_LUFS,
    what: ({ sound }) => `Quiet (${(sound?.loudnessLufs ?? 0).toFixed(1).replace('-', '−')} LUFS).`,
    then: 'It will be raised as far as the limits let it.',
  },
  {
    code: 'hum',
    isTrue: ({ conditions }) => Boolean(conditions?.humHz),
    what: ({ conditions }) => `A hum of ${conditions?.humHz} Hz is in it.`,
    then: 'In Shape it can be taken out.',
  },
  {
    code: 'dark',
    isTrue: ({ conditions }) => (conditions?.brightness ?? 255) < DARK,
    what: () => 'Dark.',
    then: 'Shape can lift it a little; more light is better.',
  },
  {
    code: 'warm',
    isTrue: ({ conditions }) => (conditions?.warmth ?? 1) > WARM,
    what: () => 'The lamp was warm.',
    then: 'Shape can put its colour right.',
  },
  {
    code: 'head',
    isTrue: ({ conditions }) => (conditions?.emptyHeadUs ?? 0) >= LONG_US,
    what: ({ conditions }) =>
      `Nothing happens for the first ${formatDuration(conditions?.emptyHeadUs ?? 0, 0)}.`,
    then: 'A start after that is proposed.',
  },
  {
    code: 'tail',
    isTrue: ({ conditions }) => (conditions?.emptyTailUs ?? 0) >= LONG_US,
    what: ({ conditions }) =>
      `Nothing happens for the last ${formatDuration(conditions?.emptyTailUs ?? 0, 0)}.`,
    then: 'A finish before that is proposed.',
  },
  {
    code: 'sideways',
    isTrue: ({ video }) => Boolean(video?.rotationDegrees),
    what: () => 'Filmed with the phone turned.',
    then: 'It is shown and made upright.',
  },
  {
    code: 'hdr',
    isTrue: ({ video }) => Boolean(video?.hdr),
    what: () => 'Bright-range colour (HDR).',
    then: 'It is converted so that every screen shows it right.',
  },
  {
    code: 'variable-rate',
    isTrue: ({ video }) => video?.rateKind === 'variable',
    what: () => 'Uneven frame rate.',
    then: 'It is evened; sound and picture stay together.',
  },
  {
    code: 'interlaced',
    isTrue: ({ video }) => video !== null && video.interlace !== 'progressive',
    what: () => 'Half pictures (interlaced).',
    then: 'They are made whole.',
  },
  {
    code: 'many-pictures',
    isTrue: ({ video }) => video !== null && readRate(video.frameRate) >= MANY_PICTURES,
    what: ({ video }) => `${Math.round(video ? readRate(video.frameRate) : 0)} pictures a second.`,
    then: 'They are kept where the limits let them.',
  },
  {
    code: 'deep',
    isTrue: ({ video }) => video !== null && video.hdr === null && video.bitDepth > 8,
    what: ({ video }) => `${video?.bitDepth}-bit colour.`,
    then: 'It is made with 8 bits, which every player shows.',
  },
  {
    code: 'location',
    isTrue: ({ locationPresent }) => locationPresent === true,
    what: () => 'The place is inside.',
    then: 'It is left out of what is made.',
  },
];

/** What was noticed of a take, a line each. */
export function noticeTake(facts: MediaFacts): readonly Noticed[] {
  return rules
    .filter((rule) => rule.isTrue(facts))
    .map(({ code, what, then, isLoss = false }) => ({ code, what: what(facts), then, isLoss }));
}
