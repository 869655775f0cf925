// npm test: the same set-up as npm start plus the browser, then every check, each with its own summary.
import { spawn } from 'node:child_process';
import { buildAll } from './build.mjs';
import { checkDisk, checkNode, installPackages, root, say, stop } from './set-up.mjs';
import { join } from 'node:path';

checkNode();
checkDisk(join(root, 'node_modules'));
installPackages({ isCompiledLater: true });

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

/** Runs one check; what it says comes as it is said, or in one piece at its end. */
function runCheck([name, command], isHeldBack) {
  const startedAt = Date.now();
  const said = [];
  if (!isHeldBack) say(`\n${name}`);
  return new Promise((done) => {
    const child = spawn(process.execPath, command, {
      cwd: root,
      stdio: isHeldBack ? ['ignore', 'pipe', 'pipe'] : ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, CI: 'true' },
    });
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (data) => said.push(data));
    child.once('error', (error) => done(String(error)));
    child.once('close', (code, signal) => done(code === 0 ? null : `ended with ${code ?? signal}`));
  }).then((fault) => {
    if (isHeldBack) say(`\n${name}`);
    process.stdout.write(Buffer.concat(said));
    if (fault !== null) failed.push(name);
    const seconds = Math.round((Date.now() - startedAt) / 1000);
    say(`${name}: ${fault === null ? 'passed' : `FAILED (${fault})`} in ${seconds} s`);
  });
}

/** Compiles, and installs programs, while checks that need neither are under way. */
function setUpRest() {
  const names = ['ffmpeg', 'poppler', 'chromium'];
  return new Promise((done) => {
    const child = spawn(process.execPath, [join(root, 'scripts', 'set-up.mjs'), ...names], {
      stdio: ['ignore', 'inherit', 'inherit'],
    });
    child.once('error', () => done(1));
    child.once('close', done);
  });
}

// What only reads needs one processor each: two at a time. Tests take all there is, one after the other.
const STATIC = 6;
const waiting = checks.slice(0, STATIC);
const work = async () => {
  for (let next = waiting.shift(); next; next = waiting.shift()) await runCheck(next, true);
};
const setUp = setUpRest().then((code) => (code === 0 ? work() : stop('The set-up ended. See above.')));
await Promise.all([work(), setUp]);
buildAll();
for (const check of checks.slice(STATIC)) await runCheck(check, false);
say(failed.length ? `\nFailed: ${failed.join(', ')}` : '\nAll checks passed.');
say(`checks: ${checks.length - failed.length} passed, ${failed.length} failed`);
process.exit(failed.length ? 1 : 0);
