import { execa } from 'execa';

export interface HeifInput {
  /** Interleaved 8-bit RGB, row by row. */
  readonly rgb: Buffer;
  readonly widthPx: number;
  readonly heightPx: number;
  /** A TIFF block with Exif tags; null leaves it out. */
  readonly exif: Buffer | null;
  readonly crf?: number;
}

const u8 = (value: number) => Buffer.from([value & 0xff]);
const u16 = (value: number) => Buffer.from([(value >> 8) & 0xff, value & 0xff]);
const u32 = (value: number) => {
  const bytes = Buffer.alloc(4);
  bytes.writeUInt32BE(value >>> 0);
  return bytes;
};
const ascii = (text: string) => Buffer.from(text, 'latin1');
const box = (type: string, ...parts: Buffer[]) => {
  const body = Buffer.concat(parts);
  return Buffer.concat([u32(body.length + 8), ascii(type), body]);
};
const fullBox = (type: string, version: number, flags: number, ...parts: Buffer[]) =>
  box(type, u32((version << 24) | flags), ...parts);

/**
 * Writes one picture as HEIC the way a phone does: an HEVC intra frame (from FFmpeg's encoder) in an ISO base
 * media file with an item list (ISO/IEC 23008-12). A small writer for sample media; it knows just what those
 * need.
 */
export async function writeHeif(input: HeifInput): Promise<Buffer> {
  const { stdout } = await execa(
    'ffmpeg',
    [
      '-v',
      'error',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgb24',
      '-s',
      `${input.widthPx}x${input.heightPx}`,
      '-i',
      'pipe:0',
      '-frames:v',
      '1',
      '-vf',
      'scale=out_color_matrix=bt709:out_range=pc,format=yuvj420p',
      '-c:v',
      'libx265',
      '-preset',
      'ultrafast',
      '-crf',
      String(input.crf ?? 22),
      '-x265-params',
      'keyint=1:info=0:log-level=none:range=full:colorprim=bt709:transfer=iec61966-2-1:colormatrix=bt709',
      '-f',
      'hevc',
      'pipe:1',
    ],
    { input: input.rgb, encoding: 'buffer', maxBuffer: 1 << 28 },
  );
  const units = splitUnits(Buffer.from(stdout));
  const typeOf = (unit: Buffer) => ((unit[0] ?? 0) >> 1) & 0x3f;
  const parameterSets = [32, 33, 34].map((type) => units.filter((unit) => typeOf(unit) === type));
  const slices = units.filter((unit) => typeOf(unit) <= 21);
  const picture = Buffer.concat(slices.flatMap((unit) => [u32(unit.length), unit]));
  const exif = input.exif ? Buffer.concat([u32(0), input.exif]) : null;
  const ftyp = box('ftyp', ascii('heic'), u32(0), ascii('mif1'), ascii('heic'));
  const buildMeta = (mdatAt: number) => {
    const items: [number, number, number][] = [[1, mdatAt, picture.length]];
    if (exif) items.push([2, mdatAt + picture.length, exif.length]);
    const iloc = fullBox(
      'iloc',
      0,
      0,
      u8(0x44),
      u8(0),
      u16(items.length),
      ...items.flatMap(([id, at, length]) => [u16(id), u16(0), u16(1), u32(at), u32(length)]),
    );
    const infe = (id: number, type: string) => fullBox('infe', 2, 0, u16(id), u16(0), ascii(type), u8(0));
    const iinf = fullBox(
      'iinf',
      0,
      0,
      u16(items.length),
      infe(1, 'hvc1'),
      ...(exif ? [infe(2, 'Exif')] : []),
    );
    const iref = exif ? [fullBox('iref', 0, 0, box('cdsc', u16(2), u16(1), u16(1)))] : [];
    const ipco = box(
      'ipco',
      buildHvcC(parameterSets),
      fullBox('ispe', 0, 0, u32(input.widthPx), u32(input.heightPx)),
      box('colr', ascii('nclx'), u16(1), u16(13), u16(1), u8(0x80)),
      fullBox('pixi', 0, 0, u8(3), u8(8), u8(8), u8(8)),
    );
    const ipma = fullBox('ipma', 0, 0, u32(1), u16(1), u8(4), u8(0x81), u8(2), u8(3), u8(4));
    const hdlr = fullBox('hdlr', 0, 0, u32(0), ascii('pict'), u32(0), u32(0), u32(0), u8(0));
    return fullBox(
      'meta',
      0,
      0,
      hdlr,
      fullBox('pitm', 0, 0, u16(1)),
      iloc,
      iinf,
      ...iref,
      box('iprp', ipco, ipma),
    );
  };
  const mdatAt = ftyp.length + buildMeta(0).length + 8;
  return Buffer.concat([ftyp, buildMeta(mdatAt), box('mdat', picture, ...(exif ? [exif] : []))]);
}

/**
 * HEVC decoder configuration (ISO/IEC 14496-15 8.3.3.1); profile and level are read from the sequence
 * parameter set.
 */
function buildHvcC(parameterSets: readonly Buffer[][]): Buffer {
  const sps = unescape(parameterSets[1]?.[0] ?? Buffer.alloc(0));
  const profileTierLevel = sps.subarray(3, 15);
  const arrays = parameterSets.flatMap((units, index) => [
    u8(0x80 | (32 + index)),
    u16(units.length),
    ...units.flatMap((unit) => [u16(unit.length), unit]),
  ]);
  return box(
    'hvcC',
    u8(1),
    profileTierLevel,
    u16(0xf000),
    u8(0xfc),
    u8(0xfd),
    u8(0xf8),
    u8(0xf8),
    u16(0),
    u8(0x0f),
    u8(3),
    ...arrays,
  );
}

function splitUnits(stream: Buffer): Buffer[] {
  const units: Buffer[] = [];
  let start = -1;
  for (let at = 0; at + 3 <= stream.length; at += 1) {
    if (stream[at] === 0 && stream[at + 1] === 0 && stream[at + 2] === 1) {
      if (start >= 0) units.push(stream.subarray(start, at > 0 && stream[at - 1] === 0 ? at - 1 : at));
      start = at + 3;
      at += 2;
    }
  }
  if (start >= 0) units.push(stream.subarray(start));
  return units;
}

/** Takes out emulation prevention bytes (ITU-T H.265 7.4.2). */
function unescape(unit: Buffer): Buffer {
  const bytes: number[] = [];
  for (let at = 0; at < unit.length; at += 1) {
    if (at >= 2 && unit[at] === 3 && unit[at - 1] === 0 && unit[at - 2] === 0) continue;
    bytes.push(unit[at] ?? 0);
  }
  return Buffer.from(bytes);
}

/** A small TIFF block: when it was taken, the camera's serial number and, if asked, where (CIPA DC-008). */
export function buildExif(options: {
  takenAt: string;
  serial: string;
  place: readonly [number, number] | null;
}): Buffer {
  const text = (value: string) => Buffer.from(`${value}\0`, 'latin1');
  const heap: Buffer[] = [];
  let heapAt = 0;
  const put = (bytes: Buffer) => {
    const at = heapAt;
    heap.push(bytes);
    heapAt += bytes.length;
    return at;
  };
  const rational = (degrees: number) => {
    const whole = Math.floor(Math.abs(degrees));
    const minutes = Math.floor((Math.abs(degrees) - whole) * 60);
    return Buffer.concat([u32(whole), u32(1), u32(minutes), u32(1), u32(0), u32(1)]);
  };
  const entry = (tag: number, type: number, count: number, value: Buffer) =>
    Buffer.concat([u16(tag), u16(type), u32(count), value]);
  const ifd = (entries: Buffer[]) => Buffer.concat([u16(entries.length), ...entries, u32(0)]);
  const sizes = {
    main: 2 + 12 * (options.place ? 2 : 1) + 4,
    exif: 2 + 24 + 4,
    gps: options.place ? 2 + 48 + 4 : 0,
  };
  const exifAt = 8 + sizes.main;
  const gpsAt = exifAt + sizes.exif;
  heapAt = gpsAt + sizes.gps;
  const taken = text(options.takenAt);
  const serial = text(options.serial);
  const exif = ifd([
    entry(0x9003, 2, taken.length, u32(put(taken))),
    entry(0xa431, 2, serial.length, u32(put(serial))),
  ]);
  const gps = options.place
    ? ifd([
        entry(1, 2, 2, ascii(options.place[0] < 0 ? 'S\0\0\0' : 'N\0\0\0')),
        entry(2, 5, 3, u32(put(rational(options.place[0])))),
        entry(3, 2, 2, ascii(options.place[1] < 0 ? 'W\0\0\0' : 'E\0\0\0')),
        entry(4, 5, 3, u32(put(rational(options.place[1])))),
      ])
    : Buffer.alloc(0);
  const main = ifd([
    entry(0x8769, 4, 1, u32(exifAt)),
    ...(options.place ? [entry(0x8825, 4, 1, u32(gpsAt))] : []),
  ]);
  return Buffer.concat([ascii('MM'), u16(42), u32(8), main, exif, gps, ...heap]);
}
