import {
  buildStandardLook,
  measureLuma,
  readRate,
  type ColorSignatures,
  type DeclaredColor,
  type FrameSignatures,
  type SizePx,
  type VideoFacts,
} from '@apodix/core';
import type { Chain } from '../../graph/filter-graph.ts';
import { writeFrameNumbers } from '../../graph/select-frames.ts';
import { readDeclaredColor, writeDeclaredMatrix } from '../declared-color.ts';
import { UNHURRIED, type Probe } from './probe.ts';

/** Longer edge of the picture of every frame, and of the colored ones. */
const SIGNATURE_EDGE = 32;
const COLOR_EDGE = 96;
/** From so many on every second line is left out. */
const MANY_LINES = 700;
const COLORS_PER_SECOND = 2;
/** Short takes have more of them. */
const LEAST_COLORS = 16;

export interface PictureEvidenceProbe extends Probe {
  readonly finish: () => { signatures: FrameSignatures; colors: ColorSignatures };
}

export interface EvidenceSizes {
  readonly signature: SizePx;
  readonly color: SizePx;
}

/** Sizes of the small pictures of something of these proportions. */
export function chooseEvidenceSizes(size: SizePx): EvidenceSizes {
  const fit = (edge: number): SizePx => {
    const scale = edge / Math.max(size.widthPx, size.heightPx);
    const round = (length: number) => Math.max(2, Math.round(length * scale));
    return { widthPx: round(size.widthPx), heightPx: round(size.heightPx) };
  };
  return { signature: fit(SIGNATURE_EDGE), color: fit(COLOR_EDGE) };
}

/** Frames of a take that are kept in color: every so many. */
export function chooseColorStep(video: VideoFacts): number {
  const byRate = Math.round(readRate(video.frameRate) / COLORS_PER_SECOND);
  return Math.max(1, Math.min(byRate, Math.floor(video.frameCount / LEAST_COLORS)));
}

/**
 * Leaves a small picture of every frame, and a colored one of some, as a standard display shows them: after
 * the declared matrix, range and transfer function. `colorFrames` names the colored ones; without it every so
 * many.
 */
export function probePictureEvidence(
  video: VideoFacts,
  sizes: EvidenceSizes,
  colorFrames: readonly number[] | null,
): PictureEvidenceProbe {
  const declared = readDeclaredColor(video);
  const isDeep = video.hdr !== null || video.bitDepth > 8;
  const format = isDeep ? 'rgb48le' : 'rgb24';
  const luma = new FrameSink(sizes.signature, isDeep, declared, true);
  const rgb = new FrameSink(sizes.color, isDeep, declared, false);
  const step = chooseColorStep(video);
  const select = colorFrames ? writeFrameNumbers(colorFrames) : `not(mod(n,${step}))`;
  // Scaled once, by averages over areas, which come out the same from a picture that was turned or mirrored;
  // of many lines every second one is enough and costs half. Color has every point, so that it lies where
  // brightness does.
  const area = ({ widthPx, heightPx }: SizePx) => `scale=${widthPx}:${heightPx}:flags=area`;
  const between = video.chroma === 'rgb' ? format : isDeep ? 'yuv444p16le' : 'yuv444p';
  const matrix = writeDeclaredMatrix(video);
  const toRgb = [`scale=flags=accurate_rnd+full_chroma_int${matrix}`, `format=${format}`];
  const isMany = Math.min(video.widthPx, video.heightPx) >= MANY_LINES;
  const range = video.color.range === 'full' ? 'full' : 'limited';
  // Converted once, below: until then the range stays what it is.
  const keepRange = video.chroma === 'rgb' ? '' : `:in_range=${range}:out_range=${range}`;
  const reduce = [
    ...(isMany ? ['field=top'] : []),
    `${area(sizes.color)}${keepRange}`,
    `format=${between}`,
    'split=2',
  ];
  const chains = (from: string): Chain[] => [
    { from: [from], filters: reduce, to: ['small', 'some'] },
    { from: ['small'], filters: [`${area(sizes.signature)}${keepRange}`, ...toRgb], to: ['signature'] },
    { from: ['some'], filters: [`select='${select}'`, ...toRgb], to: ['colors'] },
  ];
  const raw = ['-fps_mode', 'passthrough', ...UNHURRIED, '-f', 'rawvideo'];
  return {
    takes: 'picture',
    buildChains: chains,
    outputs: [
      { pad: 'signature', args: raw, onData: (data) => luma.add(data) },
      { pad: 'colors', args: raw, onData: (data) => rgb.add(data) },
    ],
    finish: () => {
      const colors = rgb.finish();
      const indices = colorFrames ?? Array.from({ length: colors.count }, (_, index) => index * step);
      const signatures = luma.finish();
      return {
        signatures: { ...sizes.signature, luma: signatures.bytes, frameCount: signatures.count },
        colors: {
          ...sizes.color,
          rgb: colors.bytes,
          frameIndices: Int32Array.from(indices.slice(0, colors.count)),
        },
      };
    },
  };
}

/** Collects raw frames as they come and keeps what a standard display shows of them. */
/** Leaves of every frame what `keep` makes of its brightness, at a size of its own. */
export function probeLuma(
  video: VideoFacts,
  size: SizePx,
  keep: (levels: Uint8Array, frame: number) => Uint8Array,
): Probe & { readonly finish: () => { bytes: Uint8Array; count: number } } {
  const isDeep = video.hdr !== null || video.bitDepth > 8;
  const sink = new FrameSink(size, isDeep, readDeclaredColor(video), true, keep);
  const range = video.color.range === 'full' ? 'full' : 'limited';
  const keepRange = video.chroma === 'rgb' ? '' : `:in_range=${range}:out_range=${range}`;
  const format = isDeep ? 'rgb48le' : 'rgb24';
  const between = video.chroma === 'rgb' ? format : isDeep ? 'yuv444p16le' : 'yuv444p';
  return {
    takes: 'picture',
    buildChains: (from) => [
      {
        from: [from],
        filters: [
          `scale=${size.widthPx}:${size.heightPx}:flags=area${keepRange}`,
          `format=${between}`,
          `scale=flags=accurate_rnd+full_chroma_int${writeDeclaredMatrix(video)}`,
          `format=${format}`,
        ],
        to: ['luma'],
      },
    ],
    outputs: [
      {
        pad: 'luma',
        args: ['-fps_mode', 'passthrough', ...UNHURRIED, '-f', 'rawvideo'],
        onData: (data) => sink.add(data),
      },
    ],
    finish: () => sink.finish(),
  };
}

class FrameSink {
  readonly #frameBytes: number;
  readonly #points: number;
  readonly #isDeep: boolean;
  /** The bytes are already what a standard display shows. */
  readonly #isShown: boolean;
  readonly #look: ReturnType<typeof buildStandardLook>;
  readonly #isLuma: boolean;
  readonly #frames: Uint8Array[] = [];
  readonly #color: Uint8Array;
  readonly #keep: (levels: Uint8Array, frame: number) => Uint8Array;
  #rest: Buffer = Buffer.alloc(0);

  constructor(
    size: SizePx,
    isDeep: boolean,
    declared: DeclaredColor,
    isLuma: boolean,
    keep: (levels: Uint8Array, frame: number) => Uint8Array = (levels) => levels,
  ) {
    this.#keep = keep;
    this.#points = size.widthPx * size.heightPx;
    this.#frameBytes = this.#points * 3 * (isDeep ? 2 : 1);
    this.#isDeep = isDeep;
    this.#look = buildStandardLook(declared);
    this.#isShown = !isDeep && declared.transfer === 'bt709' && declared.primaries === 'bt709';
    this.#isLuma = isLuma;
    this.#color = new Uint8Array(this.#points * 3);
  }

  add(data: Buffer): void {
    const bytes = this.#rest.length > 0 ? Buffer.concat([this.#rest, data]) : data;
    let at = 0;
    for (; at + this.#frameBytes <= bytes.length; at += this.#frameBytes)
      this.#frames.push(
        this.#keep(this.#convert(bytes.subarray(at, at + this.#frameBytes)), this.#frames.length),
      );
    this.#rest = Buffer.from(bytes.subarray(at));
  }

  finish(): { bytes: Uint8Array; count: number } {
    const size = this.#frames[0]?.length ?? 0;
    const bytes = new Uint8Array(size * this.#frames.length);
    this.#frames.forEach((frame, index) => bytes.set(frame, index * size));
    return { bytes, count: this.#frames.length };
  }

  #convert(frame: Buffer): Uint8Array {
    const color = this.#show(frame);
    if (!this.#isLuma) return color;
    const luma = new Uint8Array(this.#points);
    for (let point = 0, at = 0; point < this.#points; point += 1, at += 3)
      luma[point] = Math.round(measureLuma(color[at] ?? 0, color[at + 1] ?? 0, color[at + 2] ?? 0));
    return luma;
  }

  /** Bytes as a standard display shows them. */
  #show(frame: Buffer): Uint8Array {
    if (this.#isShown) return this.#isLuma ? frame : Uint8Array.from(frame);
    const color = this.#isLuma ? this.#color : new Uint8Array(this.#points * 3);
    const read = this.#isDeep
      ? (at: number) => frame.readUInt16LE(at * 2) / 65_535
      : (at: number) => (frame[at] ?? 0) / 255;
    for (let at = 0; at < this.#points * 3; at += 3)
      this.#look(read(at), read(at + 1), read(at + 2), color, at);
    return color;
  }
}
