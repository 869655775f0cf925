/** The SHA-256 of a file in hexadecimal digits, worked out in a worker; rejects where it cannot be read. */
export function hashFile(file: File): Promise<string> {
  const worker = new Worker(new URL('./hash.worker.ts', import.meta.url), { type: 'module' });
  return new Promise<string>((done, fail) => {
    worker.onmessage = ({ data }: MessageEvent<{ sha256?: string; fault?: string }>) =>
      data.sha256 === undefined ? fail(new Error(data.fault)) : done(data.sha256);
    worker.onerror = (event) => fail(new Error(event.message));
    worker.postMessage(file);
  }).finally(() => worker.terminate());
}
