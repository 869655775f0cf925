import { MOST_ABOUT_SIGNS, type About } from '@apodix/core';

/** By what readers know the segments: as ISO 16684-3 and IPTC-NAA IIM (in APP13) want them, byte for byte. */
const XMP_NAME = Buffer.from('687474703a2f2f6e732e61646f62652e636f6d2f7861702f312e302f00', 'hex');
const IPTC_NAME = Buffer.from('50686f746f73686f7020332e3000', 'hex');
/** Bytes that IPTC's fields hold (IPTC-NAA IIM 4.2, 2:05, 2:80 and 2:116). */
const FIELDS = [
  { name: 'title', dataset: 5, most: 64 },
  { name: 'artist', dataset: 80, most: 32 },
  { name: 'rights', dataset: 116, most: 128 },
] as const;

const escapeXml = (text: string) =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');

/** Title, artist and rights as an XMP packet (ISO 16684-1): `dc:title`, `dc:creator`, `dc:rights`. */
export function buildXmp({ title, artist, rights }: About): string {
  const language = (name: string, text: string) =>
    text.trim() === ''
      ? ''
      : `<dc:${name}><rdf:Alt><rdf:li xml:lang="x-default">${escapeXml(text.trim())}</rdf:li></rdf:Alt></dc:${name}>`;
  const creator =
    artist.trim() === ''
      ? ''
      : `<dc:creator><rdf:Seq><rdf:li>${escapeXml(artist.trim())}</rdf:li></rdf:Seq></dc:creator>`;
  return (
    '<?xpacket begin="\uFEFF" id="W5M0MpCehiHzreSzNTczkc9d"?>' +
    '<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">' +
    '<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/">' +
    `${language('title', title)}${creator}${language('rights', rights)}` +
    '</rdf:Description></rdf:RDF><?xpacket end="r"?>'
  );
}

/** As many whole letters of a text as so many bytes of UTF-8 hold. */
function holdBytes(text: string, most: number): Buffer {
  let held = '';
  for (const letter of text) {
    if (Buffer.byteLength(held + letter) > most) break;
    held += letter;
  }
  return Buffer.from(held);
}

function buildDataset(record: number, dataset: number, value: Buffer): Buffer {
  const head = Buffer.from([0x1c, record, dataset, 0, 0]);
  head.writeUInt16BE(value.length, 3);
  return Buffer.concat([head, value]);
}

/** The same as IPTC (IIM 4.2) inside an image resource: for programs that do not read XMP. */
function buildIptc(about: About): Buffer {
  // 1:90 says that letters are UTF-8.
  const sets = [
    buildDataset(1, 90, Buffer.from([0x1b, 0x25, 0x47])),
    buildDataset(2, 0, Buffer.from([0, 4])),
  ];
  for (const { name, dataset, most } of FIELDS) {
    const value = holdBytes(about[name].trim(), most);
    if (value.length > 0) sets.push(buildDataset(2, dataset, value));
  }
  const data = Buffer.concat(sets);
  const head = Buffer.from([0x38, 0x42, 0x49, 0x4d, 0x04, 0x04, 0, 0, 0, 0, 0, 0]);
  head.writeUInt32BE(data.length, 8);
  return Buffer.concat([head, data, Buffer.alloc(data.length % 2)]);
}

function buildSegment(marker: number, name: Buffer, body: Buffer): Buffer {
  const content = Buffer.concat([name, body]);
  const head = Buffer.from([0xff, marker, 0, 0]);
  head.writeUInt16BE(content.length + 2, 2);
  return Buffer.concat([head, content]);
}

/** A JPEG that tells about the piece, as XMP (APP1) and IPTC (APP13), behind its JFIF segment. */
export function tellInJpeg(jpeg: Uint8Array, about: About): Buffer {
  const hasJfif = jpeg[2] === 0xff && jpeg[3] === 0xe0;
  const at = hasJfif ? 4 + (((jpeg[4] ?? 0) << 8) | (jpeg[5] ?? 0)) : 2;
  return Buffer.concat([
    jpeg.subarray(0, at),
    buildSegment(0xe1, XMP_NAME, Buffer.from(buildXmp(about))),
    buildSegment(0xed, IPTC_NAME, buildIptc(about)),
    jpeg.subarray(at),
  ]);
}

const unescapeXml = (text: string) =>
  text
    .replaceAll('&lt;', '<')
    .replaceAll('&gt;', '>')
    .replaceAll('&quot;', '"')
    .replaceAll('&apos;', "'")
    .replace(/&#(x?)([0-9a-f]{1,6});/gi, (whole, isHex: string, digits: string) => {
      const code = parseInt(digits, isHex ? 16 : 10);
      return code <= 0x10_ff_ff ? String.fromCodePoint(code) : whole;
    })
    .replaceAll('&amp;', '&');

/** What an XMP packet tells about the piece; undefined where it tells nothing. */
export function readAbout(xmp: Buffer | undefined): About | undefined {
  const text = xmp?.toString('utf8') ?? '';
  const read = (name: string) => {
    const whole = new RegExp(`<dc:${name}\\b[^>]*>([\\s\\S]*?)</dc:${name}>`).exec(text)?.[1] ?? '';
    const item = /<rdf:li\b[^>]*>([\s\S]*?)<\/rdf:li>/.exec(whole)?.[1] ?? '';
    return unescapeXml(item).trim().slice(0, MOST_ABOUT_SIGNS);
  };
  const about = { title: read('title'), artist: read('creator'), rights: read('rights') };
  return Object.values(about).some((each) => each !== '') ? about : undefined;
}
