import {
  ApodixError,
  findTarget,
  isFromScreen,
  measureBlur,
  measureDetailMap,
  measureGlare,
  measureLight,
  seeLight,
  SeenTarget,
  seePiece,
  seesPerson,
  type LumaPicture,
  type Corners,
  type PhotoFacts,
  type SeenDetail,
  type SeenPiece,
  type RgbPicture,
  type SizePx,
} from '@apodix/core';
import exifr from 'exifr';
import { readFile } from 'node:fs/promises';
import sharp, { type Sharp } from 'sharp';
import type { z } from 'zod';
import { normaliseCaptureTime } from '../process/capture-time.ts';
import { findHeifProfile, findReadable, MOST_PIXELS, openPhoto } from './open-photo.ts';
import { readAbout } from './tell-about.ts';
import type { PhotoInspected } from '../still/photo-request.ts';

/** What is told of the file itself, without a look at what it shows. */
type OwnPhotoFacts = Omit<
  PhotoFacts,
  'piece' | 'light' | 'isFromScreen' | 'target' | 'glareShare' | 'detail'
>;

/** Longer edge of the small picture that a proof rests on. */
const SMALL_EDGE = 96;

/**
 * Measures a photograph: upright size, orientation tag, depth, profile, which private data are inside, and a
 * small picture of it. Decodes it whole.
 */
export async function inspectPhoto(
  path: string,
  container: string,
  wantedSmall: SizePx | null,
): Promise<z.infer<typeof PhotoInspected>> {
  // Loaded only where it is needed: each photograph has a process of its own.
  if (container === 'pdf') return (await import('../document/inspect-pdf.ts')).inspectPdf(path, wantedSmall);
  const { focal, ...told } = await readPrivateFacts(path, container);
  const photo =
    container === 'heic'
      ? await describeHeic(path)
      : await describePicture(await findReadable(path, container), container);
  const small = wantedSmall ?? fitSmall(photo);
  const srgb = await drawWhole(await openPhoto(path, container));
  const looked = await drawLuma(srgb, LOOK_EDGE);
  return {
    // What is looked at for a proof is held against a recording: nothing is proposed for it.
    photo: { ...photo, ...(wantedSmall ? {} : await look(srgb, looked, photo, focal)) },
    document: null,
    ...told,
    blur: measureBlur(looked),
    small: { ...small, rgb: await drawSmall(srgb, small) },
  };
}

async function look(srgb: Buffer, looked: LumaPicture, photo: OwnPhotoFacts, focal: number | null) {
  const colors = await drawLooked(srgb);
  const close = await drawLuma(srgb, DETAIL_EDGE);
  const detail = lookAtDetail(close, colors, photo);
  // Recognising takes seconds: only where something looks like writing.
  const writingWay = detail.writing
    ? await (await import('./recognise-writing.ts')).tellWritingWay(close)
    : undefined;
  return {
    ...lookAtPiece(looked, colors, focal),
    detail,
    ...(writingWay === undefined ? {} : { writingWay }),
  };
}

/** How clear it is part by part, and what there is of grain, writing and points without drawing. */
function lookAtDetail(luma: LumaPicture, colors: RgbPicture, photo: OwnPhotoFacts): SeenDetail {
  const { writing, blursPx, grain, ...map } = measureDetailMap(luma);
  const { burntShare, blackShare } = measureLight(colors);
  const scale = photo.widthPx / luma.widthPx;
  const digits = (value: number) => Number(value.toFixed(2));
  return {
    ...map,
    edgePx: Math.max(luma.widthPx, luma.heightPx),
    blursPx: blursPx.map((blur) => blur && digits(blur)),
    grain: digits(grain),
    writing: writing && {
      strokePx: digits(writing.strokePx * scale),
      heightPx: digits(writing.heightPx * scale),
    },
    burntShare,
    blackShare,
  };
}

/** What a photograph shows, and how that is lit. */
function lookAtPiece(
  luma: LumaPicture,
  colors: RgbPicture,
  focal: number | null,
): Pick<PhotoFacts, 'piece' | 'light' | 'isFromScreen' | 'target' | 'glareShare'> {
  const seen = seePiece(luma, focal);
  const corners = seen?.corners ?? null;
  return {
    piece: seen && { ...seen, isBesideSomebody: seesPerson(colors, seen.corners) },
    isFromScreen: isFromScreen(colors, corners),
    light: seeLight(colors, corners),
    target: seeTarget(colors),
    glareShare: corners ? measureGlare(colors, placeCorners(corners, colors)) : 0,
  };
}

/** Corners in points of a picture. */
const placeCorners = (corners: SeenPiece['corners'], { widthPx, heightPx }: RgbPicture) =>
  corners.map(({ x, y }) => ({ x: x * widthPx, y: y * heightPx })) as unknown as Corners;

function seeTarget(colors: RgbPicture): PhotoFacts['target'] {
  const found = findTarget(colors);
  if (!found) return null;
  const digits = (value: number) => Number(value.toPrecision(5));
  const patches = found.patches.map((patch) => patch && patch.map(digits));
  const parsed = SeenTarget.safeParse({ corners: found.corners, patches });
  return parsed.success ? parsed.data : null;
}

/** Longer edge at which sharpness is judged and a piece is looked for. */
const LOOK_EDGE = 640;
/** Longer edge at which parts are judged: about what a screen shows. */
const DETAIL_EDGE = 1440;

async function drawLuma(srgb: Buffer, edgePx: number): Promise<LumaPicture> {
  const { data, info } = await sharp(srgb, { limitInputPixels: false })
    .resize({ width: edgePx, height: edgePx, fit: 'inside', withoutEnlargement: true })
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { widthPx: info.width, heightPx: info.height, luma: new Uint8Array(data) };
}

async function drawLooked(srgb: Buffer): Promise<RgbPicture> {
  const { data, info } = await sharp(srgb, { limitInputPixels: false })
    .resize({ width: LOOK_EDGE, height: LOOK_EDGE, fit: 'inside', withoutEnlargement: true })
    .toColourspace('srgb')
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { widthPx: info.width, heightPx: info.height, bytes: new Uint8Array(data), bands: 3 };
}

function fitSmall(size: SizePx): SizePx {
  const scale = SMALL_EDGE / Math.max(size.widthPx, size.heightPx);
  const round = (edge: number) => Math.max(2, Math.round(edge * scale));
  return { widthPx: round(size.widthPx), heightPx: round(size.heightPx) };
}

/**
 * The picture as a standard display shows it, on white; packed as little as can be, for it is read at once.
 */
function drawWhole(upright: Sharp): Promise<Buffer> {
  return upright
    .toColourspace('srgb')
    .flatten({ background: '#ffffff' })
    .png({ compressionLevel: 0 })
    .toBuffer();
}

/** A small picture of it. */
async function drawSmall(srgb: Buffer, size: SizePx): Promise<string> {
  const { data } = await sharp(srgb, { limitInputPixels: false })
    .resize({ width: size.widthPx, height: size.heightPx, fit: 'fill', kernel: 'mitchell' })
    .toColourspace('srgb')
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return data.toString('base64');
}

async function describeHeic(path: string): Promise<OwnPhotoFacts> {
  const photo = await openPhoto(path, 'heic');
  const { width, height } = await photo.clone().metadata();
  const profile = findHeifProfile(await readFile(path));
  return {
    codec: 'hevc',
    widthPx: width,
    heightPx: height,
    orientation: 1,
    bitDepth: 8,
    channels: 3,
    hasAlpha: false,
    colorProfile: profile ? readProfileName(profile) : null,
    isProgressive: false,
    frameCount: 1,
  };
}

async function describePicture(path: string | Buffer, container: string): Promise<OwnPhotoFacts> {
  const header = await sharp(path, { limitInputPixels: MOST_PIXELS }).metadata();
  if (header.width * header.height * (header.pages ?? 1) > MOST_PIXELS)
    throw new ApodixError('TOO_MANY_PIXELS');
  const orientation = header.orientation ?? 1;
  const isTurned = orientation >= 5;
  const about = readAbout(header.xmp);
  return {
    ...(about ? { about } : {}),
    codec: header.format === 'heif' ? 'av1' : container === 'bmp' ? 'bmp' : header.format,
    widthPx: isTurned ? header.height : header.width,
    heightPx: isTurned ? header.width : header.height,
    orientation,
    bitDepth: header.depth === 'ushort' ? 16 : header.depth === 'uchar' ? 8 : 32,
    channels: header.channels,
    hasAlpha: header.hasAlpha ?? false,
    colorProfile: header.icc ? readProfileName(header.icc) : null,
    isProgressive: header.isProgressive ?? false,
    frameCount: header.pages ?? 1,
  };
}

interface PrivateFacts {
  readonly captureTime: string | null;
  readonly locationPresent: boolean | null;
  readonly deviceSerialPresent: boolean | null;
  /** How long the lens is, in shares of the longer edge; null where nothing tells. */
  readonly focal: number | null;
}

type Tags = Record<string, unknown>;

/** Kinds of file that exifr reads by itself; of others the Exif block is handed to it. */
const READ_WHOLE = new Set(['jpeg', 'png', 'tiff', 'heic']);

async function readPrivateFacts(path: string, container: string): Promise<PrivateFacts> {
  const options = { tiff: true, exif: true, gps: true, xmp: true, iptc: true, reviveValues: false } as const;
  const parse = async (source: string | Buffer) =>
    ((await exifr.parse(source as never, options)) ?? {}) as Tags;
  try {
    const tags = READ_WHOLE.has(container) ? await parse(path) : await readOtherTags(path, container, parse);
    const names = Object.keys(tags);
    const zone = String(tags.OffsetTimeOriginal ?? tags.OffsetTime ?? '');
    const time = String(tags.DateTimeOriginal ?? tags.CreateDate ?? '');
    return {
      captureTime: normaliseCaptureTime(`${time}${zone}`) ?? normaliseCaptureTime(time),
      locationPresent: names.some((name) => /^(GPS|latitude$|longitude$|City$|Sub-?location)/i.test(name)),
      deviceSerialPresent: names.some(
        (name) => /serial/i.test(name) && String(tags[name] ?? '').trim() !== '',
      ),
      focal: readFocal(tags),
    };
  } catch (error) {
    // A picture without a block that it could be told in holds none; a block that cannot be read may hold
    // anything.
    const isWithout = error instanceof Error && /Unknown file format/i.test(error.message);
    const present = isWithout ? false : null;
    return { captureTime: null, locationPresent: present, deviceSerialPresent: present, focal: null };
  }
}

/** Width of the film that lenses are told by (CIPA DC-008, FocalLengthIn35mmFilm). */
const FILM_MM = 36;

function readFocal(tags: Tags): number | null {
  const mm = Number(tags.FocalLengthIn35mmFormat ?? tags.FocalLengthIn35mmFilm ?? 0);
  return Number.isFinite(mm) && mm >= 8 && mm <= 800 ? mm / FILM_MM : null;
}

/** Tags of WebP, AVIF and GIF: their Exif and XMP blocks as libvips finds them. */
async function readOtherTags(
  path: string,
  container: string,
  parse: (source: Buffer) => Promise<Tags>,
): Promise<Tags> {
  if (container === 'gif' || container === 'bmp') return {};
  const header = await sharp(path, { limitInputPixels: MOST_PIXELS }).metadata();
  const xmp = header.xmp?.toString('utf8') ?? '';
  const hasPlace = /GPSLatitude|exif:GPS|Iptc4xmpCore:Location|\w:City\b/i.test(xmp);
  const told: Tags = {
    ...(hasPlace ? { GPSLatitude: 1 } : {}),
    ...(/SerialNumber/i.test(xmp) ? { SerialNumber: 'there' } : {}),
  };
  if (!header.exif) return told;
  const isMarked = header.exif.subarray(0, 4).toString('latin1') === 'Exif';
  return { ...(await parse(isMarked ? header.exif.subarray(6) : header.exif)), ...told };
}

/**
 * The description (`desc`) of an ICC profile, v2 or v4 (ICC.1:2022 9.2.41); `unnamed` where it cannot be
 * read.
 */
export function readProfileName(profile: Buffer): string {
  const count = profile.length > 132 ? Math.min(64, profile.readUInt32BE(128)) : 0;
  for (let index = 0; index < count; index += 1) {
    const at = 132 + index * 12;
    if (at + 12 > profile.length || profile.toString('latin1', at, at + 4) !== 'desc') continue;
    const offset = profile.readUInt32BE(at + 4);
    const body = profile.subarray(offset, offset + profile.readUInt32BE(at + 8));
    if (body.toString('latin1', 0, 4) === 'mluc' && body.length >= 28) {
      const from = body.readUInt32BE(24);
      const text = Buffer.from(body.subarray(from, from + body.readUInt32BE(20)));
      return text.swap16().toString('utf16le').replace(/\0+$/, '');
    }
    if (body.length > 12) return body.toString('latin1', 12, 12 + Math.max(0, body.readUInt32BE(8) - 1));
  }
  return 'unnamed';
}
