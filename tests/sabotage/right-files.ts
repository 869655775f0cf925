/** A file as it should be, made by other hands: a plain command of FFmpeg, and the recipe that it follows. */
export interface RightFile {
  readonly name: string;
  readonly ending: string;
  readonly picture?: string;
  readonly sound?: string;
  readonly args: readonly string[];
  readonly from?: 'take' | 'bright' | 'wandering';
  readonly keep?: readonly (readonly [startUs: number, finishUs: number])[];
  readonly turnDegrees?: 0 | 90 | 180 | 270;
  readonly isMirrored?: boolean;
  readonly gainDb?: number;
  readonly isShort?: boolean;
}

const H264 = ['-c:v', 'libx264', '-preset', 'veryfast'];
const AAC = ['-c:a', 'aac', '-b:a', '128k'];
const TONE_MAP =
  'zscale=t=linear:npl=203,format=gbrpf32le,zscale=p=bt709,tonemap=hable:desat=0,zscale=t=bt709:m=bt709:r=tv,format=yuv420p';
const count = 'setpts=N/25/TB';
const scale = (lines: number) => `scale=-2:${lines}`;

export const rightFiles: readonly RightFile[] = [
  ...[540, 480, 360, 240].flatMap((lines) =>
    [20, 28, 34].map((crf) => ({
      name: `H.264 of ${lines} lines at ${crf}`,
      ending: 'mp4',
      picture: scale(lines),
      args: [...H264, '-crf', String(crf), ...AAC],
      isShort: lines === 360 && crf === 28,
    })),
  ),
  { name: 'wrapped anew', ending: 'mov', args: ['-c', 'copy'], isShort: true },
  { name: 'wrapped in Matroska', ending: 'mkv', args: ['-c', 'copy'] },
  {
    name: 'HEVC',
    ending: 'mp4',
    args: [
      '-c:v',
      'libx265',
      '-preset',
      'ultrafast',
      '-crf',
      '26',
      '-x265-params',
      'log-level=none',
      '-tag:v',
      'hvc1',
      ...AAC,
    ],
  },
  {
    name: 'VP9 and Opus',
    ending: 'webm',
    picture: scale(360),
    args: [
      '-c:v',
      'libvpx-vp9',
      '-deadline',
      'realtime',
      '-cpu-used',
      '8',
      '-crf',
      '34',
      '-b:v',
      '0',
      '-c:a',
      'libopus',
      '-b:a',
      '96k',
    ],
    isShort: true,
  },
  {
    name: 'VP8 and Vorbis',
    ending: 'webm',
    picture: scale(360),
    args: ['-c:v', 'libvpx', '-deadline', 'realtime', '-cpu-used', '8', '-b:v', '1500k', '-c:a', 'libvorbis'],
  },
  {
    // AVI tells no matrix: so few lines are read by that of BT.601.
    name: 'MPEG-4 and PCM',
    ending: 'avi',
    picture: 'scale=out_color_matrix=bt601',
    args: ['-c:v', 'mpeg4', '-q:v', '4', '-c:a', 'pcm_s16le'],
  },
  {
    name: 'H.264 and MP3',
    ending: 'mp4',
    args: [...H264, '-crf', '24', '-c:a', 'libmp3lame', '-b:a', '128k'],
  },
  {
    // JPEG has one matrix and one range (ITU-T T.871).
    name: 'Motion JPEG and PCM',
    ending: 'mov',
    picture: 'scale=out_color_matrix=bt601',
    args: ['-c:v', 'mjpeg', '-q:v', '4', '-c:a', 'pcm_s16le'],
  },
  { name: 'a transport stream', ending: 'ts', args: [...H264, '-crf', '24', ...AAC] },
  { name: 'mono', ending: 'mp4', args: [...H264, '-crf', '24', '-c:a', 'aac', '-ac', '1', '-b:a', '64k'] },
  { name: 'little sound', ending: 'mp4', args: [...H264, '-crf', '24', '-c:a', 'aac', '-b:a', '48k'] },
  { name: '44.1 kHz', ending: 'mp4', args: [...H264, '-crf', '24', ...AAC, '-ar', '44100'] },
  {
    name: 'half the frames',
    ending: 'mp4',
    picture: `framestep=2,setpts=N/12.5/TB`,
    args: [...H264, '-r', '12.5', '-crf', '24', ...AAC],
    isShort: true,
  },
  { name: '15 frames a second', ending: 'mp4', picture: 'fps=15', args: [...H264, '-crf', '24', ...AAC] },
  { name: '30 frames a second', ending: 'mp4', picture: 'fps=30', args: [...H264, '-crf', '24', ...AAC] },
  {
    name: 'mirrored as asked',
    ending: 'mp4',
    picture: 'hflip',
    isMirrored: true,
    args: [...H264, '-crf', '26', ...AAC],
    isShort: true,
  },
  {
    name: 'turned as asked',
    ending: 'mp4',
    picture: 'transpose=clock',
    turnDegrees: 90,
    args: [...H264, '-crf', '26', ...AAC],
  },
  {
    name: 'turned and mirrored as asked',
    ending: 'mp4',
    picture: 'transpose=cclock,hflip',
    turnDegrees: 270,
    isMirrored: true,
    args: [...H264, '-crf', '26', ...AAC],
  },
  {
    name: 'upside down as asked',
    ending: 'mp4',
    picture: 'hflip,vflip',
    turnDegrees: 180,
    args: [...H264, '-crf', '26', ...AAC],
  },
  {
    name: 'louder as asked',
    ending: 'mp4',
    sound: 'volume=4dB',
    gainDb: 4,
    args: [...H264, '-crf', '26', ...AAC],
  },
  {
    name: 'quieter as asked',
    ending: 'mp4',
    sound: 'volume=-7dB',
    gainDb: -7,
    args: [...H264, '-crf', '26', ...AAC],
  },
  {
    name: 'the part that was kept',
    ending: 'mp4',
    keep: [[1_000_000, 4_000_000]],
    picture: `trim=start_frame=25:end_frame=100,${count}`,
    sound: 'atrim=1:4,asetpts=PTS-STARTPTS',
    args: [...H264, '-crf', '26', ...AAC],
    isShort: true,
  },
  {
    name: 'a part between frames',
    ending: 'mp4',
    keep: [[404_000, 1_404_000]],
    picture: `trim=start_frame=10:end_frame=35,${count}`,
    sound: 'atrim=0.4:1.4,asetpts=PTS-STARTPTS',
    args: [...H264, '-crf', '26', ...AAC],
  },
  {
    name: 'two parts joined',
    ending: 'mp4',
    keep: [
      [1_000_000, 2_000_000],
      [3_000_000, 4_000_000],
    ],
    picture: `select='between(n,25,49)+between(n,75,99)',${count}`,
    sound:
      'asplit=2[x][y];[x]atrim=1:2,asetpts=PTS-STARTPTS[p];[y]atrim=3:4,asetpts=PTS-STARTPTS[q];[p][q]concat=n=2:v=0:a=1',
    args: [...H264, '-crf', '26', ...AAC],
    isShort: true,
  },
  {
    name: 'parts in another order',
    ending: 'mp4',
    keep: [
      [3_000_000, 4_000_000],
      [1_000_000, 2_000_000],
    ],
    picture: `split=2[a][b];[a]trim=start_frame=75:end_frame=100,${count}[c];[b]trim=start_frame=25:end_frame=50,${count}[d];[c][d]concat=n=2`,
    sound:
      'asplit=2[x][y];[x]atrim=3:4,asetpts=PTS-STARTPTS[p];[y]atrim=1:2,asetpts=PTS-STARTPTS[q];[p][q]concat=n=2:v=0:a=1',
    args: [...H264, '-crf', '26', ...AAC],
  },
  {
    name: 'tone-mapped',
    ending: 'mp4',
    from: 'bright',
    picture: TONE_MAP,
    args: [...H264, '-crf', '22', ...AAC],
    isShort: true,
  },
  {
    name: 'tone-mapped and smaller',
    ending: 'mp4',
    from: 'bright',
    picture: `scale=-2:360,${TONE_MAP}`,
    args: [...H264, '-crf', '28', ...AAC],
  },
  {
    name: 'a wandering rate, wrapped anew',
    ending: 'mov',
    from: 'wandering',
    args: ['-c', 'copy'],
    isShort: true,
  },
  {
    name: 'a wandering rate, coded anew',
    ending: 'mp4',
    from: 'wandering',
    args: [...H264, '-crf', '24', '-fps_mode', 'passthrough', ...AAC],
  },
  {
    name: 'a wandering rate at 25',
    ending: 'mp4',
    from: 'wandering',
    picture: 'fps=25',
    args: [...H264, '-crf', '24', ...AAC],
  },
  { name: 'bright range kept', ending: 'mp4', from: 'bright', args: ['-c', 'copy', '-tag:v', 'hvc1'] },
];
