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

/** One textured picture that the camera wanders over, with the grain of a phone. */
const wander = (size: string, view: string, rate: number, x: string, y: string, grain: number) =>
  `mandelbrot=s=${size}:r=${rate},trim=end_frame=1,loop=loop=-1:size=1,setpts=N/${rate}/TB,crop=${view}:${x}:${y},noise=alls=${grain}:allf=t`;

/** Slides, and somebody who walks before them. */
const LECTURE =
  "testsrc2=s=1280x720:r=25,drawbox=x='400+300*sin(t/5)':y=200:w=220:h=420:color=0x304050:t=fill,noise=alls=2:allf=t";

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
  {
    id: 'piece',
    name: '2:30 of 1080 lines, wandering, grain',
    filter: wander('2560x1440', '1920:1080', 30, "'320+300*sin(t/3)'", "'180+170*cos(t/2)'", 5),
    seconds: 150,
    codec: h264('17M'),
  },
  {
    id: 'recital',
    name: '4:00 of 1080 lines, calm, grain',
    filter: wander('2112x1188', '1920:1080', 30, "'96+90*sin(t/9)'", "'54+50*cos(t/7)'", 4),
    seconds: 240,
    codec: h264('17M'),
  },
  {
    id: 'match',
    name: '3:00 of 1080 lines, 60 a second, sports',
    filter: wander('3200x1800', '1920:1080', 60, "'640+630*sin(t)'", "'360+350*cos(t*0.7)'", 4),
    seconds: 180,
    codec: h264('20M', 60),
  },
  {
    id: 'upright',
    name: '20 s of 1080 lines, 60 a second, upright',
    filter: wander('1800x3200', '1080:1920', 60, "'360+350*cos(t*0.7)'", "'640+630*sin(t)'", 4),
    seconds: 20,
    codec: h264('20M', 60),
  },
  {
    id: 'lecture',
    name: '10:00 of 720 lines, lecture',
    filter: LECTURE,
    seconds: 600,
    codec: h264('5M', 50),
  },
  {
    id: 'talk',
    name: '2:30 of 720 lines, the same lecture',
    filter: LECTURE,
    seconds: 150,
    codec: h264('5M', 50),
  },
  {
    id: 'concert',
    name: '3:00 of 4K HEVC HLG',
    filter: wander('4480x2520', '3840:2160', 30, "'320+310*sin(t/4)'", "'180+170*cos(t/3)'", 3),
    seconds: 180,
    codec: HLG,
  },
];

/** Two voices on both sides, one swelling, as sources of real lengths have beside their picture. */
export const SOUND =
  "aevalsrc='0.2*sin(2*PI*330*t)*(0.6+0.4*sin(3*t))+0.1*sin(2*PI*495*t)|0.2*sin(2*PI*330*t)+0.1*sin(2*PI*660*t)*(0.5+0.5*sin(t))':s=48000";

/** What lasts as performances do, or comes with sound from a telephone: only where they are named. */
export const realLengths: readonly string[] = [
  'piece',
  'recital',
  'match',
  'upright',
  'lecture',
  'talk',
  'concert',
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
  { source: 'piece', limitBps: 2_700_000, lines: null, isShort: false },
  { source: 'recital', limitBps: 2_000_000, lines: null, isShort: false },
  { source: 'match', limitBps: 4_000_000, lines: null, isShort: false },
  { source: 'upright', limitBps: 2_400_000, lines: 720, isShort: false },
  { source: 'lecture', limitBps: 600_000, lines: null, isShort: false },
  { source: 'talk', limitBps: 600_000, lines: null, isShort: false },
  { source: 'concert', limitBps: 4_000_000, lines: 1080, isShort: false },
];
