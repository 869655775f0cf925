import type { Ceilings } from '../limits/ceilings.ts';
import { MADE_CONTAINERS } from '../limits/format-rows.ts';
import type { ContainerId, MediaKind } from '../media/containers.ts';
import type { MediaFacts } from '../media/facts.ts';
import { chooseRate, RATES_OF_CODEC } from './plan-sound.ts';
import type { SoundPlan, VideoPlan } from './plan.ts';

/** Codings of the picture that can be made in a container, the usual ones first. */
const VIDEO_CODECS: Readonly<Record<VideoPlan['container'], readonly VideoPlan['rate']['videoCodec'][]>> = {
  mp4: ['h264', 'hevc'],
  mov: ['h264', 'hevc'],
  webm: ['vp9'],
};

/** Codings of the sound that can be made in a container. */
const SOUND_CODECS: Readonly<Partial<Record<ContainerId, readonly SoundPlan['codec'][]>>> = {
  mp4: ['aac', 'mp3', 'opus'],
  mov: ['aac', 'pcm'],
  webm: ['opus'],
  m4a: ['aac'],
  mp3: ['mp3'],
  wav: ['pcm'],
  flac: ['flac'],
  ogg: ['opus'],
};

type CodecLists = Pick<
  Ceilings,
  | 'wantedVideoCodecs'
  | 'refusedVideoCodecs'
  | 'wantedSoundCodecs'
  | 'refusedSoundCodecs'
  | 'minRateHz'
  | 'maxRateHz'
>;

/**
 * How the picture is coded in a container: what every player knows, and another way only where it is asked
 * for.
 */
export function chooseVideoCodec(
  container: ContainerId,
  ceilings: Pick<CodecLists, 'wantedVideoCodecs' | 'refusedVideoCodecs'>,
): VideoPlan['rate']['videoCodec'] | null {
  const { wantedVideoCodecs: wanted, refusedVideoCodecs: refused } = ceilings;
  const made = VIDEO_CODECS[container as VideoPlan['container']] ?? [];
  return (
    made.find((codec) => (wanted === null || wanted.includes(codec)) && !refused.includes(codec)) ?? null
  );
}

/** The same of the sound; only codings that have a sampling rate which is allowed. */
export function chooseSoundCodec(
  container: ContainerId,
  ceilings: Omit<CodecLists, 'wantedVideoCodecs' | 'refusedVideoCodecs'>,
): SoundPlan['codec'] | null {
  const { wantedSoundCodecs: wanted, refusedSoundCodecs: refused } = ceilings;
  const made = SOUND_CODECS[container] ?? [];
  const isAllowed = (codec: SoundPlan['codec']) =>
    (wanted === null || wanted.includes(codec)) &&
    !refused.includes(codec) &&
    chooseRate(0, ceilings, RATES_OF_CODEC[codec]) !== null;
  return made.find(isAllowed) ?? null;
}

/** The container of what is made of a take; null where none that is left open can be. */
export function chooseContainer(
  kind: MediaKind,
  ceilings: Ceilings,
  source: Pick<MediaFacts, 'container' | 'document' | 'sound'> | null,
): ContainerId | null {
  const hasPages = (source?.document?.pageCount ?? 1) > 1;
  const isHeard = kind === 'sound' || (source?.sound !== null && ceilings.isSoundWanted !== false);
  const makeable = MADE_CONTAINERS[kind].filter(
    (id) =>
      !ceilings.refusedContainers.includes(id) &&
      (!hasPages || id === 'pdf') &&
      (kind !== 'video' || chooseVideoCodec(id, ceilings) !== null) &&
      ((kind !== 'video' && kind !== 'sound') || !isHeard || chooseSoundCodec(id, ceilings) !== null),
  );
  const wanted = ceilings.wantedContainers;
  const possible = wanted ? makeable.filter((id) => wanted.includes(id)) : makeable;
  const keepsOwn = kind === 'document' || (!wanted && kind === 'sound');
  if (source && keepsOwn && possible.includes(source.container)) return source.container;
  return possible[0] ?? null;
}
