import { createHash } from 'node:crypto';
import { mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { filmScene } from '../scenes/film-scene.ts';
import { hurdlesFrontScene, hurdlesSideScene } from '../scenes/hurdles.ts';
import { marimbaScene } from '../scenes/marimba.ts';
import { monologueScene } from '../scenes/monologue.ts';
import { photographPrint, type PrintStage } from '../scenes/prints.ts';
import { synthesizeMarimba } from '../sounds/marimba-melody.ts';
import { addBar, addRoom, addThud, addVoice, createTrack, writeWav } from '../sounds/synthesis.ts';
import { buildExif, writeHeif } from './heif-writer.ts';

export type OnStep = (done: number, total: number, name: string) => void;

const FAST_H264 = ['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '23', '-pix_fmt', 'yuv420p'];
const FAST_HEVC = [
  '-c:v',
  'libx265',
  '-preset',
  'ultrafast',
  '-crf',
  '21',
  '-pix_fmt',
  'yuv420p10le',
  '-tag:v',
  'hvc1',
  '-x265-params',
  'log-level=none',
];
const TAKEN = ['-metadata', 'creation_time=2026-11-20T16:20:00Z'];
const PLACE = ['-metadata', 'location=+52.5100-001.2500/'];

interface Piece {
  readonly name: string;
  make(path: string, folder: string): Promise<void>;
}

async function withSound(
  folder: string,
  name: string,
  track: Float32Array,
  use: (path: string) => Promise<void>,
): Promise<void> {
  const path = join(folder, `${name}.wav`);
  await writeWav(path, track);
  await use(path);
  await rm(path, { force: true });
}

const filmMarimba =
  (durationS: number, videoArgs: readonly string[], level: number): Piece['make'] =>
  (path, folder) =>
    withSound(
      folder,
      `marimba-${durationS}`,
      synthesizeMarimba(durationS, durationS - 5, level),
      (soundPath) =>
        filmScene(marimbaScene(durationS), {
          soundPath,
          outputPath: path,
          videoArgs,
          isStoredTurned: true,
          metadata: [...TAKEN, ...PLACE],
        }),
    );

const filmMonologue =
  (durationS: number, energy: number, seed: number): Piece['make'] =>
  (path, folder) => {
    const track = createTrack(durationS);
    addRoom(track, 0.002, seed);
    addVoice(track, 1.8, durationS - 1.5, 0.5, 128, seed);
    return withSound(folder, `monologue-${seed}`, track, (soundPath) =>
      filmScene(monologueScene(durationS, energy), {
        soundPath,
        outputPath: path,
        videoArgs: FAST_H264,
        isStoredTurned: false,
        metadata: TAKEN,
      }),
    );
  };

const filmHurdles =
  (side: boolean): Piece['make'] =>
  (path, folder) => {
    const durationS = 4;
    const track = createTrack(durationS);
    addRoom(track, 0.006, side ? 3 : 4);
    for (let step = 0; step * 0.28 < durationS; step += 1) addThud(track, step * 0.28, 0.22, 60 + step);
    return withSound(folder, `hurdles-${String(side)}`, track, (soundPath) =>
      filmScene(side ? hurdlesSideScene(durationS) : hurdlesFrontScene(durationS), {
        soundPath,
        outputPath: path,
        videoArgs: FAST_H264,
        isStoredTurned: false,
        metadata: TAKEN,
      }),
    );
  };

const photograph =
  (
    stage: PrintStage,
    kind: 'heic' | 'jpeg',
    corners: readonly (readonly [number, number])[],
  ): Piece['make'] =>
  async (path) => {
    const [widthPx, heightPx] = [2400, 1800];
    const rgb = await photographPrint(stage, { widthPx, heightPx, corners });
    const exif = { takenAt: '2026:11:19 13:40:00', serial: 'HW-2207-114', place: [52.51, -1.25] as const };
    if (kind === 'heic')
      return writeFile(path, await writeHeif({ rgb, widthPx, heightPx, exif: buildExif(exif) }));
    await sharp(rgb, { raw: { width: widthPx, height: heightPx, channels: 3 } })
      .jpeg({ quality: 92 })
      .withExif({
        IFD0: { Make: 'Sample' },
        IFD2: { DateTimeOriginal: exif.takenAt, BodySerialNumber: exif.serial },
        IFD3: {
          GPSLatitudeRef: 'N',
          GPSLatitude: '52/1 30/1 36/1',
          GPSLongitudeRef: 'W',
          GPSLongitude: '1/1 15/1 0/1',
        },
      })
      .toFile(path);
  };

/** Every sample, largest first so that both cores stay busy. */
export const pieces: readonly Piece[] = [
  { name: 'marimba-take-two.mov', make: filmMarimba(38, FAST_HEVC, 0.075) },
  { name: 'monologue-take-two.mp4', make: filmMonologue(12, 1, 17) },
  { name: 'monologue-take-one.mp4', make: filmMonologue(8, 0.5, 23) },
  { name: 'marimba-take-one.mov', make: filmMarimba(7, FAST_H264, 0.09) },
  { name: 'hurdles-side.mp4', make: filmHurdles(true) },
  { name: 'hurdles-front.mp4', make: filmHurdles(false) },
  {
    name: 'print-full.heic',
    make: photograph('full-print', 'heic', [
      [0.16, 0.24],
      [0.83, 0.15],
      [0.9, 0.82],
      [0.1, 0.87],
    ]),
  },
  {
    name: 'print-first-color.jpg',
    make: photograph('first-color', 'jpeg', [
      [0.12, 0.16],
      [0.86, 0.22],
      [0.88, 0.86],
      [0.15, 0.8],
    ]),
  },
  {
    name: 'block-uncut.jpg',
    make: photograph('block', 'jpeg', [
      [0.1, 0.2],
      [0.88, 0.16],
      [0.84, 0.86],
      [0.14, 0.84],
    ]),
  },
  {
    name: 'lower-part.wav',
    make: (path) => {
      const track = createTrack(14);
      addRoom(track, 0.0015, 91);
      Array.from({ length: 22 }, (_, index) =>
        addBar(track, 1.2 + index * 0.52, [196, 146.8, 164.8, 110][index % 4] ?? 196, 0.3),
      );
      return writeWav(path, track);
    },
  },
];

/** A hash of everything that the media come from: another generator, other media. */
export async function hashGenerator(): Promise<string> {
  const here = fileURLToPath(new URL('..', import.meta.url));
  const hash = createHash('sha256');
  for (const folder of ['media', 'scenes', 'sounds']) {
    for (const name of (await readdir(join(here, folder)))
      .filter((each) => /\.(ts|js)$/.test(each) && !each.endsWith('.d.ts') && !each.includes('.test.'))
      .sort()) {
      hash.update(name.replace(/\.(ts|js)$/, '')).update(await readFile(join(here, folder, name), 'utf8'));
    }
  }
  return hash.digest('hex').slice(0, 16);
}

/**
 * Makes the sample media into `<cacheFolder>/<hash of the generator>` and gives that folder. What is there
 * already is not made again; each file appears whole or not at all.
 */
export async function generateMedia(
  cacheFolder: string,
  onStep: OnStep,
  wanted?: readonly string[],
): Promise<string> {
  const folder = join(cacheFolder, await hashGenerator());
  await mkdir(folder, { recursive: true });
  const queue = pieces.filter((piece) => wanted === undefined || wanted.includes(piece.name));
  const total = queue.length;
  let done = 0;
  const work = async () => {
    for (let piece = queue.shift(); piece; piece = queue.shift()) {
      const path = join(folder, piece.name);
      if (!(await stat(path).catch(() => null))) {
        const scratch = join(folder, `.making-${piece.name}`);
        await piece.make(scratch, folder);
        await rename(scratch, path);
      }
      done += 1;
      onStep(done, total, piece.name);
    }
  };
  await Promise.all([work(), work()]);
  return folder;
}
