// npm start: everything from a fresh machine to a running Apodix with demo data.
import { fork } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { buildAll } from './build.mjs';
import { checkDisk, checkNode, installPackages, requireProgram, root, say, stop } from './set-up.mjs';

checkNode();
const dataFolder = resolve(root, process.env.APODIX_DATA ?? './data');
checkDisk(dataFolder);
installPackages();
requireProgram('ffmpeg');
requireProgram('poppler');
buildAll();

const children = [];
let isStopping = false;

async function stopAll(code) {
  if (isStopping) return;
  isStopping = true;
  const ends = children
    .filter((child) => child.exitCode === null && child.signalCode === null)
    .map((child) => new Promise((done) => child.once('exit', done)));
  for (const child of children) child.kill('SIGTERM');
  const giveUp = setTimeout(() => children.forEach((child) => child.kill('SIGKILL')), 8000);
  await Promise.all(ends);
  clearTimeout(giveUp);
  process.exit(code);
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stopAll(0));

const { ACCESS_FILE, AccessFile, SiteSettings } = await import('../packages/course-site/dist/index.js');
const { ServerSettings } = await import('../packages/server/dist/index.js');
const environment = { ...process.env, APODIX_DATA: dataFolder };
// Other devices of the same network are let in only where that was asked for.
if (process.argv.includes('--lan')) environment.APODIX_HOST = '0.0.0.0';
const site = readSettings(SiteSettings);
environment.APODIX_COURSE_SITE_URL ??= `http://${site.APODIX_COURSE_SITE_HOST}:${site.APODIX_COURSE_SITE_PORT}`;
const server = readSettings(ServerSettings);

function readSettings(schema) {
  const parsed = schema.safeParse(environment);
  if (!parsed.success)
    stop(
      `A setting is wrong: ${parsed.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.message}`).join('; ')}. docs/settings.md lists them all.`,
      2,
    );
  return parsed.data;
}

/** Starts one of the servers and waits until it answers; ends all where it does not come up. */
function startChild(path, extra = {}) {
  return new Promise((ready) => {
    const child = fork(join(root, path), {
      env: { ...environment, ...extra },
      stdio: ['ignore', 'pipe', 'inherit', 'ipc'],
      detached: false,
    });
    children.push(child);
    child.stdout.on('data', (data) => {
      const url = /(http:\/\/\S+)/.exec(String(data))?.[1];
      if (url) ready(url);
    });
    child.once('exit', (code) => {
      if (!isStopping) void stopAll(code || 1);
    });
  });
}

const { prepareDemo, seedStories } = await import('../packages/demo/dist/index.js');
const isDemoWanted = process.env.APODIX_DEMO !== 'off';
let mediaFolder = null;
const seededPath = join(dataFolder, 'demo-told');
if (isDemoWanted && !existsSync(seededPath)) {
  say('Making the demo recordings (once; a minute or two)');
  mediaFolder = await prepareDemo(dataFolder, (done, total, name) => say(`  ${done} of ${total}  ${name}`));
}
const siteUrl = await startChild('packages/course-site/dist/main.js');
const { connections, teachers } = AccessFile.parse(
  JSON.parse(readFileSync(join(dataFolder, 'course-site', ACCESS_FILE), 'utf8')),
);
const url = await startChild('packages/server/dist/main.js', {
  APODIX_WEB_FOLDER: server.APODIX_WEB_FOLDER ?? join(root, 'packages/web/dist'),
  APODIX_COURSE_SITE_URL: server.APODIX_COURSE_SITE_URL,
  APODIX_COURSE_SITE_KEY: server.APODIX_COURSE_SITE_KEY ?? connections[0]?.key,
});
if (mediaFolder !== null) {
  say('Bringing the demo people’s work in (once)');
  await seedStories(url, { url: siteUrl, ...teachers[0] }, mediaFolder, (done, total, name) =>
    say(`  ${done} of ${total}  ${name}`),
  );
  writeFileSync(seededPath, new Date().toISOString());
}
say(
  `\nApodix is ready: ${url}\n(course site stand-in: ${siteUrl}; data in ${dataFolder}; Ctrl+C stops everything)`,
);
