import vue from '@vitejs/plugin-vue';
import { fileURLToPath } from 'node:url';
import { defaultClientConditions, defineConfig } from 'vite';
import vuetify from 'vite-plugin-vuetify';
import { visionFiles } from '../../scripts/vision/vision-plugin.ts';

const modulesFolder = fileURLToPath(new URL('../../node_modules', import.meta.url));

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true }), visionFiles(modulesFolder)],
  resolve: { conditions: ['source', ...defaultClientConditions] },
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 1500 },
  server: { proxy: { '/api': 'http://127.0.0.1:4870' } },
});
