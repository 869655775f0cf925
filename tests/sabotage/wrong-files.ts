/**
 * One way to go wrong: what is done to picture and sound of the take, and which rows of the proof have to see
 * it.
 */
export interface WrongFile {
  readonly name: string;
  /** Filters of the picture; frames are passed on one to one unless it says otherwise. */
  readonly picture?: string;
  readonly sound?: string;
  /** Further arguments before the output, after the coders. */
  readonly args?: readonly string[];
  /** From another take, or from the bright one. */
  readonly from?: 'take' | 'other' | 'bright' | 'wandering';
  /** Picture from the take, sound from the other. */
  readonly soundFrom?: 'other';
  /** The recipe that it should follow; all of the take without it. */
  readonly keep?: readonly (readonly [startUs: number, finishUs: number])[];
  readonly turnDegrees?: 0 | 90 | 180 | 270;
  readonly isMirrored?: boolean;
  readonly gainDb?: number;
  /** In the short form that every test run makes. */
  readonly isShort?: boolean;
}

const count = 'setpts=N/25/TB';
const restartSound = 'asetpts=PTS-STARTPTS';
/** Stretches of the picture, by what `trim` keeps of it, one after the other. */
const joinPictures = (parts: readonly string[]) =>
  [
    `split=${parts.length}${parts.map((_, at) => `[s${at}]`).join('')}`,
    ...parts.map((part, at) => `[s${at}]trim=${part},${count}[t${at}]`),
    `${parts.map((_, at) => `[t${at}]`).join('')}concat=n=${parts.length}`,
  ].join(';');
/** Stretches of the sound one after the other, up to `seconds`. */
const joinSound = (parts: readonly string[], seconds: number) =>
  [
    `asplit=${parts.length}${parts.map((_, at) => `[b${at}]`).join('')}`,
    ...parts.map((part, at) => `[b${at}]${part},${restartSound}[c${at}]`),
    `${parts.map((_, at) => `[c${at}]`).join('')}concat=n=${parts.length}:v=0:a=1,atrim=end=${seconds}`,
  ].join(';');
const between = (filter: string, from: number, to: number) => `${filter}:enable='between(n,${from},${to})'`;

/** Files that are not what they should be, each in one way. */
export const wrongFiles: readonly WrongFile[] = [
  { name: 'a frame dropped', picture: `select='not(eq(n,60))',${count}`, isShort: true },
  {
    name: 'a frame dropped, the last doubled',
    picture: `select='not(eq(n,60))',${count},tpad=stop=1:stop_mode=clone`,
  },
  { name: 'a frame doubled, the next left out', picture: 'shuffleframes=0 0' },
  { name: 'two frames swapped throughout', picture: 'shuffleframes=1 0' },
  {
    name: 'two frames exchanged, once',
    picture: joinPictures([
      'end_frame=60',
      'start_frame=61:end_frame=62',
      'start_frame=60:end_frame=61',
      'start_frame=62',
    ]),
  },
  {
    name: 'a frame shown again in place of the next, once',
    picture: `loop=loop=1:size=1:start=60,${count},select='not(eq(n,62))',${count}`,
  },
  { name: 'the last three frames frozen', picture: 'trim=end_frame=147,tpad=stop=3:stop_mode=clone' },
  { name: 'three frames turned round', picture: 'shuffleframes=2 1 0' },
  {
    name: 'one frame earlier throughout',
    picture: `trim=start_frame=1,${count},tpad=stop=1:stop_mode=clone`,
    isShort: true,
  },
  { name: 'one frame later throughout', picture: 'tpad=start=1:start_mode=clone,trim=end_frame=150' },
  { name: 'ten frames later throughout', picture: 'tpad=start=10:start_mode=clone,trim=end_frame=150' },
  {
    name: 'a second frozen',
    picture: `loop=loop=24:size=1:start=50,${count},select='not(between(n,75,98))',${count}`,
    isShort: true,
  },
  { name: 'a second frozen in place', picture: "select='not(between(n,51,75))',fps=25,trim=end_frame=150" },
  { name: 'a black second', picture: between('drawbox=t=fill:c=black', 50, 74) },
  { name: 'a black frame', picture: between('drawbox=t=fill:c=black', 70, 70) },
  { name: 'a white flash of three frames', picture: between('drawbox=t=fill:c=white', 40, 42) },
  { name: 'the last second missing', picture: 'trim=end_frame=125', sound: 'atrim=end=5' },
  {
    name: 'the first second missing',
    picture: `trim=start_frame=25,${count}`,
    sound: 'atrim=start=1,asetpts=PTS-STARTPTS',
  },
  { name: 'run backwards', picture: 'reverse', sound: 'areverse' },
  { name: 'half as fast', picture: 'setpts=2*PTS,fps=25', sound: 'atempo=0.5' },
  { name: 'mirrored', picture: 'hflip', isShort: true },
  { name: 'upside down', picture: 'vflip' },
  { name: 'turned by half', picture: 'hflip,vflip' },
  { name: 'turned by a quarter', picture: 'transpose=clock' },
  { name: 'not mirrored though asked', isMirrored: true },
  { name: 'turned the wrong way', picture: 'transpose=cclock', turnDegrees: 90 },
  { name: 'cropped by a tenth', picture: 'crop=iw*0.9:ih*0.9,scale=960:540', isShort: true },
  { name: 'cropped by 4 %', picture: 'crop=iw*0.96:ih*0.96,scale=960:540' },
  { name: 'moved by 3 %', picture: 'crop=iw*0.97:ih:iw*0.03:0,scale=960:540' },
  { name: 'squeezed between bars', picture: 'scale=960:440,pad=960:540:0:50' },
  { name: 'shown a third too wide', picture: 'setsar=4/3' },
  { name: 'tilted by two degrees', picture: 'rotate=0.035' },
  { name: 'a mark laid over a corner', picture: 'drawbox=x=40:y=40:w=160:h=80:t=fill:c=white' },
  { name: 'colors half as strong again', picture: 'eq=saturation=1.5' },
  { name: 'a lighter gamma', picture: 'eq=gamma=1.3' },
  { name: 'a wrong range', picture: 'scale=in_range=full:out_range=limited', isShort: true },
  { name: 'a range widened', picture: 'scale=in_range=limited:out_range=full,setrange=limited' },
  { name: 'without color', picture: 'hue=s=0' },
  { name: 'a color cast', picture: 'colorbalance=rm=0.3:bm=-0.3' },
  { name: 'red and blue exchanged', picture: 'format=gbrp,shuffleplanes=0:2:1:3,format=yuv420p' },
  { name: 'much darker', picture: 'eq=brightness=-0.15' },
  { name: 'flat', picture: 'eq=contrast=0.7' },
  { name: 'hardly anything left of it', picture: 'boxblur=24:3' },
  { name: 'another take', from: 'other' },
  { name: 'tone-mapping skipped', from: 'bright', picture: 'format=yuv420p', isShort: true },
  {
    name: 'of a wandering rate a frame dropped',
    from: 'wandering',
    picture: "select='not(eq(n,60))'",
    args: ['-fps_mode', 'passthrough', '-enc_time_base', '1/90000'],
  },
  {
    name: 'of a wandering rate a frame shown twice',
    from: 'wandering',
    picture: 'shuffleframes=0 1 1 3 4 5 6 7 8 9',
    args: ['-fps_mode', 'passthrough', '-enc_time_base', '1/90000'],
  },
  { name: 'sound 45 ms late', sound: 'adelay=45|45', isShort: true },
  { name: 'sound 45 ms early', sound: 'atrim=start=0.045,asetpts=PTS-STARTPTS' },
  {
    name: 'sound late from the middle on',
    sound: joinSound(['atrim=end=3', 'atrim=start=3,asetpts=PTS-STARTPTS,adelay=60|60'], 6),
  },
  {
    name: 'a second of sound played twice',
    sound: joinSound(['atrim=end=3', 'atrim=start=2:end=3', 'atrim=start=4'], 6),
  },
  { name: 'one per cent too fast a sound', sound: 'asetrate=48480,aresample=48000' },
  { name: 'dull sound', sound: 'lowpass=f=500,lowpass=f=500' },
  { name: 'both sides the same', sound: 'pan=stereo|c0=0.5*c0+0.5*c1|c1=0.5*c0+0.5*c1' },
  { name: 'the left side silent', sound: 'pan=stereo|c0=0*c0|c1=c1', isShort: true },
  { name: 'the right side silent', sound: 'pan=stereo|c0=c0|c1=0*c1' },
  { name: 'sides exchanged', sound: 'pan=stereo|c0=c1|c1=c0' },
  { name: 'silent', sound: 'volume=0' },
  { name: 'a second of silence', sound: "volume=0:enable='between(t,2,3)'" },
  { name: 'a quarter of a second of silence', sound: "volume=0:enable='between(t,2,2.25)'" },
  { name: 'the sound of another take', soundFrom: 'other', isShort: true },
  { name: 'twice as loud', sound: 'volume=6dB' },
  { name: 'half as loud', sound: 'volume=-6dB' },
  { name: 'without sound', args: ['-an'] },
  {
    name: 'a join off by one frame',
    keep: [
      [1_000_000, 2_000_000],
      [3_000_000, 4_000_000],
    ],
    picture: `select='between(n,25,49)+between(n,76,100)',${count}`,
    sound: "aselect='between(t,1,1.9999)+between(t,3,3.9999)',asetpts=N/SR/TB",
    isShort: true,
  },
  {
    name: 'spans in the wrong order',
    keep: [
      [3_000_000, 4_000_000],
      [1_000_000, 2_000_000],
    ],
    picture: `select='between(n,25,49)+between(n,75,99)',${count}`,
    sound: "aselect='between(t,1,1.9999)+between(t,3,3.9999)',asetpts=N/SR/TB",
  },
  {
    name: 'a part that begins one frame late',
    keep: [[1_000_000, 3_000_000]],
    picture: `trim=start_frame=26:end_frame=76,${count}`,
    sound: 'atrim=1.04:3.04,asetpts=PTS-STARTPTS',
  },
];
