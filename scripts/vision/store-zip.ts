import { crc32 } from 'node:zlib';

const ALIGN = 64;
const VERSION = 20;
/** 1 January 1980, so that the same files give the same bytes. */
const DOS_DATE = 0x21;

/**
 * Files as a ZIP archive, stored without compression, the bytes of each on an address that a model can be
 * read from in place (APPNOTE.TXT 6.3.10, 4.3.7, 4.3.12 and 4.3.16).
 */
export function storeZip(files: Readonly<Record<string, Uint8Array>>): Uint8Array {
  const parts: Buffer[] = [];
  const directory: Buffer[] = [];
  let offset = 0;
  for (const [path, data] of Object.entries(files)) {
    const name = Buffer.from(path);
    const extra = (ALIGN - ((offset + 30 + name.length) % ALIGN)) % ALIGN;
    const local = Buffer.alloc(30);
    local.writeUInt32LE(0x04034b50, 0);
    writeCommon(local, 4, data, name.length);
    local.writeUInt16LE(extra, 28);
    const central = Buffer.alloc(46);
    central.writeUInt32LE(0x02014b50, 0);
    central.writeUInt16LE(VERSION, 4);
    writeCommon(central, 6, data, name.length);
    central.writeUInt32LE(offset, 42);
    parts.push(local, name, Buffer.alloc(extra), Buffer.from(data));
    directory.push(central, name);
    offset += 30 + name.length + extra + data.length;
  }
  const central = Buffer.concat(directory);
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(directory.length / 2, 8);
  end.writeUInt16LE(directory.length / 2, 10);
  end.writeUInt32LE(central.length, 12);
  end.writeUInt32LE(offset, 16);
  return Buffer.concat([...parts, central, end]);
}

/** What the header of a file and its entry in the directory have in common, from `version needed` on. */
function writeCommon(header: Buffer, at: number, data: Uint8Array, nameLength: number): void {
  header.writeUInt16LE(VERSION, at);
  header.writeUInt16LE(DOS_DATE, at + 8);
  header.writeUInt32LE(crc32(data), at + 10);
  header.writeUInt32LE(data.length, at + 14);
  header.writeUInt32LE(data.length, at + 18);
  header.writeUInt16LE(nameLength, at + 22);
}
