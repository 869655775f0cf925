import { createReadStream, createWriteStream } from 'node:fs';
import { rename } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { findNested, readTopBox, type Box } from '../inspect/boxes.ts';

/** H.264 parameter sets as an `avcC` box holds them (ISO/IEC 14496-15 5.3.3.1). */
interface ParameterSets {
  /** Everything before the sets: version, profile, compatibility, level, length size. */
  readonly head: Buffer;
  readonly sps: readonly Buffer[];
  readonly pps: readonly Buffer[];
  /** What High profile says after the sets. */
  readonly tail: Buffer;
}

const PATH = ['moov', 'trak', 'mdia', 'minf', 'stbl', 'stsd', 'avc1', 'avcC'] as const;

/**
 * Writes the parameter sets of other files into the header of a joined MP4 or MOV, so that decoders that look
 * for them only there find those of every piece. The index has to stand first. Throws a `TypeError` where the
 * boxes are not as they should be.
 */
export async function mergeParameterSets(path: string, piecePaths: readonly string[]): Promise<void> {
  const moov = await readMoov(path);
  const chain = findChain(moov.bytes);
  const own = parseAvcC(moov.bytes.subarray(chain.avcC.at + 8, chain.avcC.at + chain.avcC.size));
  const sets = [
    own,
    ...(await Promise.all(
      piecePaths.map(async (piece) => {
        const { bytes } = await readMoov(piece);
        const { avcC } = findChain(bytes);
        return parseAvcC(bytes.subarray(avcC.at + 8, avcC.at + avcC.size));
      }),
    )),
  ];
  const unique = (all: readonly Buffer[]) =>
    all.filter((nal, index) => all.findIndex((other) => other.equals(nal)) === index);
  const merged = writeAvcC({
    head: own.head,
    tail: own.tail,
    sps: unique(sets.flatMap((each) => each.sps)),
    pps: unique(sets.flatMap((each) => each.pps)),
  });
  const delta = merged.length + 8 - chain.avcC.size;
  if (delta === 0) return;
  const before = Buffer.from(moov.bytes.subarray(0, chain.avcC.at));
  const box = Buffer.alloc(8);
  box.writeUInt32BE(merged.length + 8, 0);
  box.write('avcC', 4, 'latin1');
  const patched = Buffer.concat([before, box, merged, moov.bytes.subarray(chain.avcC.at + chain.avcC.size)]);
  for (const name of PATH.slice(0, -1)) patched.writeUInt32BE(chain[name].size + delta, chain[name].at);
  moveChunks(patched, delta);
  await writePatched(path, moov.at, moov.bytes.length, patched);
}

async function readMoov(path: string): Promise<{ readonly at: number; readonly bytes: Buffer }> {
  const moov = await readTopBox(path, 'moov');
  if (!moov) throw new TypeError('There is no index.');
  return moov;
}

/** Where the boxes from `moov` down to the first `avcC` lie within the bytes of `moov`. */
function findChain(moov: Buffer): Record<(typeof PATH)[number], Pick<Box, 'at' | 'size'>> {
  const found = findNested(moov, PATH);
  if (!found) throw new TypeError('There is no H.264 track.');
  return Object.fromEntries(PATH.map((name, index) => [name, found[index]])) as ReturnType<typeof findChain>;
}

export function parseAvcC(bytes: Buffer): ParameterSets {
  let at = 6;
  const read = (count: number) =>
    Array.from({ length: count }, () => {
      const length = bytes.readUInt16BE(at);
      const nal = bytes.subarray(at + 2, at + 2 + length);
      at += 2 + length;
      return nal;
    });
  const sps = read((bytes[5] ?? 0) & 31);
  const count = bytes[at] ?? 0;
  at += 1;
  const pps = read(count);
  return { head: bytes.subarray(0, 5), sps, pps, tail: bytes.subarray(at) };
}

export function writeAvcC(sets: ParameterSets): Buffer {
  const write = (nals: readonly Buffer[]) =>
    nals.flatMap((nal) => [Buffer.from([nal.length >> 8, nal.length & 255]), nal]);
  return Buffer.concat([
    sets.head,
    Buffer.from([0xe0 | sets.sps.length]),
    ...write(sets.sps),
    Buffer.from([sets.pps.length]),
    ...write(sets.pps),
    sets.tail,
  ]);
}

/** Chunk offsets count from the start of the file: all media lie behind the index and move with it. */
function moveChunks(moov: Buffer, delta: number): void {
  const walk = (from: number, to: number): void => {
    for (let at = from; at + 8 <= to;) {
      const size = moov.readUInt32BE(at);
      if (size < 8) return;
      const type = moov.toString('latin1', at + 4, at + 8);
      if (type === 'trak' || type === 'mdia' || type === 'minf' || type === 'stbl') walk(at + 8, at + size);
      const count = type === 'stco' || type === 'co64' ? moov.readUInt32BE(at + 12) : 0;
      for (let index = 0; index < count; index += 1) {
        if (type === 'stco')
          moov.writeUInt32BE(moov.readUInt32BE(at + 16 + index * 4) + delta, at + 16 + index * 4);
        else
          moov.writeBigUInt64BE(
            moov.readBigUInt64BE(at + 16 + index * 8) + BigInt(delta),
            at + 16 + index * 8,
          );
      }
      at += size;
    }
  };
  walk(8, moov.length);
}

async function writePatched(path: string, moovAt: number, moovSize: number, moov: Buffer): Promise<void> {
  const target = `${path}.patched`;
  const output = createWriteStream(target);
  if (moovAt > 0) await pipeline(createReadStream(path, { end: moovAt - 1 }), output, { end: false });
  output.write(moov);
  await pipeline(createReadStream(path, { start: moovAt + moovSize }), output);
  await rename(target, path);
}
