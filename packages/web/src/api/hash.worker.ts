import { createSHA256 } from 'hash-wasm';

const PART_BYTES = 8 * 1024 * 1024;

/** Reads a file part by part; memory stays the same however large it is. */
self.onmessage = async ({ data: file }: MessageEvent<File>) => {
  try {
    const hasher = await createSHA256();
    for (let at = 0; at < file.size; at += PART_BYTES)
      hasher.update(new Uint8Array(await file.slice(at, at + PART_BYTES).arrayBuffer()));
    self.postMessage({ sha256: hasher.digest('hex') });
  } catch (error) {
    self.postMessage({ fault: String(error) });
  }
};
