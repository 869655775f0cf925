import { Limit } from '@apodix/core';
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openBrowser, type Browser } from '../test-support/browser.ts';
import { chooseFile } from '../test-support/drop-file.ts';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';
import { makeClip } from '../test-support/sample-media.ts';

let apodix: RunningApodix;
let browser: Browser;
let axe = '';
let folder = '';

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-access-'));
  axe = await readFile(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
  const limits = [
    Limit.parse({ id: 'size', kind: 'file-size', maxBytes: 300_000, words: 'at most 300 kB' }),
    Limit.parse({ id: 'who', kind: 'participants' }),
  ];
  apodix = await startApodix([
    buildAnnouncement('film', 'video', limits, {
      title: 'Film study',
      instructions: 'Film it, at most 300 kB. Make sure the light is good.',
    }),
    buildAnnouncement('prints', 'photo', [], { title: 'Prints' }),
    buildAnnouncement('diary', 'video', [], {
      title: 'Diary',
      slots: [
        { id: 'why', label: 'Why', item: 'text', min: 1, max: 1, alternative: null },
        { id: 'page', label: 'Page', item: 'link', min: 1, max: 1, alternative: null },
      ],
    }),
  ]);
  browser = await openBrowser({ more: ['--enable-unsafe-swiftshader'] });
  await browser.setView(1280, 800);
  await browser.driver.get(apodix.url);
  await browser.click('li button', 'Ann Test');
  await browser.find('.card');
  await browser.driver.get(`${apodix.url}/work/film/takes`);
  await chooseFile(browser, await makeClip(folder, 'clip.mp4', { seconds: 2 }));
  await browser.findText('.card.chosen', '0:02', 60_000);
  await browser.click('.card.chosen .main', 'Shape this take');
  await browser.click('.ledger .go', 'Fit it for me');
  await browser.findText('.offer', 'Made and proven', 60_000);
  const print = join(folder, 'print.jpg');
  await sharp({ create: { width: 400, height: 300, channels: 3, background: '#a05030' } }).toFile(print);
  await browser.driver.get(`${apodix.url}/work/prints/takes`);
  await chooseFile(browser, print);
  await browser.find('.card.chosen', 60_000);
});
afterAll(async () => {
  await browser.close();
  await apodix.stop();
  await rm(folder, { recursive: true, force: true });
});

const views = [
  ['/today', '.card'],
  ['/new', '#title'],
  ['/quick-fit', '.drop'],
  ['/work/film/brief', '.limits li'],
  ['/work/film/takes', '.card'],
  ['/work/film/shape', '.strip'],
  ['/work/film/fit', '.offer'],
  ['/work/prints/sheet', '.paper image'],
  ['/work/film/hand-in', '.item'],
  ['/work/diary/hand-in', '.answer'],
  ['/work/film/takes?camera=practice', '[data-testid=advice-Light]'],
  ['/takes', '.card'],
  ['/cards', 'fieldset'],
  ['/phone', 'h1'],
  ['/receipt-key', '.name'],
] as const;
const looks = [
  ['light', 1280, 800, false],
  ['dark', 1280, 800, true],
  ['phone', 390, 844, false],
] as const;

describe('every view can be used by everyone', () => {
  it.each(
    looks.flatMap(([look, width, height, isDark]) =>
      views.map(([path, waitFor]) => [look, path, width, height, isDark, waitFor] as const),
    ),
  )('%s %s', async (_look, path, width, height, isDark, waitFor) => {
    await browser.setView(width, height, isDark);
    await browser.driver.get(apodix.url + path);
    await browser.find(waitFor);
    await browser.driver.sleep(250);
    await browser.driver.executeScript(axe);
    const faults = await browser.driver.executeAsyncScript<
      { id: string; nodes: { html: string; failureSummary: string }[] }[]
    >(
      "const done = arguments[0]; window.axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa'] }).then((result) => done(result.violations.map(({ id, nodes }) => ({ id, nodes: nodes.slice(0, 3).map(({ html, failureSummary }) => ({ html: html.slice(0, 200), failureSummary })) }))));",
    );
    expect(faults).toEqual([]);
    const [inner, page] = await browser.driver.executeScript<[number, number]>(
      'return [window.innerWidth, document.documentElement.scrollWidth]',
    );
    expect(page).toBeLessThanOrEqual(inner);
  });
});
