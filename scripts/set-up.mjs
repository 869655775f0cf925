// What every command needs first: a fitting Node, the npm packages, the programs from the system. Built-in
// modules only.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  accessSync,
  constants,
  existsSync,
  mkdirSync,
  readFileSync,
  statfsSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('..', import.meta.url));
const LEAST_NODE = [20, 19];
const LEAST_FREE_BYTES = 2_000_000_000;

/** Ends with a clear text; nothing that follows would work. */
export function stop(message, code = 1) {
  process.stderr.write(`\n${message}\n`);
  process.exit(code);
}

export function say(message) {
  process.stdout.write(`${message}\n`);
}

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < LEAST_NODE[0] || (major === LEAST_NODE[0] && minor < LEAST_NODE[1]))
    stop(`Apodix needs Node ${LEAST_NODE.join('.')} or newer; this is ${process.versions.node}.`);
}

export function checkDisk(folder) {
  let existing = folder;
  while (!existsSync(existing)) existing = dirname(existing);
  const { bavail, bsize } = statfsSync(existing);
  if (bavail * bsize < LEAST_FREE_BYTES)
    stop(
      `There is too little room on the disk for ${folder}: ${Math.round((bavail * bsize) / 1e6)} MB free, 2000 MB wanted. Make room, or set APODIX_DATA to another folder.`,
    );
  try {
    mkdirSync(folder, { recursive: true });
    accessSync(folder, constants.W_OK);
  } catch {
    stop(`The folder ${folder} cannot be written. Set APODIX_DATA to another one.`);
  }
}

/** What is installed, and where that is noted. */
function describeInstalled() {
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .update(process.versions.modules)
    .digest('hex');
  const markPath = join(root, 'node_modules', '.apodix-installed');
  const isThere = existsSync(markPath) && readFileSync(markPath, 'utf8') === lock;
  return { isThere, note: () => writeFileSync(markPath, lock) };
}

function runNpm(args) {
  const result = spawnSync('npm', [...args, '--loglevel=error'], {
    cwd: root,
    stdio: 'inherit',
    shell: process.platform === 'win32',
  });
  if (result.status !== 0) stop('The packages could not be installed. See the lines above.');
}

/**
 * Runs npm ci where the lock file is not the one that was installed. What has to be compiled can be left to
 * `compilePackages`.
 */
export function installPackages({ isCompiledLater = false } = {}) {
  const installed = describeInstalled();
  if (installed.isThere) return;
  say('Installing packages (once; about five minutes, most of it compiling the database)');
  runNpm(['ci', '--no-audit', '--no-fund', ...(isCompiledLater ? ['--ignore-scripts'] : [])]);
  if (!isCompiledLater) installed.note();
}

/** Compiles what `installPackages` left. */
export function compilePackages() {
  const installed = describeInstalled();
  if (installed.isThere) return;
  runNpm(['rebuild']);
  installed.note();
}

const programs = {
  ffmpeg: { commands: ['ffmpeg', 'ffprobe'], packages: ['ffmpeg'], version: '5.1 or newer' },
  poppler: { commands: ['pdftoppm'], packages: ['poppler-utils'], version: '22 or newer' },
  chromium: {
    commands: ['chromium', 'chromedriver'],
    packages: ['chromium', 'chromium-driver'],
    version: '120 or newer',
  },
};

/** Finds a program; on Debian as root installs its package, elsewhere tells what is missing. */
export function requireProgram(name) {
  const { commands, packages, version } = programs[name];
  const isThere = (command) =>
    spawnSync(
      command,
      [command.startsWith('ff') ? '-version' : command.startsWith('pdf') ? '-v' : '--version'],
      { stdio: 'ignore' },
    ).status === 0;
  if (commands.every(isThere)) return;
  const isDebianRoot = existsSync('/etc/debian_version') && process.getuid?.() === 0;
  if (!isDebianRoot)
    stop(
      `Missing: ${commands.join(' and ')} (version ${version}). Install ${packages.length > 1 ? 'them' : 'it'} with your system's package manager and start again.`,
    );
  say(`Installing ${packages.join(' and ')}`);
  const environment = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  spawnSync('apt-get', ['update', '-qq'], { stdio: 'inherit', env: environment });
  const result = spawnSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...packages], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: environment,
  });
  if (result.status !== 0 || !commands.every(isThere))
    stop(
      `${packages.join(' and ')} could not be installed. Install version ${version} by hand and start again.`,
    );
}

// By itself it does what is left after `installPackages`, with the programs that are named.
if (process.argv[1] === fileURLToPath(import.meta.url)) {
  compilePackages();
  process.argv.slice(2).forEach(requireProgram);
}
