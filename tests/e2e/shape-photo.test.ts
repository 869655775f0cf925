import { Limit, type AssignmentView } from '@apodix/core';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import sharp from 'sharp';
import {
  buildLampScene,
  drawLampScene,
  radiate,
  type LampScene,
} from '../../packages/core/src/test-support/lamp-scene.ts';
import { drawTarget } from '../../packages/core/src/test-support/target-scene.ts';
import { openBrowser, type Browser } from '../test-support/browser.ts';
import { dropFile } from '../test-support/drop-file.ts';
import { IN_SHARES, photographPiece, PIECE } from '../test-support/piece-photo.ts';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';

let apodix: RunningApodix;
let browser: Browser;
let folder = '';
let cookie = '';

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-shape-photo-'));
  const limits = [
    Limit.parse({ id: 'format', kind: 'format', wanted: ['jpeg'] }),
    Limit.parse({ id: 'size', kind: 'file-size', maxBytes: 2_000_000 }),
  ];
  apodix = await startApodix([buildAnnouncement('piece', 'photo', limits, { title: 'Still life' })]);
  browser = await openBrowser({ more: ['--enable-unsafe-swiftshader'] });
  await browser.setView(1280, 800);
  await browser.driver.get(apodix.url);
  await browser.click('li button', 'Ann Test');
  await browser.find('.card');
  cookie = `apodix_session=${(await browser.driver.manage().getCookie('apodix_session')).value}`;
  await browser.driver.get(`${apodix.url}/work/piece/takes`);
  await browser.findText('main', 'Takes');
  await dropFile(browser, await photographPiece(folder, 'desk.png'));
  await browser.find('.card.chosen', 60_000);
  await browser.driver.get(`${apodix.url}/work/piece/shape`);
  await browser.find('.surround img');
});
afterAll(async () => {
  await browser.close();
  await apodix.stop();
  await rm(folder, { recursive: true, force: true });
});

async function writePhoto(scene: LampScene, path: string): Promise<void> {
  const { bytes, widthPx: width, heightPx: height } = drawLampScene(scene);
  await sharp(Buffer.from(bytes), { raw: { width, height, channels: 3 } })
    .jpeg({ quality: 95 })
    .toFile(path);
}
const read = async () =>
  (await (
    await fetch(`${apodix.url}/api/assignments/piece`, { headers: { cookie } })
  ).json()) as AssignmentView;
const kept = () => browser.findText('[role=status].note', 'Kept.');
const tool = (words: string) => browser.click('.tools button', words);
const transform = async () => (await (await browser.find('.surround img')).getAttribute('style')) ?? '';

describe('shaping a photographed piece', () => {
  it('its corners are found, and it lies flat on screen as it arrives', async () => {
    const seen = (await read()).takes[0]?.facts?.photo?.piece;
    const furthest = Math.max(
      ...IN_SHARES.map(({ x, y }, index) => {
        const corner = seen?.corners[index as 0] ?? { x: 9, y: 9 };
        return Math.sqrt(((corner.x - x) * 1600) ** 2 + ((corner.y - y) * 1200) ** 2) / 2000;
      }),
    );
    expect(furthest).toBeLessThan(0.003);
    await browser.driver.wait(async () => (await transform()).includes('matrix3d'), 5000);
    await tool('As recorded');
    await browser.driver.wait(async () => !(await transform()).includes('matrix3d'), 5000);
    await tool('Bring it flat');
    await browser.driver.wait(async () => (await transform()).includes('matrix3d'), 5000);
    await tool('Move the corners');
    expect(await transform()).not.toContain('matrix3d');
    await kept();
    const before = (await read()).takes[0]?.recipe?.recipe.picture.flatten?.corners[1];
    const corner = await browser.find('[data-testid=corners] .corner[aria-label^="Top right"]');
    await corner.sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_DOWN);
    await tool('Done');
    await kept();
    const after = (await read()).takes[0]?.recipe?.recipe.picture.flatten?.corners[1];
    expect(((after?.x ?? 0) - (before?.x ?? 0)) * 1600).toBeCloseTo(2, 3);
    expect(((after?.y ?? 0) - (before?.y ?? 0)) * 1200).toBeCloseTo(1, 3);
    await tool('Suggested');
    await kept();
  });

  it('its colors are changed as for a video, and it is made and proven', async () => {
    await browser.click('.tabs button', 'Colour');
    const light = await browser.find('.tools input[type=range]');
    await light.sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
    await browser.driver.wait(
      async () => (await browser.find('[data-testid=colored]')).isDisplayed().catch(() => false),
      10_000,
    );
    await kept();
    await browser.click('.tabs button', 'About');
    await tool('Write it into the file');
    await kept();
    await browser.click('.tabs button', 'Check');
    await browser.find('[data-testid=sharpness] rect');
    await browser.findText('.tools li', 'Place in the file');
    await browser.click('.ledger .go', 'Fit it for me');
    await browser.driver.wait(async () => (await read()).made.some((each) => each.isCurrent), 60_000);
    const made = (await read()).made.find((each) => each.isCurrent);
    expect(made?.facts.photo?.about).toMatchObject({ title: 'Still life', artist: 'Ann Test' });
    expect(made?.findings.filter(({ state }) => state !== 'met').map(({ sentence }) => sentence)).toEqual([]);
    const { widthPx, heightPx } = made?.facts.photo ?? { widthPx: 0, heightPx: 1 };
    // In the proportions that perspective tells: no longer those of the photograph.
    expect(Math.abs(widthPx / heightPx / (PIECE.widthPx / PIECE.heightPx) - 1)).toBeLessThan(0.02);
  });

  it('its light and the colours of a target are told in figures, and can be left as they were', async () => {
    const warm = join(folder, 'warm.jpg');
    const scene = buildLampScene(61, { widthPx: 960, heightPx: 720, lamp: radiate(3000) });
    const card = buildLampScene(71, { widthPx: 960, heightPx: 720, lamp: radiate(3500), piece: drawTarget });
    await writePhoto(scene, warm);
    await writePhoto(
      { ...card, over: { u: 0.4, v: 0.3, height: 4 }, vignette: 0, exposure: 0.8 },
      join(folder, 'card.jpg'),
    );
    await browser.driver.get(`${apodix.url}/work/piece/takes`);
    await browser.findText('main', 'Takes');
    await dropFile(browser, warm);
    await browser.driver.wait(
      async () => (await read()).takes.every(({ state }) => state === 'ready'),
      60_000,
    );
    await dropFile(browser, join(folder, 'card.jpg'));
    const takes = async () => (await read()).takes;
    await browser.driver.wait(
      async () => (await takes()).length === 3 && (await takes()).every(({ state }) => state === 'ready'),
      60_000,
    );
    const idOf = async (name: string) => (await takes()).find((each) => each.name === name)?.id ?? '';
    await browser.driver.get(`${apodix.url}/work/piece/shape?take=${await idOf('warm.jpg')}`);
    await browser.find('.surround img');
    await browser.click('.tabs button', 'Colour');
    await browser.findText('.panel section', 'told by the paper’s margin');
    await tool('As it was lit');
    await browser.findText('.panel section', 'less light than the brightest');
    await tool('Even it out');
    await kept();
    // Both maps as they are drawn: the darkest place of each beside its brightest.
    await browser.find('canvas[aria-label="How bright each place is lit after that"]');
    const darkest = await browser.driver.executeScript<number[]>(
      `return [...document.querySelectorAll('.lit canvas')].map((map) => {
         const { data } = map.getContext('2d').getImageData(0, 0, map.width, map.height);
         const levels = [...data].filter((_, at) => at % 4 === 0);
         return Math.min(...levels) / Math.max(...levels);
       })`,
    );
    expect(darkest).toHaveLength(2);
    expect(darkest[0]).toBeLessThan(0.8);
    expect(darkest[1]).toBeGreaterThan(0.9);
    expect(
      (await takes()).find(({ name }) => name === 'warm.jpg')?.recipe?.recipe.picture.light,
    ).not.toBeNull();
    const whiteOf = async () =>
      (await takes()).find(({ name }) => name === 'warm.jpg')?.recipe?.recipe.picture.color?.white ?? null;
    const before = JSON.stringify(await whiteOf());
    await tool('Look like card.jpg');
    await browser.driver.wait(async () => JSON.stringify(await whiteOf()) !== before, 10_000);
    await kept();
    await browser.driver.get(`${apodix.url}/work/piece/shape?take=${await idOf('card.jpg')}`);
    await browser.find('.surround img');
    await browser.click('.tabs button', 'Colour');
    const told = await (await browser.findText('.panel section', 'mean of 24 patches')).getText();
    const [, first = 0, after = 0] = (/ΔE ([\d.]+) → ([\d.]+)/.exec(told) ?? []).map(Number);
    expect(after).toBeLessThan(2);
    expect(first).toBeGreaterThan(4 * after);
    await tool('All 24 patches');
    await browser.find('.v-dialog .chart svg');
    expect(
      await browser.driver.executeScript('return document.querySelectorAll(".v-dialog tbody tr").length'),
    ).toBe(24);
    await browser.click('.v-dialog button', 'Close');
    await tool('Without the target');
    await browser.findText('.panel section', 'Use the target');
    await tool('Use the target');
    await kept();
  });

  it('several stand on a sheet in the order they are given, with answers, and become a PDF to hand in', async () => {
    await browser.driver.get(`${apodix.url}/work/piece/takes`);
    await browser.click('.head .link', 'Lay out a sheet');
    await browser.driver.wait(
      async () => (await browser.driver.findElements({ css: '.paper image' })).length === 3,
      20_000,
    );
    const words = () =>
      browser.driver.executeScript<string>(
        "return [...document.querySelectorAll('.paper text')].map((each) => each.textContent.trim()).join('|')",
      );
    const [first] = await browser.driver.findElements({ css: '.panel .title input' });
    await first?.sendKeys('Under the lamp');
    await browser.click('.choices button', 'With answers');
    await browser.click('.marks button', 'B');
    await (await browser.find('.tiptap')).sendKeys('It is all in the shade.');
    await browser.driver.wait(async () => (await words()).includes('It is all in the shade.'), 5000);
    expect(await words()).toContain('Under the lamp');
    await browser.click('.row .small', '↓');
    await browser.findText('.foot .note', 'Kept.');
    await browser.driver.navigate().refresh();
    await browser.driver.wait(async () => (await words()).includes('It is all in the shade.'), 20_000);
    const titles = async () =>
      browser.driver.executeScript<string>("return document.querySelectorAll('.name .words')[1].textContent");
    expect(await titles()).toContain('Under the lamp');
    await browser.click('.bar .go', 'Make the PDF');
    await browser.findText('.bar', 'is one of your takes now', 90_000);
    await browser.click('.bar .go', 'Fit it');
    await browser.driver.wait(async () => (await browser.driver.getCurrentUrl()).endsWith('/fit'), 10_000);
    const sheet = (await read()).takes.find(({ kind }) => kind === 'document');
    expect([sheet?.isChosen, sheet?.facts?.document?.pageCount]).toEqual([true, 2]);
  });
});
