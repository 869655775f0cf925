import type { Plugin } from 'vite';
import { buildVisionFiles } from './build-vision-files.ts';

/** Where the pages find the files; the version stands in it, so that they can be kept by browsers. */
export const VISION_PATH = 'assets/vision-0.10.35';

/** Puts the finder's files beside the built pages, and serves them while developing. */
export function visionFiles(modulesFolder: string): Plugin {
  return {
    name: 'vision-files',
    generateBundle() {
      for (const [name, source] of Object.entries(buildVisionFiles(modulesFolder)))
        this.emitFile({ type: 'asset', fileName: `${VISION_PATH}/${name}`, source });
    },
    configureServer(server) {
      let files: Record<string, Uint8Array> | null = null;
      server.middlewares.use(`/${VISION_PATH}`, (request, response, next) => {
        files ??= buildVisionFiles(modulesFolder);
        const name = (request.url ?? '').slice(1);
        const file = files[name];
        if (!file) return next();
        response.setHeader(
          'content-type',
          name.endsWith('.js') ? 'text/javascript' : 'application/octet-stream',
        );
        response.end(file);
      });
    },
  };
}
