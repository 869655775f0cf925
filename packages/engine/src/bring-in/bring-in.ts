import {
  EMPTY_SERIES,
  findMediaKind,
  isStillKind,
  type Evidence,
  type Filmstrip,
  type MediaFacts,
  type TakeSeries,
} from '@apodix/core';
import { existsSync } from 'node:fs';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { inspectTimed, type DecodeExtras, type KnownEarly } from '../inspect/inspect-timed.ts';
import type { DecodeOutput } from '../inspect/measure-decode.ts';
import type { EvidenceSizes } from '../inspect/probes/picture-evidence.ts';
import type { Probe } from '../inspect/probes/probe.ts';
import { ProofProbes, TakeProbes } from '../inspect/probes/probe-sets.ts';
import { probeCodedPictures } from '../inspect/probes/coded-pictures.ts';
import { sniffFile } from '../inspect/sniff-file.ts';
import { inspectStill } from '../photo/inspect-still.ts';
import { runPhotoChild } from '../photo/run-photo-child.ts';
import { ProgressMeter, type OnProgress } from '../process/progress.ts';
import { withTemporaryFolder } from '../process/temporary-folder.ts';
import { readComplexity } from './complexity.ts';
import { EarlyFilm, type Early } from './early-film.ts';
import { readPeaks } from './peaks.ts';
import { seeksWell } from './seeks-well.ts';
import {
  buildScratchFiles,
  buildWorkingFiles,
  measureTile,
  STRIP_TILES,
  type ScratchIntermediate,
} from './working-files.ts';

/** What one look at a file leaves. */
export interface Inspected {
  readonly facts: MediaFacts;
  readonly series: TakeSeries;
  readonly evidence: Evidence;
  /** What came out of decoding; null for what stands still. */
  readonly decoded: { readonly frameCount: number; readonly errorCount: number } | null;
  readonly intermediatePath: string | null;
}

export interface BroughtIn extends Omit<Inspected, 'intermediatePath' | 'decoded'> {
  readonly filmstrip: Filmstrip | null;
  /** Whether the recording itself is played and cut by, so that there is no proxy of it. */
  readonly isOwnProxy: boolean;
  /** Files made on the side, by role; absent where the medium has none. */
  readonly files: {
    readonly intermediate?: string;
    readonly proxy?: string;
    readonly strip?: string;
    readonly poster?: string;
  };
}

export interface BringInOptions {
  readonly signal?: AbortSignal;
  readonly onProgress?: OnProgress;
  /** Most lines that the assignment allows: an intermediate has no more. */
  readonly mostLines?: number | null;
  /** Told of what there is to see and to cut by, bit by bit, long before the rest. */
  readonly onEarly?: (early: Early) => void;
  /** Whether a light copy for making is written where decoding is costly; it is unless this says no. */
  readonly hasIntermediate?: boolean;
}

const PREVIEW_LONG_EDGE = 2048;
const POSTER_LONG_EDGE = 480;

/**
 * Judges and measures a file that has just come in and makes what is needed to work on it: for video an
 * editing proxy (where it does not seek as well itself), a filmstrip and sound peaks in the same single
 * decode pass; for photographs an upright sRGB preview. Files are written into `folder`, which is made where
 * it is missing. Throws an `ApodixError` where the file is refused.
 */
export async function bringIn(
  path: string,
  folder: string,
  options: BringInOptions = {},
): Promise<BroughtIn> {
  await mkdir(folder, { recursive: true });
  const meter = new ProgressMeter(options.onProgress);
  meter.begin('Looking at the file', 0, 0.05);
  const { container, sizeBytes } = await sniffFile(path);
  if (isStillKind(findMediaKind(container)))
    return bringInPhoto(path, folder, container, sizeBytes, meter, options.signal);
  meter.begin('Measuring every frame', 0.05, 1);
  const names = {
    intermediate: join(folder, 'intermediate.mp4'),
    proxy: join(folder, 'proxy.mp4'),
    strip: join(folder, 'strip.jpg'),
    poster: join(folder, 'poster.jpg'),
    peaks: join(folder, 'peaks.pcm'),
    small: join(folder, 'small.mp4'),
  };
  const probes = new TakeProbes();
  const { onEarly, signal } = options;
  const early = onEarly && new EarlyFilm({ path, container, folder, ...(signal ? { signal } : {}) }, onEarly);
  let isOwnProxy = false;
  try {
    const inspected = await inspectTimed(path, container, sizeBytes, {
      ...(signal ? { signal } : {}),
      onShare: (share) => meter.tell(share),
      buildExtras: async (known) => {
        isOwnProxy = seeksWell(container, known);
        await early?.begin(known, isOwnProxy);
        return {
          probes: probes.build(known),
          output: buildWorkingFiles(known, names, { ...options, hasProxy: !isOwnProxy }),
        };
      },
    });
    const { facts, evidence, blocks, sharpness, movement, suggestions } = probes.finish(inspected);
    const stripSize = facts.video ? measureTile(facts.video) : null;
    const coded = isOwnProxy ? names.small : names.proxy;
    return {
      facts,
      evidence,
      series: {
        frames: inspected.frames,
        keyframesUs: inspected.keyframesUs,
        peaks: facts.sound ? await readPeaks(names.peaks) : null,
        complexity: facts.video ? await readComplexity(coded, options.signal) : null,
        blocks,
        sharpness,
        movement,
        suggestions,
      },
      filmstrip: stripSize && {
        tileWidthPx: stripSize.widthPx,
        tileHeightPx: stripSize.heightPx,
        tileCount: STRIP_TILES,
      },
      isOwnProxy,
      files: {
        ...(isOwnProxy ? {} : { proxy: names.proxy }),
        ...nameIntermediate(facts, names.intermediate),
        ...(existsSync(names.strip) ? { strip: names.strip } : {}),
        ...(existsSync(names.poster) ? { poster: names.poster } : {}),
      },
    };
  } finally {
    await early?.end();
  }
}

export interface InspectMediaOptions extends Pick<BringInOptions, 'signal'> {
  readonly onShare?: (share: number) => void;
  /** Where working files of the measurement may go. */
  readonly scratchFolder: string;
  readonly intermediate?: ScratchIntermediate;
}

/** The facts of a take with its series and what a proof rests on; for the command line. */
export async function inspectMedia(path: string, options: InspectMediaOptions): Promise<Inspected> {
  const { container, sizeBytes } = await sniffFile(path);
  if (isStillKind(findMediaKind(container))) {
    const { facts, evidence } = await inspectStill(path, container, sizeBytes, null, options.signal);
    return { facts, evidence, series: EMPTY_SERIES, decoded: null, intermediatePath: null };
  }
  return withTemporaryFolder(options.scratchFolder, async (scratch) => {
    const [pcmPath, smallPath] = [join(scratch, 'peaks.pcm'), join(scratch, 'small.mp4')];
    const probes = new TakeProbes();
    const inspected = await inspectTimed(path, container, sizeBytes, {
      ...(options.signal ? { signal: options.signal } : {}),
      ...(options.onShare ? { onShare: options.onShare } : {}),
      buildExtras: (known) => ({
        probes: probes.build(known),
        output: buildScratchFiles(known, options.intermediate, pcmPath, smallPath),
      }),
    });
    const { facts, evidence, blocks, sharpness, movement, suggestions } = probes.finish(inspected);
    const intermediatePath = nameIntermediate(facts, options.intermediate?.path ?? '').intermediate ?? null;
    return {
      facts,
      evidence,
      decoded: inspected.decoded,
      intermediatePath,
      series: {
        frames: inspected.frames,
        keyframesUs: inspected.keyframesUs,
        peaks: facts.sound ? await readPeaks(pcmPath) : null,
        complexity: facts.video ? await readComplexity(smallPath, options.signal) : null,
        blocks,
        sharpness,
        movement,
        suggestions,
      },
    };
  });
}

export interface ProofInspection {
  readonly facts: MediaFacts;
  readonly evidence: Evidence;
  readonly decoded: Inspected['decoded'];
  /** A hash of every coded picture, in the order of showing; null where it was not asked for. */
  readonly codedPictures: readonly string[] | null;
}

export interface InspectForProofOptions {
  readonly signal?: AbortSignal;
  readonly onShare?: (share: number) => void;
  /** Sizes of the small pictures; those of the recording, turned as the recipe turns it. */
  readonly sizes: EvidenceSizes | null;
  /** Frames that are wanted in color. */
  readonly chooseColors: (known: KnownEarly) => readonly number[];
  /** What else is measured along the decoding. */
  readonly buildProbes?: (known: KnownEarly) => readonly Probe[];
  /** What else to do with the picture while it is decoded. */
  readonly alongside?: DecodeOutput;
  /** Whether the pictures as they are coded, in H.264, are asked for. */
  readonly wantsCoded?: boolean;
}

/** Decodes a made file whole, once, and takes from it what its proof is held by. */
export async function inspectForProof(
  path: string,
  options: InspectForProofOptions,
): Promise<ProofInspection> {
  const { container, sizeBytes } = await sniffFile(path);
  if (isStillKind(findMediaKind(container)))
    return {
      ...(await inspectStill(path, container, sizeBytes, options.sizes, options.signal)),
      decoded: null,
      codedPictures: null,
    };
  const probes = new ProofProbes(options.sizes);
  const coded = options.wantsCoded ? probeCodedPictures() : null;
  const inspected = await inspectTimed(path, container, sizeBytes, {
    isProof: true,
    ...(options.signal ? { signal: options.signal } : {}),
    ...(options.onShare ? { onShare: options.onShare } : {}),
    buildExtras: (known): DecodeExtras => ({
      probes: [
        ...probes.build(known, options.chooseColors(known)),
        ...(options.buildProbes?.(known) ?? []),
        ...(coded && known.video?.codec === 'h264' ? [coded] : []),
      ],
      output: options.alongside,
    }),
  });
  return {
    ...probes.finish(inspected),
    decoded: inspected.decoded,
    codedPictures: coded?.finish() ?? null,
  };
}

async function bringInPhoto(
  path: string,
  folder: string,
  container: MediaFacts['container'],
  sizeBytes: number,
  meter: ProgressMeter,
  signal?: AbortSignal,
): Promise<BroughtIn> {
  meter.begin('Measuring the photograph', 0.05, 0.5);
  const { facts, evidence } = await inspectStill(path, container, sizeBytes, null, signal);
  meter.begin('Making a preview', 0.5, 1);
  const proxy = join(folder, 'preview.jpg');
  const poster = join(folder, 'poster.jpg');
  const outputs = [
    { path: proxy, longEdgePx: PREVIEW_LONG_EDGE, quality: 88 },
    { path: poster, longEdgePx: POSTER_LONG_EDGE, quality: 80 },
  ];
  await runPhotoChild({ task: 'preview', path, container, outputs }, signal);
  meter.tell(1);
  return {
    facts,
    evidence,
    series: EMPTY_SERIES,
    filmstrip: null,
    isOwnProxy: false,
    files: { proxy, poster },
  };
}

/**
 * Half pictures cannot be taken apart any more once they have been scaled together: only whole ones leave a
 * copy that is of use.
 */
function nameIntermediate(facts: MediaFacts, path: string): { intermediate?: string } {
  return facts.video?.interlace === 'progressive' && existsSync(path) ? { intermediate: path } : {};
}
