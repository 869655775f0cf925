import { Limit, type AssignmentView } from '@apodix/core';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openBrowser, type Browser } from '../test-support/browser.ts';
import { chooseFile } from '../test-support/drop-file.ts';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';

let apodix: RunningApodix;
let browser: Browser;
let folder = '';
let cookie = '';

const read = async (id: string) =>
  (await (
    await fetch(`${apodix.url}/api/assignments/${id}`, { headers: { cookie } })
  ).json()) as AssignmentView;
const go = (path: string) => browser.driver.get(apodix.url + path);
const until = (isTrue: () => Promise<boolean>) => browser.driver.wait(isTrue, 20_000);

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-keeping-'));
  const size = Limit.parse({ id: 'size', kind: 'file-size', maxBytes: 300_000 });
  apodix = await startApodix([
    buildAnnouncement('diary', 'photo', [], {
      title: 'Diary',
      slots: [
        { id: 'why', label: 'Why you chose it', item: 'text', min: 1, max: 1, alternative: null },
        { id: 'page', label: 'Your page', item: 'link', min: 1, max: 1, alternative: null },
      ],
    }),
    buildAnnouncement('print', 'photo', [size], { title: 'Print study' }),
  ]);
  browser = await openBrowser();
  await browser.setView(1280, 800);
  await browser.driver.get(apodix.url);
  await browser.click('li button', 'Ann Test');
  await browser.find('.card');
  const session = await browser.driver.manage().getCookie('apodix_session');
  cookie = `apodix_session=${session.value}`;
});
afterAll(async () => {
  await browser.close();
  await apodix.stop();
  await rm(folder, { recursive: true, force: true });
});

describe('words for an assignment', () => {
  it('are kept by themselves, handed in, shown on the receipt, and taken back', async () => {
    await go('/work/diary/hand-in');
    await (await browser.find('#answer-why')).sendKeys('Because of the light.');
    await (await browser.find('#answer-page')).sendKeys('pages');
    await browser.findText('.answer', 'not a whole web address');
    await browser.findText('.band', /give a whole web address/);
    await (
      await browser.find('#answer-page')
    ).sendKeys(Key.chord(Key.CONTROL, 'a'), 'https://pages.example/ann');
    await browser.findText('.answer', 'Kept');
    await until(async () => (await read('diary')).parcel.answers.length === 2);
    await go('/work/diary/hand-in');
    expect(await (await browser.find('#answer-why')).getAttribute('value')).toBe('Because of the light.');
    await browser.click('.v-checkbox label', 'my own work');
    await browser.click('.press button', 'Hand in');
    await browser.findText('.band', 'Handed in.', 60_000);
    await browser.click('.band a', 'See the receipt');
    await browser.findText('.typed', 'Because of the light.');
    await browser.findText('[data-testid=limits-from]', 'read them from the instructions');
    await browser.click('.note a', 'the key of this school');
    const name = await (await browser.find('[data-testid=fingerprint]')).getText();
    await browser.driver.navigate().back();
    await browser.findText('.note', name);
    await go('/work/diary/hand-in');
    await browser.click('.other button', 'Take it back');
    await browser.findText('.band', 'You took it back.');
    await browser.click('.other button', 'by hand');
    await (await browser.find('#by-hand')).sendKeys('On paper, in the lesson.');
    await browser.click('.ask button', 'Note it');
    await browser.findText('.band', 'On paper, in the lesson.');
  });
});

describe('a take', () => {
  it('that came in for nothing is used for an assignment, removed, and brought back', async () => {
    const picture = join(folder, 'leaf.jpg');
    await sharp({ create: { width: 640, height: 480, channels: 3, background: '#4a6' } })
      .jpeg()
      .toFile(picture);
    await go('/takes');
    await chooseFile(browser, picture);
    await browser.findText('.card', '640×480', 60_000);
    await browser.findText('.serves', 'for nothing yet');
    await go('/work/print/takes');
    await browser.click('.head button', 'here already');
    await browser.click('.list button', 'Use it here');
    await browser.findText('.card.chosen', 'leaf.jpg');
    await browser.click('.card.chosen .acts button', 'Remove');
    await browser.findText('.notice', 'leaf.jpg is removed');
    await until(async () => (await read('print')).takes.length === 0);
    await browser.click('.notice .act', 'Undo');
    await browser.findText('.card.chosen', 'leaf.jpg');
    await go('/takes');
    await browser.findText('.serves', 'Print study');
  });
});

describe('the keys', () => {
  it('can be switched off and changed', async () => {
    await go('/work/print/takes');
    await browser.findText('.card.chosen', 'leaf.jpg');
    const body = await browser.find('body');
    await body.sendKeys('?');
    await browser.click('.help li button', 'S');
    await (await browser.find('.help')).sendKeys('q');
    await browser.findText('.help li button', 'Q');
    await browser.click('.help .v-switch input');
    await browser.click('.help .acts button', 'Close');
    await until(async () => (await browser.driver.findElements({ css: '.help' })).length === 0);
    await (await browser.find('body')).sendKeys('1');
    await browser.driver.sleep(300);
    expect(await browser.driver.getCurrentUrl()).toContain('/takes');
    await browser.driver.executeScript('localStorage.removeItem("apodix.keys")');
  });
});

describe('a server that is away', () => {
  it('is told as that, never as nothing being there; everything comes back with it', async () => {
    await go('/today');
    await browser.find('.card');
    await apodix.kill();
    await browser.driver.executeScript(
      'document.querySelector("nav[aria-label=Places] a[href=\\"/takes\\"]").click()',
    );
    await browser.findText('.away', 'cannot be reached', 30_000);
    expect(await (await browser.find('main')).getText()).not.toMatch(/You have none|someone else/);
    await browser.click('.away button', 'Try again');
    await browser.findText('.away', 'cannot be reached', 30_000);
    await apodix.startAgain();
    // The page comes back by itself, with its stream of events.
    await browser.findText('.serves', 'Print study', 60_000);
  });
});
