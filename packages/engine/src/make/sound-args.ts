import type { SoundPlan } from '@apodix/core';

export function buildSoundCoderArgs(sound: SoundPlan): string[] {
  const coder = { aac: 'aac', mp3: 'libmp3lame', opus: 'libopus', flac: 'flac', pcm: 'pcm_s16le' }[
    sound.codec
  ];
  return [
    '-c:a',
    coder,
    ...(sound.bitrateBps === null ? [] : ['-b:a', String(sound.bitrateBps)]),
    '-ar',
    String(sound.rateHz),
    '-ac',
    String(sound.channels),
  ];
}
