/** Element types that a column may have, with the bytes of one element. */
const COLUMN_TYPES = {
  u8: Uint8Array,
  u16: Uint16Array,
  i16: Int16Array,
  i32: Int32Array,
  f32: Float32Array,
  f64: Float64Array,
} as const;
type ColumnType = keyof typeof COLUMN_TYPES;
export type ColumnArray = InstanceType<(typeof COLUMN_TYPES)[ColumnType]>;

/** Columns of numbers by name, with a few plain facts about them. */
export interface SeriesBlob {
  /** What the columns are of, and in which form: `take 1`. */
  readonly format: string;
  readonly facts: Readonly<Record<string, number | string | null>>;
  readonly columns: Readonly<Record<string, ColumnArray>>;
}

interface Header {
  readonly format: string;
  readonly facts: Record<string, number | string | null>;
  readonly columns: readonly { name: string; type: ColumnType; at: number; length: number }[];
}

const MAGIC = 'APXSER01';
const ALIGNMENT = 8;
/** A header longer than this is no header of ours. */
const MOST_HEADER_BYTES = 65_536;

const align = (at: number) => Math.ceil(at / ALIGNMENT) * ALIGNMENT;

/**
 * Writes columns of numbers as one blob: eight letters, the length of the header (32 bits, little endian),
 * the header as JSON, then the columns, each on a multiple of eight bytes, little endian.
 */
export function writeSeries(series: SeriesBlob): Uint8Array {
  const entries = Object.entries(series.columns);
  let at = 0;
  const columns = entries.map(([name, array]) => {
    const column = { name, type: findType(array), at, length: array.length };
    at = align(at + array.byteLength);
    return column;
  });
  const header = new TextEncoder().encode(
    JSON.stringify({ format: series.format, facts: series.facts, columns }),
  );
  const bodyAt = align(MAGIC.length + 4 + header.length);
  const bytes = new Uint8Array(bodyAt + at);
  bytes.set(new TextEncoder().encode(MAGIC));
  new DataView(bytes.buffer).setUint32(MAGIC.length, header.length, true);
  bytes.set(header, MAGIC.length + 4);
  entries.forEach(([, array], index) =>
    bytes.set(
      new Uint8Array(array.buffer, array.byteOffset, array.byteLength),
      bodyAt + (columns[index]?.at ?? 0),
    ),
  );
  return bytes;
}

/** Reads such a blob. Throws a `RangeError` where it is none, cut off, or of another format than wanted. */
export function readSeries(bytes: Uint8Array, format: string): SeriesBlob {
  const decoder = new TextDecoder();
  if (bytes.length < MAGIC.length + 4 || decoder.decode(bytes.subarray(0, MAGIC.length)) !== MAGIC)
    throw new RangeError('This is no series.');
  const headerLength = new DataView(bytes.buffer, bytes.byteOffset).getUint32(MAGIC.length, true);
  const headerAt = MAGIC.length + 4;
  if (headerLength > MOST_HEADER_BYTES || headerAt + headerLength > bytes.length)
    throw new RangeError('The series is cut off.');
  const header = JSON.parse(decoder.decode(bytes.subarray(headerAt, headerAt + headerLength))) as Header;
  if (header.format !== format) throw new RangeError(`The series is of ${header.format}, not of ${format}.`);
  const bodyAt = align(headerAt + headerLength);
  const columns = header.columns.map(({ name, type, at, length }) => {
    const Column = COLUMN_TYPES[type];
    const from = bodyAt + at;
    const size = length * Column.BYTES_PER_ELEMENT;
    if (from + size > bytes.length) throw new RangeError('The series is cut off.');
    // A copy of its own: the bytes may lie on any address, in a buffer that others share.
    const own = new Uint8Array(size);
    own.set(bytes.subarray(from, from + size));
    return [name, new Column(own.buffer)] as const;
  });
  return { format, facts: header.facts, columns: Object.fromEntries(columns) };
}

function findType(array: ColumnArray): ColumnType {
  const found = Object.entries(COLUMN_TYPES).find(([, Column]) => array instanceof Column);
  if (!found) throw new TypeError('No column of a series.');
  return found[0] as ColumnType;
}
