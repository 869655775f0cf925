import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';

/** Opens the recogniser of printed English; whoever opens it ends it by `terminate()`. */
export async function openRecogniser() {
  const { createWorker } = await import('tesseract.js');
  const data = createRequire(import.meta.url).resolve('@tesseract.js-data/eng/package.json');
  return createWorker('eng', 1, {
    langPath: join(dirname(data), '4.0.0_best_int'),
    cacheMethod: 'none',
    gzip: true,
    // Without it the process ends with whatever goes wrong inside.
    errorHandler: () => undefined,
  });
}
