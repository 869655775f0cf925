import { stat } from 'node:fs/promises';
import { findNested, readTopBox, readTopBoxes } from './boxes.ts';

/**
 * Whether the index (`moov`) stands before the media (`mdat`) in an ISO base media file (ISO/IEC 14496-12
 * 8.2.1). null where either is missing.
 */
export async function isMoovFirst(path: string): Promise<boolean | null> {
  const boxes = await readTopBoxes(path);
  const moov = boxes.find((box) => box.type === 'moov');
  const mdat = boxes.find((box) => box.type === 'mdat');
  return moov && mdat ? moov.at < mdat.at : null;
}

/** Bytes of the media samples of an ISO base media file: its `mdat` boxes without their headers. */
export async function measureMdatBytes(path: string): Promise<number> {
  const boxes = await readTopBoxes(path);
  return boxes.filter((box) => box.type === 'mdat').reduce((sum, box) => sum + box.size - box.headerSize, 0);
}

/**
 * Bytes of each media sample of a file with one track, in decoding order (`stsz`, ISO/IEC 14496-12 8.7.3.2).
 * Throws a `TypeError` where there is no such table.
 */
export async function readSampleSizes(path: string): Promise<number[]> {
  const moov = await readTopBox(path, 'moov');
  const box = moov && findNested(moov.bytes, SIZES_PATH)?.at(-1);
  const table = box && moov.bytes.subarray(box.at + 8, box.at + box.size);
  if (!table || table.length < 12) throw new TypeError('There is no table of sample sizes.');
  const [same, count] = [table.readUInt32BE(4), table.readUInt32BE(8)];
  if (same === 0 && table.length < 12 + count * 4)
    throw new TypeError('The table of sample sizes is cut off.');
  return Array.from({ length: count }, (_, index) => same || table.readUInt32BE(12 + index * 4));
}
const SIZES_PATH = ['moov', 'trak', 'mdia', 'minf', 'stbl', 'stsz'] as const;

/** Whether a file has an index and samples, and every box of it ends inside the file. */
export async function isMp4Whole(path: string): Promise<boolean> {
  const { size } = await stat(path);
  const boxes = await readTopBoxes(path);
  return (
    ['moov', 'mdat'].every((type) => boxes.some((box) => box.type === type)) &&
    boxes.every((box) => box.at + box.size <= size)
  );
}
