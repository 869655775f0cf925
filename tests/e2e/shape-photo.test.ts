import { Limit, type AssignmentView } from '@apodix/core';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
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

const read = async () =>
  (await (
    await fetch(`${apodix.url}/api/assignments/piece`, { headers: { cookie } })
  ).json()) as AssignmentView;
const kept = () => browser.findText('[role=status].note', 'Kept.');
const tool = (words: string) => browser.click('.tools button', words);
const transform = async () => (await (await browser.find('.surround img')).getAttribute('style')) ?? '';

describe('shaping a photographed piece', () => {
  it('its corners are found, and it is brought flat on screen', async () => {
    const seen = (await read()).takes[0]?.facts?.photo?.piece;
    const furthest = Math.max(
      ...IN_SHARES.map(({ x, y }, index) => {
        const corner = seen?.corners[index as 0] ?? { x: 9, y: 9 };
        return Math.sqrt(((corner.x - x) * 1600) ** 2 + ((corner.y - y) * 1200) ** 2) / 2000;
      }),
    );
    expect(furthest).toBeLessThan(0.003);
    expect(await transform()).not.toContain('matrix3d');
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
    await tool('Undo');
    await tool('Undo');
    await tool('Undo');
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
    await browser.click('.ledger .go', 'Fit it for me');
    await browser.driver.wait(async () => (await read()).made.some((each) => each.isCurrent), 60_000);
    const made = (await read()).made.find((each) => each.isCurrent);
    expect(made?.findings.filter(({ state }) => state !== 'met').map(({ sentence }) => sentence)).toEqual([]);
    const { widthPx, heightPx } = made?.facts.photo ?? { widthPx: 0, heightPx: 1 };
    // In the proportions that perspective tells: no longer those of the photograph.
    expect(Math.abs(widthPx / heightPx / (PIECE.widthPx / PIECE.heightPx) - 1)).toBeLessThan(0.02);
  });
});
