// npm run dev: the servers from their sources, restarted on change, and the pages with hot reload.
import { spawn } from 'node:child_process';
import { resolve } from 'node:path';
import { checkDisk, checkNode, installPackages, requireProgram, root } from './set-up.mjs';

checkNode();
const dataFolder = resolve(root, process.env.APODIX_DATA ?? './data');
checkDisk(dataFolder);
installPackages();
requireProgram('ffmpeg');
requireProgram('poppler');
const env = {
  ...process.env,
  APODIX_DATA: dataFolder,
  APODIX_LOG_LEVEL: process.env.APODIX_LOG_LEVEL ?? 'info',
};
const tsx = ['node_modules/tsx/dist/cli.mjs', 'watch', '--conditions=source'];
const children = [
  [...tsx, 'packages/course-site/src/main.ts'],
  [...tsx, 'packages/server/src/main.ts'],
  ['node_modules/vite/bin/vite.js', 'packages/web'],
].map((args) => spawn(process.execPath, args, { cwd: root, stdio: 'inherit', env }));
const stopAll = () => children.forEach((child) => child.kill('SIGTERM'));
for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, stopAll);
children.forEach((child) => child.once('exit', stopAll));
