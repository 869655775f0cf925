import { execa } from 'execa';
import sharp from 'sharp';
import { wrapSvg, wander, type Scene } from './scene.ts';

export interface FilmOptions {
  readonly soundPath: string;
  readonly outputPath: string;
  readonly videoArgs: readonly string[];
  /** The phone lay on its side: pictures are stored standing and a tag says how to turn them. */
  readonly isStoredTurned: boolean;
  readonly metadata: readonly string[];
}

const MARGIN = 8;
const DRAWN_WIDTH = 1280;

/**
 * Draws a scene frame by frame, lets the camera shake, and records it with its sound the way a phone would.
 */
export async function filmScene(scene: Scene, options: FilmOptions): Promise<void> {
  const { widthPx, heightPx, rateHz } = scene;
  const wide = { widthPx: widthPx + 2 * MARGIN, heightPx: heightPx + 2 * MARGIN };
  const background = await sharp(
    Buffer.from(
      wrapSvg(wide, [0, 0, DRAWN_WIDTH, (DRAWN_WIDTH * wide.heightPx) / wide.widthPx], scene.background),
    ),
  )
    .removeAlpha()
    .raw()
    .toBuffer();
  const scale = wide.widthPx / DRAWN_WIDTH;
  const moving = {
    left: Math.floor(scene.movingBox[0] * scale),
    top: Math.floor(scene.movingBox[1] * scale),
    widthPx: Math.floor(scene.movingBox[2] * scale),
    heightPx: Math.floor(scene.movingBox[3] * scale),
  };
  const movingBox = [
    moving.left / scale,
    moving.top / scale,
    moving.widthPx / scale,
    moving.heightPx / scale,
  ];
  const filters = [...scene.cameraFilters, ...(options.isStoredTurned ? ['transpose=clock'] : [])].join(',');
  const intermediate = options.isStoredTurned ? `${options.outputPath}.standing.mov` : options.outputPath;
  const encoder = execa(
    'ffmpeg',
    [
      '-v',
      'error',
      '-y',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgb24',
      '-s',
      `${widthPx}x${heightPx}`,
      '-r',
      String(rateHz),
      '-i',
      'pipe:0',
      '-i',
      options.soundPath,
      '-vf',
      `${filters},scale=out_color_matrix=bt709:out_range=tv`,
      ...options.videoArgs,
      '-color_primaries',
      'bt709',
      '-color_trc',
      'bt709',
      '-colorspace',
      'bt709',
      '-c:a',
      'aac',
      '-b:a',
      '128k',
      '-t',
      String(scene.durationS),
      ...options.metadata,
      '-fflags',
      '+bitexact',
      '-f',
      intermediate.endsWith('.mp4') ? 'mp4' : 'mov',
      intermediate,
    ],
    { stdin: 'pipe' },
  );
  const frameCount = Math.round(scene.durationS * rateHz);
  const drawFrame = async (index: number) => {
    const t = index / rateHz;
    const left = MARGIN + Math.round(wander(t, 11) * Math.min(scene.shakePx, MARGIN));
    const top = MARGIN + Math.round(wander(t, 23) * Math.min(scene.shakePx, MARGIN));
    const drawn = await sharp(Buffer.from(wrapSvg(moving, movingBox, scene.draw(t))))
      .raw()
      .toBuffer();
    return composeFrame(
      background,
      wide.widthPx,
      { pixels: drawn, ...moving },
      { left, top, widthPx, heightPx },
    );
  };
  const AHEAD = 2;
  const pending: Promise<Buffer>[] = [];
  for (let index = 0; index < frameCount; index += 1) {
    while (pending.length < AHEAD && index + pending.length < frameCount)
      pending.push(drawFrame(index + pending.length));
    const frame = await pending.shift();
    if (frame && !encoder.stdin.write(frame))
      await new Promise((resolve) => encoder.stdin.once('drain', resolve));
  }
  encoder.stdin.end();
  await encoder;
  if (options.isStoredTurned) {
    await execa('ffmpeg', [
      '-v',
      'error',
      '-y',
      '-i',
      intermediate,
      '-c',
      'copy',
      '-map_metadata',
      '0',
      '-movflags',
      'use_metadata_tags',
      '-metadata:s:v',
      'rotate=90',
      ...options.metadata,
      '-fflags',
      '+bitexact',
      '-f',
      'mov',
      options.outputPath,
    ]);
    await execa('rm', ['-f', intermediate]);
  }
}

interface Rectangle {
  readonly left: number;
  readonly top: number;
  readonly widthPx: number;
  readonly heightPx: number;
}

/**
 * Lays the moving part (RGBA, not premultiplied) over the still part (RGB) and cuts out what the camera sees.
 */
function composeFrame(
  background: Buffer,
  rowPx: number,
  moving: Rectangle & { pixels: Buffer },
  view: Rectangle,
): Buffer {
  const out = Buffer.allocUnsafe(view.widthPx * view.heightPx * 3);
  for (let y = 0; y < view.heightPx; y += 1) {
    const from = ((y + view.top) * rowPx + view.left) * 3;
    background.copy(out, y * view.widthPx * 3, from, from + view.widthPx * 3);
  }
  const { pixels } = moving;
  for (
    let y = Math.max(0, moving.top - view.top);
    y < Math.min(view.heightPx, moving.top + moving.heightPx - view.top);
    y += 1
  ) {
    const fromX = Math.max(0, moving.left - view.left);
    let at = ((y + view.top - moving.top) * moving.widthPx + fromX + view.left - moving.left) * 4;
    let to = (y * view.widthPx + fromX) * 3;
    for (
      let x = fromX;
      x < Math.min(view.widthPx, moving.left + moving.widthPx - view.left);
      x += 1, at += 4, to += 3
    ) {
      const alpha = pixels[at + 3] ?? 0;
      if (alpha === 0) continue;
      const share = alpha / 255;
      for (let channel = 0; channel < 3; channel += 1)
        out[to + channel] = (pixels[at + channel] ?? 0) * share + (out[to + channel] ?? 0) * (1 - share);
    }
  }
  return out;
}
