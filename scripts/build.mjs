// Builds what has changed: packages with tsc, the pages with Vite. A hash of the sources tells whether
// anything has.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { root, say, stop } from './set-up.mjs';

function hashSources(folders) {
  const hash = createHash('sha256').update(readFileSync(join(root, 'package-lock.json')));
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

function buildWhereChanged(name, folders, output, command) {
  const markFolder = join(root, 'node_modules', '.apodix-build');
  const markPath = join(markFolder, name);
  const hash = hashSources(folders);
  if (existsSync(join(root, output)) && existsSync(markPath) && readFileSync(markPath, 'utf8') === hash)
    return;
  say(`Building ${name}`);
  const result = spawnSync(process.execPath, command, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'] });
  if (result.status !== 0) stop(`Building ${name} failed. See the lines above.`);
  mkdirSync(markFolder, { recursive: true });
  writeFileSync(markPath, hash);
}

export function buildAll() {
  const servers = [
    'packages/core',
    'packages/engine',
    'packages/course-site',
    'packages/server',
    'packages/demo',
  ];
  buildWhereChanged('servers', servers, 'packages/server/dist/main.js', [
    'node_modules/typescript/bin/tsc',
    '-b',
    ...servers.map((folder) => `${folder}/tsconfig.build.json`),
  ]);
  buildWhereChanged('pages', ['packages/core', 'packages/web'], 'packages/web/dist/index.html', [
    'node_modules/vite/bin/vite.js',
    'build',
    'packages/web',
    '--logLevel',
    'warn',
  ]);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) buildAll();
