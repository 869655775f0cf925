import type { SoundPeaks } from '@apodix/core';
import { createReadStream } from 'node:fs';

export const PEAK_RATE_HZ = 8000;
const COLUMNS_PER_SECOND = 20;

/**
 * Reads mono 16-bit samples at 8 kHz from a file and keeps the highest absolute value of each twentieth of a
 * second.
 */
export async function readPeaks(pcmPath: string): Promise<SoundPeaks> {
  const samplesPerColumn = PEAK_RATE_HZ / COLUMNS_PER_SECOND;
  const peaks: number[] = [];
  let highest = 0;
  let inColumn = 0;
  let rest: Buffer = Buffer.alloc(0);
  for await (const chunk of createReadStream(pcmPath) as AsyncIterable<Buffer>) {
    const bytes = rest.length ? Buffer.concat([rest, chunk]) : chunk;
    const even = bytes.length - (bytes.length % 2);
    for (let at = 0; at < even; at += 2) {
      highest = Math.max(highest, Math.abs(bytes.readInt16LE(at)));
      inColumn += 1;
      if (inColumn === samplesPerColumn) {
        peaks.push(roundPeak(highest));
        highest = 0;
        inColumn = 0;
      }
    }
    rest = bytes.subarray(even);
  }
  if (inColumn > 0) peaks.push(roundPeak(highest));
  return { columnsPerSecond: COLUMNS_PER_SECOND, peaks };
}

function roundPeak(highest: number): number {
  return Math.min(1, Math.round((highest / 32_768) * 10_000) / 10_000);
}
