import { ApodixError } from '@apodix/core';
import { once } from 'node:events';
import type { Readable, Writable } from 'node:stream';

/** Where frames go: each frame whole, in order. */
export interface FrameSink {
  readonly stream: Writable;
  /** Settles when the receiver has ended, however it did. */
  readonly ended: Promise<unknown>;
}

/** Writes with back pressure; a receiver that is gone is told by how it ended. */
export async function writeToSink(sink: FrameSink, bytes: Uint8Array): Promise<void> {
  if (sink.stream.destroyed || sink.stream.writableEnded) return;
  if (!sink.stream.write(bytes)) await Promise.race([once(sink.stream, 'drain').catch(() => undefined), sink.ended]);
}

/**
 * Hands the frames of a raw picture stream on: for each frame `sinksOf(frame)` tells where its bytes go. The stream has to hold exactly
 * `frameCount` frames of `frameBytes` each; throws `DAMAGED` where it ends before.
 */
export async function feedFrames(source: Readable, frameBytes: number, frameCount: number, sinksOf: (frame: number) => Promise<readonly FrameSink[]>): Promise<void> {
  let frame = 0;
  let inFrame = 0;
  let sinks = await sinksOf(0);
  for await (const raw of source) {
    const chunk = raw as Buffer;
    for (let at = 0; at < chunk.length && frame < frameCount; ) {
      const part = chunk.subarray(at, at + Math.min(chunk.length - at, frameBytes - inFrame));
      for (const sink of sinks) await writeToSink(sink, part);
      at += part.length;
      inFrame += part.length;
      if (inFrame === frameBytes) {
        inFrame = 0;
        frame += 1;
        if (frame < frameCount) sinks = await sinksOf(frame);
      }
    }
  }
  if (frame < frameCount) throw new ApodixError('DAMAGED', { detail: `Only ${frame} of ${frameCount} pictures came out of the recording.` });
}
