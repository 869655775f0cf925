// npm run check-data [-- --read-bytes]: the set-up of every command, then the check of the data folder.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { buildAll } from './build.mjs';
import { checkNode, installPackages, root, stop } from './set-up.mjs';

checkNode();
const dataFolder = resolve(process.env.APODIX_DATA ?? join(root, 'data'));
if (!existsSync(join(dataFolder, 'apodix.sqlite')))
  stop(`There is no data in ${dataFolder}. Set APODIX_DATA to the folder that is to be checked.`, 2);
installPackages();
buildAll();
const { status } = spawnSync(
  process.execPath,
  [join(root, 'packages/server/dist/check-data.js'), ...process.argv.slice(2)],
  { stdio: 'inherit', env: { ...process.env, APODIX_DATA: dataFolder } },
);
process.exit(status ?? 1);
