import { Limit } from '@apodix/core';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, until } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openBrowser, type Browser } from '../test-support/browser.ts';
import { printPdf } from '../test-support/printed-sheet.ts';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';

const TEXT =
  'Film one performance, between two and three minutes long. Hold the phone sideways. MP4, no more than 100 megs. Make sure the balance is nice. Room 12 is free at lunch.';
let apodix: RunningApodix;
let browser: Browser;

beforeAll(async () => {
  const at = (hours: number) => new Date(Date.now() + hours * 3_600_000).toISOString();
  const limits = Array.from({ length: 12 }, (_, index) =>
    Limit.parse(
      index % 2
        ? { id: `n${index}`, kind: 'picture-edge', edge: 'width', max: 4000 + index }
        : { id: `s${index}`, kind: 'file-size', maxBytes: 50_000_000 + index },
    ),
  );
  apodix = await startApodix([
    buildAnnouncement('prose', 'video', [], {
      title: 'Prose',
      instructions: TEXT,
      dueAt: at(30),
      materials: [{ title: 'Bar plan', note: 'text', text: 'Bars 1 to 16.' }],
      rubric: [{ label: 'Sound', points: 10 }],
    }),
    buildAnnouncement('doubt', 'video', [], {
      title: 'Doubt',
      instructions: 'Film the dress run, MP4. The small hall closes on 12 February.',
      dueAt: at(250),
    }),
    buildAnnouncement('soon', 'video', [], { title: 'Soon', dueAt: at(5) }),
    buildAnnouncement('late', 'video', [], { title: 'Much later', dueAt: at(300) }),
    buildAnnouncement('twelve', 'video', limits, { title: 'Twelve limits', dueAt: at(200) }),
  ]);
  browser = await openBrowser();
  await browser.setView(1280, 800);
  await browser.driver.get(apodix.url);
  await browser.click('li button', 'Ann Test');
  await browser.find('.card');
});
afterAll(async () => {
  await browser.close();
  await apodix.stop();
});

const texts = (selector: string) =>
  browser.driver.executeScript<string[]>(
    'return [...document.querySelectorAll(arguments[0])].map((element) => element.innerText.trim())',
    selector,
  );

describe('Today', () => {
  it('sorts by what needs doing, reminds of what is due within a day, searches, and filters', async () => {
    await browser.driver.get(`${apodix.url}/today`);
    await browser.findText('.reminder', 'Soon');
    expect((await texts('.card .title')).slice(0, 4)).toEqual(['Soon', 'Prose', 'Twelve limits', 'Doubt']);
    await (await browser.find('.filter input')).sendKeys('much');
    await browser.driver.wait(async () => (await texts('.card .title')).length === 1, 10_000);
    expect(await texts('.card .title')).toEqual(['Much later']);
    await browser.click('.courses button', 'Music');
    expect(await texts('.card .title')).toEqual(['Much later']);
  });
});

describe('the brief', () => {
  it('marks the words that were read; pointing at either side lights the other; wishes are told apart', async () => {
    await browser.driver.get(`${apodix.url}/work/prose/brief`);
    await browser.findText('mark', 'no more than 100 megs');
    expect(await texts('mark:not(.wish)')).toEqual(
      [
        'one performance',
        'between two and three minutes long',
        'sideways',
        'MP4',
        'no more than 100 megs',
      ].map((words) =>
        words === 'between two and three minutes long'
          ? (expect.stringContaining('between two and three minutes') as string)
          : words,
      ),
    );
    expect(await texts('mark.wish')).toEqual(['Make sure the balance is nice']);
    const mark = await browser.findText('mark', 'no more than 100 megs');
    await browser.driver.actions().move({ origin: mark }).perform();
    await browser.findText('.limits li.lit', 'File size');
    const row = await browser.findText('.limits li', 'Held');
    await browser.driver.actions().move({ origin: row }).perform();
    await browser.findText('mark.lit', 'sideways');
    await browser.findText('.short', 'at most 100 MB');
  });

  it('lets a limit be corrected, its severity be changed, one be added and removed, and steps be undone; all of it stays', async () => {
    await browser.click('.limits .row', 'File size');
    const field = await browser.find('#file-size-maxBytes');
    await browser.driver.executeScript('arguments[0].select()', field);
    await field.sendKeys('80');
    await browser.click('.form .go', 'Keep');
    await browser.findText('.limits li', /File size\s+at most 80 MB[\s\S]*changed by you/);
    await browser.click('.limits li:nth-child(3) .severity', 'must');
    await browser.findText('.limits li:nth-child(3) .severity', 'should');
    await browser.click('.add', 'Add one');
    await browser.click('.v-list-item', 'One unbroken take');
    await browser.click('.fresh .go', 'Keep');
    await browser.findText('.limits li:last-child', 'One unbroken take');
    await browser.driver.navigate().refresh();
    await browser.findText('.limits li', /at most 80 MB/);
    await browser.findText('.limits li:last-child', 'One unbroken take');
    await browser.click('.limits li:last-child .row');
    await browser.click('.form .remove', 'Remove');
    await browser.driver.wait(
      async () => !(await texts('.limits li')).some((each) => each.includes('One unbroken take')),
      10_000,
    );
    await browser.click('.undo button', 'Undo');
    await browser.findText('.limits li:last-child', 'One unbroken take');
    await browser.click('.undo button', 'Use the course’s limits again');
    await browser.findText('.limits li', /at most 100 MB/);
  });

  it('says what is wrong with a figure that cannot be read, and keeps nothing', async () => {
    await browser.click('.limits .row', 'Length');
    const field = await browser.find('#length-maxUs');
    await browser.driver.executeScript('arguments[0].select()', field);
    await field.sendKeys('soon');
    await browser.click('.form .go', 'Keep');
    await browser.findText('.form .fault', 'cannot be read');
    await browser.driver.executeScript('arguments[0].select()', field);
    await field.sendKeys('1:00');
    await browser.click('.form .go', 'Keep');
    await browser.findText('.form .fault', 'least wanted is more than the most allowed');
    await browser.click('.form button', 'Close');
  });

  it('is read aloud: the spoken sentence is marked, speed can be set, and it stops', async () => {
    // Only the browser's own voice is replaced.
    await browser.driver.executeScript(`
      window.said = [];
      window.SpeechSynthesisUtterance = function (text) { this.text = text; };
      Object.defineProperty(window, 'speechSynthesis', { value: { cancel() {}, speak(utterance) { window.said.push(utterance); } }, configurable: true });`);
    await browser.click('.stop nav a, nav a', 'Takes');
    await browser.find('.drop');
    await browser.click('nav a', 'Brief');
    await browser.click('.acts button', 'Listen');
    await browser.findText('.spoken', 'Film');
    await browser.driver.executeScript('window.said.at(-1).onend()');
    await browser.findText('.spoken', 'Hold the phone');
    await browser.driver.executeScript(
      "const range = document.querySelector('.speed input'); range.value = 1.4; range.dispatchEvent(new Event('input'));",
    );
    await browser.findText('.speed', '1.4×');
    expect(
      await browser.driver.executeScript('return [window.said.at(-1).rate, window.said.at(-1).text]'),
    ).toEqual([1.4, 'Hold the phone sideways.']);
    await browser.click('.acts button', 'Stop');
    await browser.driver.wait(
      async () => (await browser.driver.findElements(By.css('.spoken'))).length === 0,
      10_000,
    );
  });

  it('shows materials', async () => {
    await browser.click('.materials button', 'Bar plan');
    await browser.findText('.material', 'Bars 1 to 16.');
    await browser.click('.material button', 'Close');
  });
});

describe('the ledger', () => {
  it('asks where words can be read in two ways, and remembers what was chosen', async () => {
    await browser.driver.get(`${apodix.url}/work/doubt/brief`);
    await browser.findText('.ask', /Is this when it is due\?[\s\S]*12 February/);
    await browser.findText('mark.ask', '12 February');
    expect((await texts('.limits li')).join(' ')).not.toContain('Due');
    await browser.click('.ask button', /^Due 12 Feb/);
    await browser.findText('.limits li', /^Due/);
    await browser.findText('.settled', 'Due 12 Feb');
    await browser.driver.navigate().refresh();
    await browser.findText('.limits li', /^Due/);
    await browser.click('.settled button', 'Choose again');
    await browser.click('.ask button', 'No, it is about something else');
    await browser.findText('.settled', 'something else');
    await browser.driver.navigate().refresh();
    await browser.findText('.settled', 'something else');
    expect((await texts('.limits li')).join(' ')).not.toContain('Due');
  });

  it('holds twelve limits at 1280×800 without scrolling, and works by keyboard', async () => {
    await browser.driver.get(`${apodix.url}/work/twelve/takes`);
    await browser.findText('.ledger li:nth-child(12)', 'at most 4011 px');
    const [scrolls, client] = await browser.driver.executeScript<[number, number]>(
      "const list = document.querySelector('.ledger ul'); return [list.scrollHeight, list.clientHeight];",
    );
    expect(scrolls).toBeLessThanOrEqual(client);
    await browser.driver.executeScript("document.querySelector('.ledger .row').focus()");
    await (await browser.driver.switchTo().activeElement()).sendKeys('\uE007');
    await browser.findText('.ledger .evidence', 'recording');
  });
});

describe('an assignment of one’s own', () => {
  it('is made from pasted words', async () => {
    await browser.driver.get(`${apodix.url}/new`);
    await (await browser.find('#title')).sendKeys('Clarinet solo');
    await (await browser.find('#text')).sendKeys('MP4, at most 40 MB, one minute maximum.');
    await browser.findText('.limits', 'at most 1:00');
    await browser.click('.limits .go', 'Start with a take');
    await browser.findText('.ledger', 'at most 40 MB');
    await browser.driver.get(`${apodix.url}/today`);
    await browser.findText('.card .title', 'Clarinet solo');
  });
});

describe('instructions on paper', () => {
  it('are read beside their picture, corrected, and become limits', async () => {
    await browser.driver.get(`${apodix.url}/new`);
    const folder = await mkdtemp(join(tmpdir(), 'apodix-paper-'));
    const paper = await browser.driver.wait(
      until.elementLocated(By.css('[data-testid=paper-input]')),
      20_000,
    );
    await paper.sendKeys(await printPdf(join(folder, 'sheet.pdf')));
    await browser.findText('.paper .go', 'Use these words', 60_000);
    expect(await texts('.paper figure img')).toHaveLength(1);
    const words = await browser.find('.paper textarea');
    expect(await words.getAttribute('value')).toContain('the file may not be larger than 250 MB');
    await browser.driver.executeScript(
      `arguments[0].value = arguments[0].value.replace('250 MB', '90 MB');
       arguments[0].dispatchEvent(new Event('input', { bubbles: true }));`,
      words,
    );
    await browser.click('.paper .go', 'Use these words');
    await browser.findText('.limits li', /File size\s+at most 90 MB/);
    await browser.findText('.limits li', /Length\s+2:00 to 3:00/);
    await rm(folder, { recursive: true });
  });

  it('say so where they cannot be read, and nothing that was typed is lost', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'apodix-paper-'));
    const path = join(folder, 'notes.pdf');
    await writeFile(path, 'no PDF at all, only words');
    const typed = await (await browser.find('#text')).getAttribute('value');
    await (await browser.driver.findElement(By.css('[data-testid=paper-input]'))).sendKeys(path);
    await browser.findText('.paper .fault', 'not a page that can be read');
    await browser.click('.paper button', 'Leave it');
    expect(await (await browser.find('#text')).getAttribute('value')).toBe(typed);
    await rm(folder, { recursive: true });
  });

  it('are read for somebody without an account too', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'apodix-paper-'));
    await browser.driver.manage().deleteAllCookies();
    await browser.driver.get(`${apodix.url}/quick-fit`);
    await (await browser.find('#asks')).sendKeys('No filters.');
    await (
      await browser.driver.findElement(By.css('[data-testid=paper-input]'))
    ).sendKeys(await printPdf(join(folder, 'sheet.pdf')));
    await browser.click('.paper .go', 'Use these words');
    await browser.findText('.limits li', /File size\s+at most 250 MB/);
    const words = await (await browser.find('#asks')).getAttribute('value');
    expect(words).toMatch(/^No filters\.\n\n.*\S/);
    await rm(folder, { recursive: true });
  });
});
