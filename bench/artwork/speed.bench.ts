import {
  buildPlan,
  EMPTY_SERIES,
  Limit,
  measureLuma,
  propose,
  seeLight,
  seePiece,
  type RgbPicture,
} from '@apodix/core';
import { execa } from 'execa';
import { readFileSync } from 'node:fs';
import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import sharp from 'sharp';
import { buildLampScene, drawLampScene, radiate } from '../../packages/core/src/test-support/lamp-scene.ts';
import type { Benchmark, Row } from '../benchmark.ts';

const ROUNDS = 5;
const OUT_PX = 3000;
/** Limits on bytes that the same picture is fitted to. */
const LIMITS_KB = [100, 150, 220, 300, 420, 600, 900, 1300] as const;
/** Quality that is aimed at where nothing limits the bytes. */
const QUALITY = 93;
const SIZES = [
  { name: '12 megapixels', widthPx: 4000, heightPx: 3000 },
  { name: '48 megapixels', widthPx: 8000, heightPx: 6000 },
];
/** As it is built: what starts children from sources takes four times as long. */
const builtEngine = resolve('packages/engine/dist/bundled/index.js');

const median = (values: readonly number[]) =>
  [...values].sort((left, right) => left - right)[Math.floor(values.length / 2)] ?? Number.NaN;
async function measureSeconds(work: () => Promise<unknown>): Promise<number> {
  const startedAt = performance.now();
  await work();
  return (performance.now() - startedAt) / 1000;
}

/** A sheet under a warm lamp on a desk, with grain, as a phone's JPEG of a size. */
async function writePhoto(path: string, widthPx: number, heightPx: number): Promise<void> {
  const scene = drawLampScene(buildLampScene(61, { widthPx: 2000, heightPx: 1500, lamp: radiate(3000) }));
  await sharp(Buffer.from(scene.bytes), { raw: { width: 2000, height: 1500, channels: 3 } })
    .resize(widthPx, heightPx, { kernel: 'lanczos3' })
    .jpeg({ quality: 92 })
    .toFile(path);
}

/** Corners and light, as a photograph that is brought in is looked at. */
function lookAt(picture: RgbPicture): void {
  const { widthPx, heightPx, bytes } = picture;
  const luma = Uint8Array.from({ length: widthPx * heightPx }, (_, point) =>
    measureLuma(bytes[point * 3] ?? 0, bytes[point * 3 + 1] ?? 0, bytes[point * 3 + 2] ?? 0),
  );
  const seen = seePiece({ widthPx, heightPx, luma });
  seeLight(picture, seen?.corners ?? null);
}

/** The highest memory that any of this process's photograph children had while something ran, in bytes. */
async function watchMemory(work: () => Promise<unknown>): Promise<number> {
  let bytes = 0;
  const look = async () => {
    const { stdout } = await execa('pgrep', ['-P', String(process.pid), '-f', 'photo-child'], {
      reject: false,
    });
    for (const pid of stdout.split('\n').filter(Boolean)) {
      try {
        const status = readFileSync(`/proc/${pid}/status`, 'utf8');
        bytes = Math.max(bytes, Number(/VmHWM:\s+(\d+) kB/.exec(status)?.[1] ?? 0) * 1024);
      } catch {
        // It has ended meanwhile.
      }
    }
  };
  const timer = setInterval(() => void look(), 60);
  try {
    await work();
    return bytes;
  } finally {
    clearInterval(timer);
  }
}

/** A photographed piece from the file to the flat, evenly lit JPEG, beside the same without any of that. */
export const artworkSpeedBenchmark: Benchmark = {
  name: 'artwork-speed',
  isShort: true,
  run: async (_isLong, tell) => {
    const folder = await mkdtemp(join(tmpdir(), 'apodix-bench-'));
    try {
      const engine = (await import(builtEngine)) as typeof import('@apodix/engine');
      const [rows, fits]: [Row[], Row[]] = [[], []];
      for (const { name, widthPx, heightPx } of SIZES) {
        const path = join(folder, `${widthPx}.jpg`);
        await writePhoto(path, widthPx, heightPx);
        const { facts } = await engine.inspectMedia(path, { scratchFolder: folder });
        const limits = [
          Limit.parse({ id: 'edge', kind: 'picture-edge', edge: 'long', max: OUT_PX }),
          Limit.parse({ id: 'format', kind: 'format', wanted: ['jpeg'] }),
        ];
        const { recipe } = propose(facts, EMPTY_SERIES, limits);
        const { plan } = buildPlan({
          facts,
          recipe,
          limits,
          series: EMPTY_SERIES,
          takeName: 'x.jpg',
          nameContext: null,
        });
        if (
          plan?.kind !== 'photo' ||
          !recipe.picture.flatten ||
          !recipe.picture.light ||
          !recipe.picture.color
        )
          throw new Error(`The whole chain was expected for ${name}.`);
        const render = (maxBytes: number | null = null) =>
          engine.runPhotoChild({
            task: 'render',
            path,
            container: 'jpeg',
            picture: recipe.picture,
            widthPx: plan.widthPx,
            heightPx: plan.heightPx,
            leastShortEdgePx: plan.leastShortEdgePx,
            maxBytes,
            format: 'jpeg',
            outputPath: join(folder, 'made.jpg'),
          });
        const naive = () =>
          sharp(path)
            .rotate(2)
            .resize({ width: plan.widthPx, height: plan.heightPx, fit: 'fill' })
            .jpeg({ quality: QUALITY, mozjpeg: true, chromaSubsampling: '4:4:4' })
            .toFile(join(folder, 'naive.jpg'));
        const [own, base]: [number[], number[]] = [[], []];
        for (let round = 0; round < ROUNDS; round += 1) {
          base.push(await measureSeconds(naive));
          own.push(await measureSeconds(() => render()));
        }
        // Looking at its memory all the while takes time of its own.
        const highest = await watchMemory(() => render());
        const small = await sharp(path).resize(640).removeAlpha().raw().toBuffer({ resolveWithObject: true });
        const picture: RgbPicture = {
          widthPx: small.info.width,
          heightPx: small.info.height,
          bytes: small.data,
          bands: 3,
        };
        const seeing = await measureSeconds(() => Promise.resolve().then(() => lookAt(picture)));
        const row = {
          photograph: name,
          'made in s': Number(median(own).toFixed(2)),
          'sharp alone in s': Number(median(base).toFixed(2)),
          ratio: Number((median(own) / median(base)).toFixed(2)),
          'most memory in MB': Math.round(highest / 1e6),
          'made MB': Number(((await stat(join(folder, 'made.jpg'))).size / 1e6).toFixed(1)),
          'corners and light found in s': Number(seeing.toFixed(2)),
        };
        rows.push(row);
        tell(row);
        if (fits.length > 0) continue;
        for (const kb of LIMITS_KB) {
          const answer = (await render(kb * 1000)) as { sizeBytes: number; quality: number; probes: number };
          const fit = {
            'limit kB': kb,
            'used of it in %': Number(((100 * answer.sizeBytes) / (kb * 1000)).toFixed(1)),
            quality: answer.quality,
            'times coded': answer.probes,
          };
          fits.push(fit);
          tell(fit);
        }
      }
      return {
        tables: [
          {
            title: `Flattened, lit, colored and coded at ${OUT_PX} points, a process of its own started, beside sharp turning, resizing and coding the same`,
            rows,
          },
          { title: `${SIZES[0]?.name ?? ''} at ${OUT_PX} points as a JPEG within bytes`, rows: fits },
        ],
      };
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  },
};
