// Builds what has changed: packages with tsc, the pages with Vite. A hash of the sources tells whether
// anything has.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { root, say, stop } from './set-up.mjs';

function hashSources(folders) {
  const hash = createHash('sha256').update(readFileSync(join(root, 'package-lock.json')));
  hash.update(readFileSync(fileURLToPath(import.meta.url)));
  const walk = (folder) => {
    for (const entry of readdirSync(folder, { withFileTypes: true }).sort((left, right) =>
      left.name < right.name ? -1 : 1,
    )) {
      const path = join(folder, entry.name);
      if (entry.isDirectory()) {
        if (!['node_modules', 'dist'].includes(entry.name)) walk(path);
      } else if (!/\.test\.ts$/.test(entry.name))
        hash.update(path.slice(root.length)).update(readFileSync(path));
    }
  };
  folders.forEach((folder) => walk(join(root, folder)));
  return hash.digest('hex');
}

/** What CommonJS packages inside one file call to reach Node's own modules. */
const WITH_REQUIRE =
  "import { createRequire as require_ } from 'node:module'; const require = require_(import.meta.url);";

/**
 * Few files out of many for what is started again and again: a process that has a file to read instead of
 * five hundred is there in half the time. What is loaded later stays apart.
 */
function bundle(entries, output, external) {
  return [
    'node_modules/esbuild/bin/esbuild',
    ...entries,
    '--bundle',
    '--entry-names=[name]',
    '--format=esm',
    '--platform=node',
    '--target=node20',
    '--conditions=source',
    '--log-level=error',
    `--banner:js=${WITH_REQUIRE}`,
    ...external.map((name) => `--external:${name}`),
    '--splitting',
    `--outdir=${output}`,
  ];
}

function buildWhereChanged(name, folders, output, commands) {
  const markFolder = join(root, 'node_modules', '.apodix-build');
  const markPath = join(markFolder, name);
  const hash = hashSources(folders);
  if (existsSync(join(root, output)) && existsSync(markPath) && readFileSync(markPath, 'utf8') === hash)
    return;
  say(`Building ${name}`);
  // Parts of a bundle are named by what is in them: those of before would stay.
  for (const room of ['core', 'engine'])
    if (name === 'servers') rmSync(join(root, bundled(room)), { recursive: true, force: true });
  for (const command of commands) {
    const result = spawnSync(process.execPath, command, {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit'],
    });
    if (result.status !== 0) stop(`Building ${name} failed. See the lines above.`);
  }
  mkdirSync(markFolder, { recursive: true });
  writeFileSync(markPath, hash);
}

const bundled = (room) => `packages/${room}/dist/bundled`;

const ENGINE_ENTRIES = ['index.ts', 'cli/main.ts', 'paper/paper-child.ts'].map(
  (name) => `packages/engine/src/${name}`,
);
/** Native, or loaded only where it is needed. */
const HEAVY = ['sharp', 'libheif-js', 'pdf-lib', 'pdfkit', 'fontkit', 'tesseract.js'];

export function buildAll() {
  const servers = [
    'packages/core',
    'packages/engine',
    'packages/course-site',
    'packages/server',
    'packages/demo',
  ];
  buildWhereChanged('servers', servers, 'packages/server/dist/main.js', [
    ['node_modules/typescript/bin/tsc', '-b', ...servers.map((folder) => `${folder}/tsconfig.build.json`)],
    bundle(['packages/core/src/index.ts'], bundled('core'), ['zod', 'chrono-node']),
    // What the server imports has the same core as the server itself; what runs by itself holds its own.
    bundle(ENGINE_ENTRIES, bundled('engine'), ['@apodix/core', 'zod', ...HEAVY]),
    bundle(['packages/engine/src/photo/photo-child.ts'], bundled('engine'), HEAVY),
    // A bundle of its own holds no more than it needs.
    bundle(['packages/engine/src/photo/render-thread.ts'], bundled('engine'), []),
  ]);
  buildWhereChanged('pages', ['packages/core', 'packages/web'], 'packages/web/dist/index.html', [
    ['node_modules/vite/bin/vite.js', 'build', 'packages/web', '--logLevel', 'warn'],
  ]);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) buildAll();
