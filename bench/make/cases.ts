/**
 * Sources that stand for what students record, made by FFmpeg alone, and the limits that they are put under.
 */
export interface Source {
  readonly id: string;
  readonly name: string;
  readonly filter: string;
  readonly seconds: number;
  /** So much of it in the short form. */
  readonly shortSeconds?: number;
  readonly codec: readonly string[];
}

export interface Case {
  readonly source: string;
  /** Bits a second of the limit, over the length of the source. */
  readonly limitBps: number;
  readonly lines: number | null;
  /** Part of the short form. */
  readonly isShort: boolean;
  /** Straightened, and its colors put right. */
  readonly isShaped?: boolean;
}

const h264 = (bitrate: string, group = 30) => [
  '-c:v',
  'libx264',
  '-preset',
  'veryfast',
  '-b:v',
  bitrate,
  '-g',
  String(group),
  '-pix_fmt',
  'yuv420p',
];
const HLG = [
  '-c:v',
  'libx265',
  '-preset',
  'ultrafast',
  '-crf',
  '20',
  '-pix_fmt',
  'yuv420p10le',
  '-x265-params',
  'log-level=none:keyint=30:colorprim=bt2020:transfer=arib-std-b67:colormatrix=bt2020nc',
  '-color_primaries',
  'bt2020',
  '-color_trc',
  'arib-std-b67',
  '-colorspace',
  'bt2020nc',
];

export const sources: readonly Source[] = [
  {
    id: 'zoom',
    name: '1080 lines, moving, grain',
    filter: 'mandelbrot=s=1920x1080:r=30,noise=alls=4:allf=t',
    seconds: 12,
    codec: h264('16M'),
  },
  {
    id: 'stage',
    name: '1080 lines, dark stage, grain',
    filter: 'testsrc2=s=1920x1080:r=25,eq=brightness=-0.35:contrast=0.5,noise=alls=10:allf=t',
    seconds: 16,
    codec: h264('16M', 25),
  },
  {
    id: 'sport',
    name: '1080 lines, 60 a second, fast',
    filter:
      "testsrc2=s=1920x1080:r=60,crop=1280:720:'320+300*sin(t*3)':'180+150*cos(t*2)',scale=1920:1080:flags=bilinear",
    seconds: 10,
    codec: h264('20M', 60),
  },
  {
    id: 'drawn',
    name: '720 lines, drawn, screen-like',
    filter: 'testsrc2=s=1280x720:r=30',
    seconds: 20,
    codec: h264('8M'),
  },
  {
    id: 'still',
    name: '1080 lines, nearly still',
    filter:
      "color=0x705040:s=1920x1080:r=30,drawbox=x='900+20*sin(t)':y=400:w=160:h=300:color=0x203040:t=fill,noise=alls=2:allf=t",
    seconds: 20,
    codec: h264('10M'),
  },
  {
    id: 'hlg',
    name: '4K HEVC HLG',
    filter: 'mandelbrot=s=3840x2160:r=25,noise=alls=3:allf=t',
    seconds: 6,
    shortSeconds: 3,
    codec: HLG,
  },
  {
    id: 'long',
    name: '720 lines, 10 minutes, changing',
    filter:
      "testsrc2=s=1920x1080:r=25,crop=1280:720:'320+300*sin(t*t/400)':'180+150*cos(t/7)',noise=alls=3:allf=t",
    seconds: 600,
    codec: h264('6M', 50),
  },
];

/** Each source from very tight to loose. */
export const cases: readonly Case[] = [
  { source: 'zoom', limitBps: 500_000, lines: null, isShort: false },
  { source: 'zoom', limitBps: 1_500_000, lines: 720, isShort: true },
  { source: 'zoom', limitBps: 1_500_000, lines: 720, isShort: true, isShaped: true },
  { source: 'zoom', limitBps: 4_000_000, lines: null, isShort: false },
  { source: 'zoom', limitBps: 9_000_000, lines: null, isShort: false },
  { source: 'stage', limitBps: 400_000, lines: null, isShort: false },
  { source: 'stage', limitBps: 1_000_000, lines: 720, isShort: false },
  { source: 'stage', limitBps: 2_500_000, lines: null, isShort: false },
  { source: 'stage', limitBps: 8_000_000, lines: null, isShort: false },
  { source: 'sport', limitBps: 1_000_000, lines: null, isShort: false },
  { source: 'sport', limitBps: 2_500_000, lines: 720, isShort: false },
  { source: 'sport', limitBps: 5_000_000, lines: null, isShort: false },
  { source: 'sport', limitBps: 12_000_000, lines: null, isShort: false },
  { source: 'drawn', limitBps: 300_000, lines: null, isShort: false },
  { source: 'drawn', limitBps: 800_000, lines: null, isShort: false },
  { source: 'drawn', limitBps: 2_000_000, lines: null, isShort: false },
  { source: 'drawn', limitBps: 6_000_000, lines: 540, isShort: false },
  { source: 'still', limitBps: 150_000, lines: null, isShort: false },
  { source: 'still', limitBps: 600_000, lines: null, isShort: false },
  { source: 'still', limitBps: 3_000_000, lines: null, isShort: false },
  { source: 'hlg', limitBps: 800_000, lines: 720, isShort: false },
  { source: 'hlg', limitBps: 2_500_000, lines: 720, isShort: true },
  { source: 'hlg', limitBps: 6_000_000, lines: 1080, isShort: false },
  { source: 'long', limitBps: 500_000, lines: null, isShort: false },
  { source: 'long', limitBps: 1_800_000, lines: null, isShort: false },
];
