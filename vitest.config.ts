import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';
import vuetify from 'vite-plugin-vuetify';

const fromSource = {
  resolve: { conditions: ['source'] },
  ssr: { resolve: { conditions: ['source', 'node'] } },
};

export default defineConfig({
  test: {
    projects: [
      {
        ...fromSource,
        test: {
          name: 'node',
          // Nothing in these rooms is kept between files: what one has loaded serves the next.
          isolate: false,
          environment: 'node',
          include: [
            'packages/{core,engine,server,course-site,demo}/src/**/*.test.ts',
            'scripts/**/*.test.ts',
            'tests/reading/**/*.test.ts',
          ],
          testTimeout: 120_000,
          hookTimeout: 120_000,
          maxWorkers: 2,
        },
      },
      {
        // What is built, as it runs for people: children that start from sources take four times as long.
        test: {
          name: 'integration',
          environment: 'node',
          include: ['tests/integration/**/*.test.ts'],
          testTimeout: 120_000,
          hookTimeout: 120_000,
          maxWorkers: 2,
        },
      },
      {
        plugins: [vue(), vuetify({ autoImport: true })],
        resolve: { conditions: ['source', 'module', 'browser', 'development|production', 'default'] },
        test: {
          name: 'web',
          environment: 'jsdom',
          include: ['packages/web/src/**/*.test.ts'],
          maxWorkers: 2,
          server: { deps: { inline: ['vuetify'] } },
          setupFiles: ['packages/web/src/test-support/set-up.ts'],
        },
      },
      {
        ...fromSource,
        test: {
          name: 'e2e',
          environment: 'node',
          include: ['tests/e2e/**/*.test.ts'],
          testTimeout: 240_000,
          hookTimeout: 240_000,
          fileParallelism: false,
          maxWorkers: 1,
        },
      },
    ],
  },
});
