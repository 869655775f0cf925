// npm test: the same set-up as npm start plus the browser, then every check, each with its own summary.
import { spawnSync } from 'node:child_process';
import { buildAll } from './build.mjs';
import { checkDisk, checkNode, installPackages, requireProgram, root, say } from './set-up.mjs';
import { join } from 'node:path';

checkNode();
checkDisk(join(root, 'node_modules'));
installPackages();
requireProgram('ffmpeg');
requireProgram('poppler');
requireProgram('chromium');
buildAll();

const checks = [
  ['Form of the lines', ['node_modules/prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.']],
  ['Lint', ['node_modules/eslint/bin/eslint.js', '.']],
  [
    'Imports between rooms',
    [
      'node_modules/dependency-cruiser/bin/dependency-cruise.mjs',
      '--config',
      '.dependency-cruiser.cjs',
      'packages',
      'tests',
      'bench',
    ],
  ],
  [
    'Imports between folders',
    [
      'node_modules/dependency-cruiser/bin/dependency-cruise.mjs',
      '--metrics',
      '--config',
      '.dependency-cruiser-folders.mjs',
      'packages',
    ],
  ],
  ['Types', ['node_modules/typescript/bin/tsc', '-p', 'tsconfig.json', '--noEmit']],
  [
    'Types of the pages',
    ['node_modules/vue-tsc/bin/vue-tsc.js', '-p', 'packages/web/tsconfig.json', '--noEmit'],
  ],
  [
    'Unit and integration tests',
    [
      'node_modules/vitest/vitest.mjs',
      'run',
      '--project',
      'node',
      '--project',
      'integration',
      '--project',
      'web',
    ],
  ],
  ['Browser tests', ['node_modules/vitest/vitest.mjs', 'run', '--project', 'e2e']],
];
const failed = [];
for (const [name, command] of checks) {
  say(`\n${name}`);
  const startedAt = Date.now();
  const result = spawnSync(process.execPath, command, {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, CI: 'true' },
  });
  if (result.status !== 0) failed.push(name);
  say(
    `${name}: ${result.status === 0 ? 'passed' : 'FAILED'} in ${Math.round((Date.now() - startedAt) / 1000)} s`,
  );
}
say(failed.length ? `\nFailed: ${failed.join(', ')}` : '\nAll checks passed.');
say(`checks: ${checks.length - failed.length} passed, ${failed.length} failed`);
process.exit(failed.length ? 1 : 0);
