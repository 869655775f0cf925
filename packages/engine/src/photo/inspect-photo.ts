import { ApodixError } from '@apodix/core';
import exifr from 'exifr';
import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import type { z } from 'zod';
import { findHeifProfile, MOST_PIXELS, openPhoto } from './open-photo.ts';
import type { PhotoInspected } from './photo-request.ts';

/** Measures a photograph: upright size, orientation tag, depth, profile, and which private data are inside. Decodes it whole. */
export async function inspectPhoto(path: string, container: string): Promise<z.infer<typeof PhotoInspected>> {
  // Loaded only where it is needed: each photograph has a process of its own.
  if (container === 'pdf') return (await import('../document/inspect-pdf.ts')).inspectPdf(path);
  const privateFacts = await readPrivateFacts(path);
  if (container === 'heic') {
    const photo = await openPhoto(path, container);
    const { width, height } = await photo.clone().metadata();
    const profile = findHeifProfile(await readFile(path));
    return {
      photo: {
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
      },
      ...privateFacts,
    };
  }
  const header = await sharp(path, { limitInputPixels: MOST_PIXELS }).metadata();
  if (header.width * header.height * (header.pages ?? 1) > MOST_PIXELS)
    throw new ApodixError('TOO_MANY_PIXELS');
  await (await openPhoto(path, container)).stats();
  const orientation = header.orientation ?? 1;
  const isTurned = orientation >= 5;
  return {
    photo: {
      codec: header.format === 'heif' ? 'av1' : header.format,
      widthPx: isTurned ? header.height : header.width,
      heightPx: isTurned ? header.width : header.height,
      orientation,
      bitDepth: header.depth === 'ushort' ? 16 : header.depth === 'uchar' ? 8 : 32,
      channels: header.channels,
      hasAlpha: header.hasAlpha ?? false,
      colorProfile: header.icc ? readProfileName(header.icc) : null,
      isProgressive: header.isProgressive ?? false,
      frameCount: header.pages ?? 1,
    },
    ...privateFacts,
  };
}

async function readPrivateFacts(
  path: string,
): Promise<{ captureTime: string | null; locationPresent: boolean; deviceSerialPresent: boolean }> {
  const tags = (await exifr
    .parse(path, { tiff: true, exif: true, gps: true, xmp: true, iptc: true })
    .catch(() => undefined)) as Record<string, unknown> | undefined;
  const names = Object.keys(tags ?? {});
  const time = tags?.DateTimeOriginal ?? tags?.CreateDate;
  return {
    captureTime: time instanceof Date && !Number.isNaN(time.getTime()) ? time.toISOString() : null,
    locationPresent: names.some((name) => /^(GPS|latitude$|longitude$|City$|Sub-?location)/i.test(name)),
    deviceSerialPresent: names.some(
      (name) => /serial/i.test(name) && String(tags?.[name] ?? '').trim() !== '',
    ),
  };
}

/** The description (`desc`) of an ICC profile, v2 or v4 (ICC.1:2022 9.2.41); `unnamed` where it cannot be read. */
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
