import exifr from 'exifr';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { buildXmp, readAbout, tellInJpeg } from './tell-about.ts';

const about = { title: 'Zoë’s <lino> & "cut"', artist: 'Ineke Varga', rights: '© 2026 Ineke Varga' };
const grey = { create: { width: 20, height: 12, channels: 3, background: '#808080' } } as const;

describe('what a file tells about a piece', () => {
  it('is read by other programs as XMP and as IPTC, and the picture stays', async () => {
    const plain = await sharp(grey).withIccProfile('srgb').jpeg().toBuffer();
    const told = tellInJpeg(plain, about);
    const xmp = (await exifr.parse(told, { xmp: true, tiff: false })) as Record<string, unknown>;
    expect(xmp.creator).toBe(about.artist);
    expect(xmp.rights).toMatchObject({ value: about.rights });
    const iptc = (await exifr.parse(told, { iptc: true, tiff: false, xmp: false })) as Record<string, string>;
    // That reader takes bytes for letters: they are UTF-8, as 1:90 says.
    const utf8 = (text: string) => Buffer.from(text, 'latin1').toString('utf8');
    expect(utf8(iptc.ObjectName ?? '')).toBe(about.title);
    expect(utf8(iptc.Byline ?? '')).toBe(about.artist);
    expect(utf8(iptc.CopyrightNotice ?? '')).toBe(about.rights);
    const points = (bytes: Buffer) => sharp(bytes).raw().toBuffer();
    expect(await points(told)).toEqual(await points(plain));
  });

  it.each(['jpeg', 'png', 'webp', 'tiff'] as const)(
    'comes back from %s as it was written',
    async (format) => {
      const bytes = await sharp(grey).withXmp(buildXmp(about)).toFormat(format).toBuffer();
      expect(readAbout((await sharp(bytes).metadata()).xmp)).toEqual(about);
    },
  );

  it('leaves out what is empty, and cuts IPTC between whole letters', async () => {
    const long = { title: 'é'.repeat(60), artist: '', rights: '' };
    const told = tellInJpeg(await sharp(grey).jpeg().toBuffer(), long);
    expect(readAbout((await sharp(told).metadata()).xmp)).toEqual(long);
    const iptc = (await exifr.parse(told, { iptc: true, tiff: false, xmp: false })) as Record<string, string>;
    expect(Buffer.from(iptc.ObjectName ?? '', 'latin1').toString('utf8')).toBe('é'.repeat(32));
    expect(iptc.Byline).toBeUndefined();
  });

  it('is nothing where a packet tells nothing, or is no packet', () => {
    expect(readAbout(undefined)).toBeUndefined();
    expect(readAbout(Buffer.from('<dc:title><rdf:Alt></rdf:Alt></dc:title>'))).toBeUndefined();
    expect(readAbout(Buffer.from('\xff\x00<dc:title>&#x999999;'))).toBeUndefined();
  });
});
