import { ByteBuffer } from 'flatbuffers';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import yauzl from 'yauzl';
import { describe, expect, it } from 'vitest';
import { addMetadata, buildMetadata } from './add-metadata.ts';
import { buildVisionFiles, findPacked } from './build-vision-files.ts';
import { storeZip } from './store-zip.ts';

/** Walks a FlatBuffer by its own library: fields of tables, items of lists. */
class Walker {
  readonly buffer: ByteBuffer;
  constructor(bytes: Uint8Array) {
    this.buffer = new ByteBuffer(bytes);
  }
  get root(): number {
    return this.buffer.readInt32(this.buffer.position()) + this.buffer.position();
  }
  field(table: number, index: number): number {
    const offset = this.buffer.__offset(table, 4 + 2 * index);
    return offset === 0 ? 0 : table + offset;
  }
  target(table: number, index: number): number {
    const at = this.field(table, index);
    return at === 0 ? 0 : this.buffer.__indirect(at);
  }
  count(table: number, index: number): number {
    const list = this.target(table, index);
    return list === 0 ? 0 : this.buffer.readInt32(list);
  }
  item(table: number, index: number, number: number): number {
    return this.buffer.__indirect(this.target(table, index) + 4 + 4 * number);
  }
}
const files = buildVisionFiles('node_modules');

describe('metadata of a model', () => {
  it('is read back by the library, and leaves the model as it was', () => {
    const metadata = buildMetadata({ mean: 127.5, deviation: 64 });
    const model = files['face.tflite'] ?? new Uint8Array();
    const again = addMetadata(model, metadata);
    const [before, after] = [new Walker(model), new Walker(again)];
    const [BUFFERS, METADATA, SUBGRAPHS] = [4, 6, 2];
    expect(after.count(after.root, BUFFERS)).toBe(before.count(before.root, BUFFERS) + 1);
    expect(after.count(after.root, METADATA)).toBe(before.count(before.root, METADATA) + 1);
    expect(after.buffer.readInt32(after.field(after.root, 0))).toBe(3);
    expect(after.count(after.root, SUBGRAPHS)).toBe(before.count(before.root, SUBGRAPHS));
    // The last entry names the last buffer, which holds the bytes.
    const entry = after.item(after.root, METADATA, after.count(after.root, METADATA) - 1);
    expect(after.buffer.__string(after.field(entry, 0))).toBe('TFLITE_METADATA');
    const number = after.buffer.readInt32(after.field(entry, 1));
    expect(number).toBe(after.count(after.root, BUFFERS) - 1);
    const data = after.target(after.item(after.root, BUFFERS, number), 0);
    expect(again.subarray(data + 4, data + 4 + after.buffer.readInt32(data))).toEqual(metadata);
    expect((data + 4) % 16).toBe(0);
  });
  it('says how the picture is normalized', () => {
    const walker = new Walker(buildMetadata({ mean: 127.5, deviation: 64 }));
    const graph = walker.item(walker.root, 3, 0);
    const unit = walker.item(walker.item(graph, 2, 0), 4, 0);
    const options = walker.target(unit, 1);
    const value = (index: number) => walker.buffer.readFloat32(walker.target(options, index) + 4);
    expect([value(0), value(1)]).toEqual([127.5, 64]);
  });
  it('is refused for what is no model', () => {
    expect(() =>
      addMetadata(new TextEncoder().encode('no model at all, but text'), new Uint8Array(4)),
    ).toThrow('no TensorFlow Lite model');
  });
});

describe('a stored archive', () => {
  it('is read by another reader, each file on an address of 64', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'apodix-zip-'));
    const path = join(folder, 'a.zip');
    const [first, second] = [new Uint8Array([1, 2, 3]), new TextEncoder().encode('second')];
    const archive = storeZip({ 'one.bin': first, 'deep/two.txt': second });
    writeFileSync(path, archive);
    const zip = await yauzl.openPromise(path);
    const found: Record<string, string> = {};
    for await (const entry of zip.eachEntry()) {
      const parts: Buffer[] = [];
      for await (const part of await zip.openReadStreamPromise(entry)) parts.push(part as Buffer);
      found[entry.fileName] = Buffer.concat(parts).toString('hex');
    }
    expect(found).toEqual({
      'one.bin': Buffer.from(first).toString('hex'),
      'deep/two.txt': Buffer.from(second).toString('hex'),
    });
    expect(Buffer.from(archive).indexOf(Buffer.from(second)) % 64).toBe(0);
    rmSync(folder, { recursive: true });
  });
});

describe('packed files', () => {
  it('are found by the list of their loader', () => {
    const loader =
      '{"files": [{"filename": "/a/x.tflite", "start": 0, "end": 7}, ' +
      '{"filename": "/b/y.tflite", "start": 7, "end": 9}]}';
    expect(findPacked(loader, 'y.tflite')).toMatchObject({ start: 7, end: 9 });
    expect(() => findPacked(loader, 'z.tflite')).toThrow('no z.tflite');
  });
  it('every file that the pages ask for is there', () => {
    expect(Object.keys(files).sort()).toEqual([
      'face.tflite',
      'hands.task',
      'pose.task',
      'vision.js',
      'vision.wasm',
    ]);
  });
});
