/** A decoded picture as it was coded: brightness and two half-size planes of color. */
export interface Planes {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly data: Uint8Array;
  readonly luma: PlaneLayout;
  readonly blue: PlaneLayout;
  readonly red: PlaneLayout;
  readonly matrix: 'bt709' | 'bt601';
  readonly isFullRange: boolean;
}

/** Where a plane lies in the data, and how many bytes each of its lines has. */
export type PlaneLayout = Pick<globalThis.PlaneLayout, 'offset' | 'stride'>;

/**
 * The planes of a frame, or of the one that a video shows: its colors are then computed here, exactly;
 * browsers' own conversion is off by up to four levels. null where the browser does not give them, or has
 * another layout.
 */
export async function readPlanes(source: HTMLVideoElement | VideoFrame): Promise<Planes | null> {
  if (typeof VideoFrame === 'undefined') return null;
  let frame: VideoFrame;
  try {
    frame = new VideoFrame(source);
  } catch {
    return null;
  }
  try {
    const { format } = frame;
    if ((format !== 'I420' && format !== 'NV12') || !frame.visibleRect) return null;
    const { width, height } = frame.visibleRect;
    const copied = new Uint8Array(frame.allocationSize());
    const [luma, second, third] = await frame.copyTo(copied);
    if (!luma || !second) return null;
    const parted = format === 'NV12' ? partColors(copied, second, width, height) : null;
    const { data, blue, red } = parted ?? { data: copied, blue: second, red: third };
    if (!red) return null;
    const { matrix, fullRange } = frame.colorSpace;
    const isOld = matrix === 'smpte170m' || matrix === 'bt470bg';
    return {
      widthPx: width,
      heightPx: height,
      data,
      luma,
      blue,
      red,
      matrix: isOld ? 'bt601' : 'bt709',
      isFullRange: fullRange ?? false,
    };
  } catch {
    return null;
  } finally {
    frame.close();
  }
}

/** Decoders of graphics cards give blue and red by turns (NV12): each gets a plane of its own, at the end. */
function partColors(copied: Uint8Array, both: PlaneLayout, widthPx: number, heightPx: number) {
  const [w, h] = [Math.ceil(widthPx / 2), Math.ceil(heightPx / 2)];
  const data = new Uint8Array(copied.length + 2 * w * h);
  data.set(copied);
  const [blue, red] = [copied.length, copied.length + w * h].map((offset) => ({ offset, stride: w }));
  if (!blue || !red) return null;
  for (let y = 0; y < h; y += 1)
    for (let x = 0; x < w; x += 1) {
      const from = both.offset + y * both.stride + 2 * x;
      data[blue.offset + y * w + x] = copied[from] as number;
      data[red.offset + y * w + x] = copied[from + 1] as number;
    }
  return { data, blue, red };
}

/** Luminance of red and blue (ITU-R BT.601-7, BT.709-6). */
const LUMA = { bt709: [0.2126, 0.0722], bt601: [0.299, 0.114] } as const;

/**
 * From Y, Cb, Cr of planes (0 to 1) to R, G, B: a matrix of three columns, and what is taken off before.
 * ITU-T H.273, 8.3.
 */
export function buildPlaneMatrix({ matrix, isFullRange }: Pick<Planes, 'matrix' | 'isFullRange'>): {
  readonly columns: Float32Array;
  readonly less: Float32Array;
} {
  const [kr, kb] = LUMA[matrix];
  const kg = 1 - kr - kb;
  const [y, c] = isFullRange ? [1, 1] : [255 / 219, 255 / 224];
  const [red, blue] = [2 * (1 - kr) * c, 2 * (1 - kb) * c];
  return {
    columns: Float32Array.of(y, y, y, 0, (-blue * kb) / kg, blue, red, (-red * kr) / kg, 0),
    less: Float32Array.of(isFullRange ? 0 : 16 / 255, 128 / 255, 128 / 255),
  };
}
