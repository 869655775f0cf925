import { Builder } from 'flatbuffers';

/*
 * A TensorFlow Lite model is a FlatBuffer: a root table whose fields point forward to what they hold.
 * Metadata (a buffer named TFLITE_METADATA, itself a FlatBuffer) is added without rewriting the model: a new
 * root table is put before it, whose pointers lead to the old parts, and whose lists of buffers and of
 * metadata are the old ones with one more. Format: https://flatbuffers.dev/internals, schema:
 * tensorflow/lite/schema.fbs and tflite_support/metadata_schema.fbs.
 */

/** Fields of the root table `Model`, by their numbers in the schema. */
const FIELD = { version: 0, buffers: 4, metadata: 6 } as const;
const FIELDS = 8;
/** Data of a buffer has to lie on such an address; the model keeps its own. */
const DATA_ALIGN = 16;
const MODEL_ALIGN = 64;
const METADATA_NAME = 'TFLITE_METADATA';

/** How a model wants its picture: (value − mean) / deviation. */
export interface Normalization {
  readonly mean: number;
  readonly deviation: number;
}

/** Metadata that says how the picture is normalized, and nothing else. */
export function buildMetadata({ mean, deviation }: Normalization): Uint8Array {
  const builder = new Builder(256);
  const floats = (value: number) => {
    builder.startVector(4, 1, 4);
    builder.addFloat32(value);
    return builder.endVector();
  };
  const list = (offset: number) => {
    builder.startVector(4, 1, 4);
    builder.addOffset(offset);
    return builder.endVector();
  };
  const [means, deviations] = [floats(mean), floats(deviation)];
  // NormalizationOptions { mean, std }
  builder.startObject(2);
  builder.addFieldOffset(0, means, 0);
  builder.addFieldOffset(1, deviations, 0);
  const normalization = builder.endObject();
  // ProcessUnit { options_type = NormalizationOptions (1), options }
  builder.startObject(2);
  builder.addFieldInt8(0, 1, 0);
  builder.addFieldOffset(1, normalization, 0);
  const units = list(builder.endObject());
  // TensorMetadata { …, process_units (4) }
  builder.startObject(7);
  builder.addFieldOffset(4, units, 0);
  const tensors = list(builder.endObject());
  // SubGraphMetadata { …, input_tensor_metadata (2) }
  builder.startObject(8);
  builder.addFieldOffset(2, tensors, 0);
  const graphs = list(builder.endObject());
  // ModelMetadata { …, subgraph_metadata (3) }
  builder.startObject(8);
  builder.addFieldOffset(3, graphs, 0);
  builder.finish(builder.endObject(), 'M001');
  return builder.asUint8Array();
}

/** What a root table of a model points to; positions in its bytes, 0 for what it does not have. */
class ModelReader {
  readonly #view: DataView;
  readonly #root: number;
  readonly #vtable: number;

  constructor(bytes: Uint8Array) {
    this.#view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    if (String.fromCharCode(...bytes.subarray(4, 8)) !== 'TFL3')
      throw new Error('This is no TensorFlow Lite model.');
    this.#root = this.#view.getUint32(0, true);
    this.#vtable = this.#root - this.#view.getInt32(this.#root, true);
  }
  #fieldAt(field: number): number {
    const length = this.#view.getUint16(this.#vtable, true);
    const at = 4 + 2 * field;
    const offset = at < length ? this.#view.getUint16(this.#vtable + at, true) : 0;
    return offset === 0 ? 0 : this.#root + offset;
  }
  /** The scalar in a field. */
  readUint32(field: number): number {
    const at = this.#fieldAt(field);
    return at === 0 ? 0 : this.#view.getUint32(at, true);
  }
  /** Where a field points to. */
  targetOf(field: number): number {
    const at = this.#fieldAt(field);
    return at === 0 ? 0 : at + this.#view.getUint32(at, true);
  }
  /** Where each item of a list of tables lies. */
  listTables(field: number): number[] {
    const list = this.targetOf(field);
    const count = list === 0 ? 0 : this.#view.getUint32(list, true);
    return Array.from({ length: count }, (_, index) => {
      const at = list + 4 + 4 * index;
      return at + this.#view.getUint32(at, true);
    });
  }
}

/** Writes forward; pointers to parts of the old model are filled in once it is known where that begins. */
class HeadWriter {
  readonly bytes: Uint8Array;
  readonly #view: DataView;
  readonly #toModel: { at: number; target: number }[] = [];
  position = 8;

  constructor(capacity: number) {
    this.bytes = new Uint8Array(capacity);
    this.#view = new DataView(this.bytes.buffer);
  }
  align(to: number): void {
    while (this.position % to !== 0) this.position += 1;
  }
  uint16(value: number): void {
    this.#view.setUint16(this.position, value, true);
    this.position += 2;
  }
  uint32(value: number): void {
    this.#view.setUint32(this.position, value, true);
    this.position += 4;
  }
  /** Leaves room for a pointer and gives its place. */
  slot(): number {
    this.position += 4;
    return this.position - 4;
  }
  point(slot: number, target: number): void {
    this.#view.setUint32(slot, target - slot, true);
  }
  pointToModel(slot: number, target: number): void {
    this.#toModel.push({ at: slot, target });
  }
  /** A table: its list of field positions, then the table itself with so many slots of four bytes. */
  table(slots: readonly (number | null)[]): { at: number; slots: Map<number, number> } {
    this.align(4);
    const vtable = this.position;
    this.uint16(4 + 2 * slots.length);
    this.uint16(4 + 4 * slots.filter((slot) => slot !== null).length);
    const places = new Map<number, number>();
    let next = 4;
    for (const slot of slots) {
      this.uint16(slot === null ? 0 : next);
      if (slot !== null) {
        places.set(slot, next);
        next += 4;
      }
    }
    this.align(4);
    const at = this.position;
    this.#view.setInt32(at, at - vtable, true);
    this.position = at + next;
    return { at, slots: new Map([...places].map(([field, offset]) => [field, at + offset])) };
  }
  data(bytes: Uint8Array): void {
    this.bytes.set(bytes, this.position);
    this.position += bytes.length;
  }
  finish(root: number): Uint8Array {
    this.align(MODEL_ALIGN);
    this.#view.setUint32(0, root, true);
    this.bytes.set(new TextEncoder().encode('TFL3'), 4);
    for (const { at, target } of this.#toModel) this.#view.setUint32(at, target + this.position - at, true);
    return this.bytes.subarray(0, this.position);
  }
}

/** The same model with metadata. Throws for what is no model. */
export function addMetadata(model: Uint8Array, metadata: Uint8Array): Uint8Array {
  const old = new ModelReader(model);
  const [buffers, entries] = [old.listTables(FIELD.buffers), old.listTables(FIELD.metadata)];
  const head = new HeadWriter(4096 + 8 * (buffers.length + entries.length) + metadata.length);
  const isThere = (field: number) =>
    field === FIELD.version ||
    field === FIELD.buffers ||
    field === FIELD.metadata ||
    old.targetOf(field) !== 0;
  const root = head.table(Array.from({ length: FIELDS }, (_, field) => (isThere(field) ? field : null)));
  const slotOf = (field: number) => root.slots.get(field) ?? 0;
  for (let field = 1; field < FIELDS; field += 1)
    if (field !== FIELD.buffers && field !== FIELD.metadata && isThere(field))
      head.pointToModel(slotOf(field), old.targetOf(field));
  new DataView(head.bytes.buffer).setUint32(slotOf(FIELD.version), old.readUint32(FIELD.version), true);

  const extend = (field: number, items: readonly number[]): number => {
    head.align(4);
    head.point(slotOf(field), head.position);
    head.uint32(items.length + 1);
    for (const item of items) head.pointToModel(head.slot(), item);
    return head.slot();
  };
  const newBuffer = extend(FIELD.buffers, buffers);
  const newEntry = extend(FIELD.metadata, entries);

  // Metadata { name, buffer }: the buffer by its number.
  const entry = head.table([0, 1]);
  head.point(newEntry, entry.at);
  new DataView(head.bytes.buffer).setUint32(entry.slots.get(1) ?? 0, buffers.length, true);
  head.point(entry.slots.get(0) ?? 0, head.position);
  head.uint32(METADATA_NAME.length);
  head.data(new TextEncoder().encode(`${METADATA_NAME}\0`));

  const buffer = head.table([0]);
  head.point(newBuffer, buffer.at);
  // The list begins with its length; the bytes after that lie on the wanted address.
  while ((head.position + 4) % DATA_ALIGN !== 0) head.position += 1;
  head.point(buffer.slots.get(0) ?? 0, head.position);
  head.uint32(metadata.length);
  head.data(metadata);
  const start = head.finish(root.at);
  const whole = new Uint8Array(start.length + model.length);
  whole.set(start);
  whole.set(model, start.length);
  return whole;
}
