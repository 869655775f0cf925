import { describe, expect, it } from 'vitest';
import { containerTable, ContainerId, parseContainerName } from './containers.ts';
import { sniffContainer } from './sniff.ts';

const bytes = (...parts: (string | number[])[]) =>
  Uint8Array.from(
    parts.flatMap((part) => (typeof part === 'string' ? [...part].map((sign) => sign.charCodeAt(0)) : part)),
  );
const pad = (head: Uint8Array) => Uint8Array.from([...head, ...new Array<number>(400).fill(0)]);
const ftyp = (brand: string, compatible = '') =>
  pad(bytes([0, 0, 0, 16 + compatible.length], 'ftyp', brand, [0, 0, 0, 0], compatible));

describe('sniffContainer', () => {
  it.each([
    ['mp4', ftyp('isom', 'isomavc1')],
    ['mp4', ftyp('mp42')],
    ['mov', ftyp('qt  ')],
    ['m4a', ftyp('M4A ')],
    ['heic', ftyp('heic')],
    ['heic', ftyp('mif1', 'mif1heic')],
    ['avif', ftyp('avif')],
    ['avif', ftyp('mif1', 'mif1avif')],
    ['mov', pad(bytes([0, 0, 0, 8], 'wide', [0, 0, 0, 0], 'mdat'))],
    ['webm', pad(bytes([0x1a, 0x45, 0xdf, 0xa3, 0x9f, 0x42, 0x82, 0x84], 'webm'))],
    ['mkv', pad(bytes([0x1a, 0x45, 0xdf, 0xa3, 0x42, 0x82, 0x88], 'matroska'))],
    ['jpeg', pad(bytes([0xff, 0xd8, 0xff, 0xe1]))],
    ['png', pad(bytes([0x89], 'PNG\r\n', [0x1a, 0x0a]))],
    ['wav', pad(bytes('RIFF', [1, 2, 3, 4], 'WAVE'))],
    ['avi', pad(bytes('RIFF', [1, 2, 3, 4], 'AVI '))],
    ['webp', pad(bytes('RIFF', [1, 2, 3, 4], 'WEBP'))],
    ['flac', pad(bytes('fLaC'))],
    ['ogg', pad(bytes('OggS'))],
    ['mp3', pad(bytes('ID3'))],
    ['mp3', pad(bytes([0xff, 0xfb, 0x90, 0x44]))],
    ['aac', pad(bytes([0xff, 0xf1, 0x50, 0x80]))],
    ['tiff', pad(bytes([0x49, 0x49, 0x2a, 0]))],
    ['gif', pad(bytes('GIF89a'))],
    ['bmp', pad(Uint8Array.of(...bytes('BM'), 54, 16, 0, 0, 0, 0, 0, 0, 54, 0, 0, 0, 40, 0, 0, 0))],
    ['mpegps', pad(Uint8Array.of(0, 0, 1, 0xba, 0x44))],
    ['pdf', pad(bytes('%PDF-1.7'))],
  ] as const)('knows %s by its bytes', (container, head) =>
    expect(sniffContainer(head)).toEqual({ found: container }),
  );

  it.each([
    ['empty', new Uint8Array()],
    ['text', bytes('Dear teacher, here is my video.')],
    ['playlist', bytes('#EXTM3U\nhttp://host/a.ts')],
    ['playlist', bytes('ffconcat version 1.0\nfile secret.txt')],
    ['playlist', bytes("file '/etc/passwd'\n")],
    ['playlist', bytes('<?xml version="1.0"?><MPD></MPD>')],
    ['text', bytes('<svg xmlns="http://www.w3.org/2000/svg"><!ENTITY x SYSTEM "file:///etc/passwd"></svg>')],
    ['unknown', bytes([0, 1, 2, 3, 4, 5, 6, 7, 8])],
  ] as const)('tells %s from media', (reason, head) =>
    expect(sniffContainer(head)).toEqual({ found: null, reason }),
  );
});

describe('containers', () => {
  it('every container is found by its label and by each of its endings', () => {
    for (const id of ContainerId.options)
      for (const name of [
        containerTable[id].label,
        ...containerTable[id].endings.map((ending) => `.${ending}`),
      ])
        expect(containerTable[parseContainerName(name) ?? 'pdf'].mimeType).toBe(containerTable[id].mimeType);
  });
});
