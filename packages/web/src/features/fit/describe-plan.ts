import {
  isPlainColor,
  isPlainSound,
  readPlanRecipe,
  type Recipe,
  containerTable,
  formatDuration,
  predictDurationUs,
  readRate,
  writeCodec,
  type Plan,
} from '@apodix/core';

/** What a file will be, or is, as names and figures in the order in which one asks for them. */
export function describePlan(plan: Plan): readonly (readonly [name: string, figure: string])[] {
  const lengthUs = predictDurationUs(plan);
  const sound = plan.kind === 'photo' ? null : plan.sound;
  const shaped = plan.kind === 'photo' ? '' : describeShape(readPlanRecipe(plan));
  return [
    ['Format', describeFormat(plan)],
    ...(plan.kind === 'sound' ? [] : [['Picture', describeSize(plan)] as const]),
    ...(plan.kind === 'video'
      ? [['Pictures a second', String(Number(readRate(plan.cut.frameRate).toFixed(3)))] as const]
      : []),
    ...(lengthUs === null ? [] : [['Length', formatDuration(lengthUs, 2)] as const]),
    ...(sound ? [['Sound', describeSound(sound)] as const] : []),
    ...(shaped === '' ? [] : [['Shaped', shaped] as const]),
    ['Name', plan.fileName],
  ];
}

/** What is done to the recording beyond cutting it, in words; empty where nothing is. */
export function describeShape({ picture, sound, sources }: Recipe): string {
  return [
    isPlainColor(picture.color) ? '' : 'colours',
    picture.straightenDegrees === 0 ? '' : 'straightened',
    picture.crop ? 'a part of the picture' : '',
    sources.length > 1 ? 'sound of another recording' : '',
    isPlainSound(sound) ? '' : 'sound mended',
  ]
    .filter(Boolean)
    .join(', ');
}

function describeFormat(plan: Plan): string {
  const { label } = containerTable[plan.container];
  if (plan.kind !== 'video') return label;
  const sound = plan.sound ? ` + ${writeCodec(plan.sound.codec)}` : '';
  return `${label}, ${writeCodec(plan.rate.videoCodec)}${sound}`;
}

function describeSize(plan: Exclude<Plan, { kind: 'sound' }>): string {
  const { widthPx, heightPx } = plan.kind === 'video' ? plan.cut : plan;
  return `${widthPx}×${heightPx}`;
}

type Sound = NonNullable<Extract<Plan, { kind: 'video' }>['sound']>;

function describeSound({ bitrateBps, channels, gainDb }: Pick<Sound, 'bitrateBps' | 'channels' | 'gainDb'>) {
  const sign = gainDb > 0 ? '+' : '−';
  return [
    bitrateBps ? `${Math.round(bitrateBps / 1000)} kbit/s` : '',
    channels === 1 ? 'mono' : 'stereo',
    gainDb ? `${sign}${Math.abs(gainDb).toFixed(1)} dB` : '',
  ]
    .filter(Boolean)
    .join(', ');
}
