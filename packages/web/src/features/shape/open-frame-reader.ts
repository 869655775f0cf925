import { CustomSource, EncodedPacketSink, Input, MATROSKA, MP4, QTFF, WEBM } from 'mediabunny';
import { openBlocks } from './open-blocks.ts';

export interface FrameReader {
  /**
   * The frame that is on screen at an instant, in µs, to be closed by whoever gets it; null where another one
   * was asked for meanwhile, or where it cannot be read.
   */
  readonly read: (instantUs: number) => Promise<VideoFrame | null>;
  readonly close: () => void;
}

/** What browsers play, an editing copy or a recording itself. */
const FORMATS = [MP4, QTFF, WEBM, MATROSKA];

/**
 * Reads single frames of a film, from the key frame before them on: sooner than a media element, which
 * fills its buffers first. Null where the browser has no decoder for it.
 */
export async function openFrameReader(url: string): Promise<FrameReader | null> {
  if (typeof VideoDecoder === 'undefined') return null;
  const input = new Input({ formats: FORMATS, source: new CustomSource(openBlocks(url)) });
  const track = await input.getPrimaryVideoTrack();
  const config = track && (await track.canDecode()) ? await track.getDecoderConfig() : null;
  if (!track || !config) {
    input.dispose();
    return null;
  }
  const sink = new EncodedPacketSink(track);
  let [wantedUs, found] = [-1, null as VideoFrame | null];
  const decoder = new VideoDecoder({
    output: (frame) => {
      if (frame.timestamp !== wantedUs) return frame.close();
      found?.close();
      found = frame;
    },
    // It is closed then, and answers with nothing from there on.
    error: () => undefined,
  });
  const begin = () => decoder.configure({ ...config, optimizeForLatency: true });
  begin();

  async function decode(instantUs: number, isWanted: () => boolean): Promise<VideoFrame | null> {
    const target = await sink.getPacket(instantUs / 1e6, { metadataOnly: true });
    let packet = target && (await sink.getKeyPacket(instantUs / 1e6));
    if (!target || !isWanted() || decoder.state !== 'configured') return null;
    wantedUs = target.microsecondTimestamp;
    while (packet && packet.sequenceNumber <= target.sequenceNumber) {
      decoder.decode(packet.toEncodedVideoChunk());
      if (packet.sequenceNumber === target.sequenceNumber) break;
      packet = await sink.getNextPacket(packet);
      if (isWanted()) continue;
      // Another one is waited for: what is on its way is left, and nothing of it comes out.
      if (decoder.state === 'configured') {
        decoder.reset();
        begin();
      }
      return null;
    }
    await decoder.flush();
    const frame = found;
    found = null;
    return frame;
  }

  let asked = 0;
  let last: Promise<unknown> = Promise.resolve();
  return {
    read: (instantUs) => {
      asked += 1;
      const own = asked;
      const isWanted = () => own === asked;
      const next = last.then(() => (isWanted() ? decode(instantUs, isWanted) : null)).catch(() => null);
      last = next;
      return next;
    },
    close: () => {
      asked += 1;
      found?.close();
      if (decoder.state !== 'closed') decoder.close();
      input.dispose();
    },
  };
}
