import {
  buildColorTable,
  composeAffine,
  mapSteady,
  buildStandardLook,
  isPlainColor,
  isReframed,
  mapToSource,
  measureBars,
  readBarLevel,
  readColorTable,
  type Affine,
  type PictureWish,
  type SteadyCourse,
  type ClarityEvidence,
  type FrameTimes,
  type MediaFacts,
  type Timeline,
  type VideoFacts,
} from '@apodix/core';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { writeGraph } from '../graph/filter-graph.ts';
import { readDeclaredColor, writeDeclaredMatrix } from '../inspect/declared-color.ts';
import type { JoinedFile } from '../gather/joined-files.ts';
import { buildInputArgs } from '../process/input-args.ts';
import { runTool } from '../process/run-tool.ts';

/** Places along the file at which a frame is held against the recording in full. */
const PLACES = 7;
const EDGE = 33;

/**
 * How clear a file is that somebody else may have made: some frames along it, each held in full size against
 * the source frame that the timeline names (SSIM). Colors of bright ranges go through a table of core's own.
 */
export async function measureClarity(input: {
  readonly takePath: string;
  readonly take: MediaFacts;
  /** Those of all takes, where several are joined. */
  readonly frames: FrameTimes;
  readonly joined?: readonly JoinedFile[];
  /** The first frame that was not recorded; null where all were. */
  readonly drawnFrom?: number | null;
  /** How the take itself is steadied; null where it is not. */
  readonly steady?: SteadyCourse | null;
  readonly madePath: string;
  readonly made: MediaFacts;
  readonly timeline: Timeline;
  readonly wish: PictureWish;
  readonly folder: string;
  readonly signal?: AbortSignal;
}): Promise<ClarityEvidence | null> {
  const { take, made, timeline, frames } = input;
  if (!take.video || !made.video || timeline.frameCount === 0) return null;
  const count = Math.min(timeline.frameCount, made.video.frameCount);
  const { video } = take;
  const { steady = null } = input;
  const size = made.video;
  const table = await prepareTable(video, input.wish, input.folder);
  const lookAt = (moved: Affine | null) => buildLook(video, size, input.wish, table, moved);
  const found: number[] = [];
  for (let place = 0; place < Math.min(PLACES, count); place += 1) {
    const output = Math.min(count - 1, Math.floor(((place + 0.5) * count) / Math.min(PLACES, count)));
    const whole = timeline.sourceFrames[output] ?? 0;
    if (whole >= (input.drawnFrom ?? Infinity)) continue;
    const file = (input.joined ?? []).findLast((each) => whole >= each.place.firstFrame) ?? null;
    // Others of another size stand inside bars: those of the same say how clear it is.
    const isAlike =
      !file ||
      (file.facts.video?.widthPx === take.video.widthPx && file.facts.video.heightPx === take.video.heightPx);
    if (!isAlike) continue;
    const index = whole - (file?.place.firstFrame ?? 0);
    const times = (file?.frames ?? frames).timesUs;
    const previousUs = times[index - 1];
    const ownUs = times[index] ?? 0;
    const takeUs = previousUs === undefined ? 0 : (previousUs + ownUs) / 2;
    const rate = made.video.frameRate;
    const madeUs = made.video.startUs + ((output - 0.5) * rate.denominator * 1e6) / rate.numerator;
    const from = file ? { takePath: file.path, take: file.facts } : {};
    const look = lookAt(steady && !file ? mapSteady(steady, index, video) : null);
    const ssim = await compareFrame({ ...input, ...from }, look, takeUs, Math.max(0, madeUs));
    if (ssim !== null) found.push(ssim);
  }
  if (found.length === 0) return null;
  return {
    kind: 'ssim',
    ssimMean: found.reduce((sum, each) => sum + each, 0) / found.length,
    ssimWorst: Math.min(...found),
    framesCompared: found.length,
    promised: null,
  };
}

async function compareFrame(
  input: Parameters<typeof measureClarity>[0],
  look: readonly string[],
  takeUs: number,
  madeUs: number,
): Promise<number | null> {
  let ssim: number | null = null;
  const seek = (us: number) => (us > 0 ? ['-ss', (us / 1e6).toFixed(6)] : []);
  const one = ['trim=end_frame=1', 'setpts=0'];
  // Points that are not square are shown square, so that both have one size.
  const own = [
    `scale=${input.made.video?.widthPx ?? 0}:${input.made.video?.heightPx ?? 0}`,
    'format=yuv420p',
  ];
  await runTool({
    tool: 'ffmpeg',
    fault: 'PROOF_FAILED',
    args: [
      '-hide_banner',
      '-nostdin',
      '-loglevel',
      'info',
      '-nostats',
      ...seek(takeUs),
      ...buildInputArgs(input.takePath, input.take.container),
      ...seek(madeUs),
      ...buildInputArgs(input.madePath, input.made.container),
      '-filter_complex',
      writeGraph([
        { from: [`0:${input.take.video?.streamIndex ?? 0}`], filters: [...one, ...look], to: ['a'] },
        { from: [`1:${input.made.video?.streamIndex ?? 0}`], filters: [...one, ...own], to: ['b'] },
        { from: ['b', 'a'], filters: ['ssim'], to: ['likeness'] },
      ]),
      '-map',
      '[likeness]',
      '-f',
      'null',
      '-',
    ],
    onStderrLine: (line) => {
      const match = /SSIM .*All:([\d.]+)/.exec(line);
      if (match) ssim = Number(match[1]);
    },
    ...(input.signal ? { signal: input.signal } : {}),
  });
  return ssim;
}

function buildLook(
  take: VideoFacts,
  made: VideoFacts,
  wish: PictureWish,
  table: string | null,
  moved: Affine | null,
): string[] {
  const isFramed = isReframed(wish) || moved !== null;
  const isTurned = !isFramed && wish.turnDegrees % 180 !== 0;
  const [w, h] = isTurned ? [made.heightPx, made.widthPx] : [made.widthPx, made.heightPx];
  const turn = { 0: [], 90: ['transpose=clock'], 180: ['hflip', 'vflip'], 270: ['transpose=cclock'] }[
    wish.turnDegrees
  ];
  const matrix = writeDeclaredMatrix(take);
  const size = isFramed ? { widthPx: take.widthPx, heightPx: take.heightPx } : { widthPx: w, heightPx: h };
  const scale = `scale=${size.widthPx}:${size.heightPx}:flags=bicubic${matrix}`;
  const toVideo = 'out_color_matrix=bt709:out_range=limited';
  const color =
    table === null ? [`${scale}:${toVideo}`] : [scale, 'format=rgb48le', table, `scale=${toVideo}`];
  if (isFramed) {
    const bars = measureBars(take, wish);
    const [iw, ih] = [Math.round(w * (1 - 2 * bars.x)), Math.round(h * (1 - 2 * bars.y))];
    const pad =
      iw === w && ih === h
        ? []
        : [`pad=${w}:${h}:(ow-iw)/2:(oh-ih)/2:color=${readBarLevel(wish) > 0 ? 'white' : 'black'}`];
    const corners = writeCorners(take, { ...wish, barsTo: null, border: 0 }, moved);
    return [...color, 'format=yuv420p', corners, `scale=${iw}:${ih}:flags=bicubic`, ...pad];
  }
  return [...color, 'format=yuv420p', ...turn, ...(wish.isMirrored ? ['hflip'] : [])];
}

/** The part that is kept, by its four corners: steadied, turned, mirrored and straightened in one. */
function writeCorners(take: VideoFacts, wish: PictureWish, moved: Affine | null): string {
  const framed = mapToSource(take, wish);
  const { a, b, c, d, e, f } = moved ? composeAffine(framed, moved) : framed;
  const corner = (index: number, u: number, v: number) =>
    `x${index}=${(a * u + c * v + e).toFixed(3)}:y${index}=${(b * u + d * v + f).toFixed(3)}`;
  const corners = [corner(0, 0, 0), corner(1, 1, 0), corner(2, 0, 1), corner(3, 1, 1)];
  return `perspective=${corners.join(':')}:interpolation=cubic:sense=source`;
}

/** The filter that brings a recording to what a standard display shows of the result, or null. */
async function prepareTable(take: VideoFacts, wish: PictureWish, folder: string): Promise<string | null> {
  const declared = readDeclaredColor(take);
  const isStandard = declared.transfer === 'bt709' && declared.primaries === 'bt709';
  return isStandard && isPlainColor(wish.color) ? null : writeTable(declared, wish.color, folder);
}

async function writeTable(
  declared: ReturnType<typeof readDeclaredColor>,
  color: PictureWish['color'],
  folder: string,
): Promise<string> {
  const look = buildStandardLook(declared);
  const own = color && !isPlainColor(color) ? buildColorTable(color) : null;
  const out = new Uint8Array(3);
  const shown = [0, 0, 0];
  const lines = [`LUT_3D_SIZE ${EDGE}`];
  const at = (step: number) => step / (EDGE - 1);
  for (let blue = 0; blue < EDGE; blue += 1)
    for (let green = 0; green < EDGE; green += 1)
      for (let red = 0; red < EDGE; red += 1) {
        look(at(red), at(green), at(blue), out, 0);
        const signal = Array.from(out, (level) => level / 255);
        if (own) readColorTable(own, signal[0] ?? 0, signal[1] ?? 0, signal[2] ?? 0, shown);
        lines.push((own ? shown : signal).map((value) => value.toFixed(6)).join(' '));
      }
  const path = join(folder, 'look.cube');
  await writeFile(path, `${lines.join('\n')}\n`);
  return `lut3d=file=${path}:interp=tetrahedral`;
}
