import { Limit, type AssignmentView } from '@apodix/core';
import { buildExif, photographPrint, writeHeif } from '@apodix/demo';
import { createHash } from 'node:crypto';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openBrowser, type Browser } from '../test-support/browser.ts';
import { chooseFile, dropFile } from '../test-support/drop-file.ts';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';
import { makeClip, probe } from '../test-support/sample-media.ts';

const VIDEO_LIMIT = 700_000;
const PHOTO_LIMIT = 250_000;
let apodix: RunningApodix;
let browser: Browser;
let folder = '';
let cookie = '';

const limits = (...raw: Record<string, unknown>[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));
const read = async (id: string) =>
  (await (
    await fetch(`${apodix.url}/api/assignments/${id}`, { headers: { cookie } })
  ).json()) as AssignmentView;
async function readDelivered(deliveryId: string): Promise<Buffer> {
  return Buffer.from(await (await apodix.callSite(`/api/deliveries/${deliveryId}/files/0`)).arrayBuffer());
}
const hash = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-route-'));
  apodix = await startApodix([
    buildAnnouncement(
      'film',
      'video',
      limits(
        { kind: 'file-size', maxBytes: VIDEO_LIMIT },
        { kind: 'format', wanted: ['mp4'] },
        { kind: 'length', maxUs: 5_000_000 },
        { kind: 'file-name', pattern: 'Surname_Firstname_Piece' },
      ),
      { title: 'Film study' },
    ),
    buildAnnouncement(
      'print',
      'photo',
      limits(
        { kind: 'file-size', maxBytes: PHOTO_LIMIT },
        { kind: 'format', wanted: ['jpeg'], appliesTo: 'photo' },
        { kind: 'picture-edge', edge: 'long', min: 800, max: 1000 },
        { kind: 'location-removed' },
      ),
      { title: 'Print study' },
    ),
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

async function handInAndReadReceipt(): Promise<void> {
  await browser.findText('.band', 'Not handed in yet');
  await browser.click('.v-checkbox label', 'my own work');
  await browser.findText('.press', 'Everything is here');
  await browser.click('.press button', 'Hand in');
  await browser.findText('.band', 'Handed in.', 60_000);
  await browser.click('.band a', 'See the receipt');
  await browser.findText('.received', 'Received');
}

describe('from a recording to a receipt', () => {
  it('a phone recording: dropped, trimmed, fitted under its limit, proven, handed in', async () => {
    const source = await makeClip(folder, 'IMG_0042.mov', {
      seconds: 9,
      size: '1280x720',
      rate: '30',
      filters: 'noise=alls=8:allf=t',
      video: ['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '26'],
    });
    await browser.driver.get(`${apodix.url}/work/film/brief`);
    await browser.findText('.limits', 'File size');
    await browser.click('.foot a', /take/i);
    await browser.findText('main', 'Takes');
    await dropFile(browser, source);
    await browser.findText('.card.chosen', /0:09/, 60_000);
    await browser.click('.card.chosen .main', 'Shape this take');

    // Trim by keys: go 30 frames in, start there; a further 60 frames on, finish there.
    await browser.find('.strip');
    const body = await browser.find('body');
    const frame = async () =>
      Number(/\d+/.exec(await (await browser.find('[data-testid=frame]')).getText())?.[0]);
    await browser.click('.buttons button', 'frame ›');
    await browser.driver.wait(async () => (await frame()) === 1, 10_000);
    await body.sendKeys('.'.repeat(29));
    await browser.driver.wait(async () => (await frame()) === 30, 10_000);
    await body.sendKeys('s');
    await body.sendKeys('.'.repeat(60));
    await browser.driver.wait(async () => (await frame()) === 90, 10_000);
    await body.sendKeys('f');
    await browser.findText('.foot .line', '0:01.00 → 0:03.03');
    await browser.findText('[role=status].note', 'Kept.');
    await body.sendKeys(Key.chord(Key.CONTROL, 'z'));
    await browser.findText('.foot .line', '0:01.00 → 0:0');
    await body.sendKeys(Key.chord(Key.CONTROL, Key.SHIFT, 'z'));
    await browser.findText('.foot .line', '0:01.00 → 0:03.03');

    // What each size would look like: tried on samples, drawn, and chosen from.
    await browser.click('nav[aria-label=Stops] a', 'Fit');
    await browser.findText('.offers', 'Best that fits');
    await browser.find('.chart .main-svg', 90_000);
    await browser.click('.offers button', 'Smaller, for slow internet');
    await browser.findText('.offers button[aria-checked=true]', 'Smaller, for slow internet');
    await browser.click('.offers button', 'Best that fits');
    await browser.findText('.offers button[aria-checked=true]', 'Best that fits');
    await browser.click('.ledger .go', 'Fit it for me');
    await browser.findText('.offer', 'Made and proven', 90_000);
    await browser.findText('.ledger', 'every must is proven');
    await browser.findText('.proof', 'Sound in step');
    await browser.findText('.moment h2', 'Hardest moment');
    await browser.click('.moment .steps button', 'next');
    await browser.findText('.moment .note', '2 of');
    const made = (await read('film')).made[0];
    expect(made?.fileName).toBe('Test_Ann_WorkFilm.mp4'.replace('WorkFilm', 'FilmStudy'));
    await browser.click('.side a.go', 'Go to hand in');
    await handInAndReadReceipt();

    const view = await read('film');
    const receipt = (await (
      await fetch(`${apodix.url}/api/receipts/${view.receiptId}`, { headers: { cookie } })
    ).json()) as { courseSite: { deliveryId: string }; files: { sha256: string; sizeBytes: number }[] };
    const delivered = await readDelivered(receipt.courseSite.deliveryId);
    expect(delivered.length).toBeLessThanOrEqual(VIDEO_LIMIT);
    expect([delivered.length, hash(delivered)]).toEqual([
      receipt.files[0]?.sizeBytes,
      receipt.files[0]?.sha256,
    ]);
    const path = join(folder, 'delivered.mp4');
    await writeFile(path, delivered);
    const outside = await probe(path);
    expect(outside.streams.find((stream) => stream.codec_type === 'video')).toMatchObject({
      codec_name: 'h264',
      profile: 'High',
      pix_fmt: 'yuv420p',
      nb_read_frames: '61',
      color_space: 'bt709',
    });
    await browser.driver.get(`${apodix.url}/today`);
    await browser.findText('.done', 'Film study');
  });

  it('a HEIC photograph: chosen, turned, fitted, proven, handed in', async () => {
    const [widthPx, heightPx] = [1600, 1200];
    const rgb = await photographPrint('full-print', {
      widthPx,
      heightPx,
      corners: [
        [0.16, 0.24],
        [0.83, 0.15],
        [0.9, 0.82],
        [0.1, 0.87],
      ],
    });
    const source = join(folder, 'IMG_0043.HEIC');
    await writeFile(
      source,
      await writeHeif({
        rgb,
        widthPx,
        heightPx,
        exif: buildExif({ takenAt: '2026:11:20 14:02:00', serial: 'SN-1', place: [52.5, -1.25] }),
      }),
    );
    await browser.driver.get(`${apodix.url}/work/print/takes`);
    await chooseFile(browser, source);
    await browser.findText('.card.chosen', '1600×1200', 60_000);
    await browser.findText('.card.chosen', 'The place is inside');
    await browser.click('.card.chosen .main', 'Shape this take');
    await browser.click('.tools button', 'Turn right');
    await browser.findText('[role=status].note', 'Kept.');
    await browser.click('.ledger .go', 'Fit it for me');
    await browser.findText('.offer', 'Made and proven', 60_000);
    await browser.click('.side a.go', 'Go to hand in');
    await handInAndReadReceipt();
    const view = await read('print');
    const receipt = (await (
      await fetch(`${apodix.url}/api/receipts/${view.receiptId}`, { headers: { cookie } })
    ).json()) as { courseSite: { deliveryId: string }; files: { sha256: string }[] };
    const delivered = await readDelivered(receipt.courseSite.deliveryId);
    expect(hash(delivered)).toBe(receipt.files[0]?.sha256);
    expect(delivered.length).toBeLessThanOrEqual(PHOTO_LIMIT);
    const { format, width, height } = await sharp(delivered).metadata();
    expect([format, height]).toEqual(['jpeg', 1000]);
    // The print alone, turned: no longer in the proportions of its photograph.
    expect(width).not.toBe(750);
    expect(Math.abs(width - 750)).toBeLessThan(60);
  });

  it('a take that cannot be used says why and what to do, and a made file is never offered for it', async () => {
    const source = join(folder, 'not-really.mp4');
    await writeFile(source, '#EXTM3U\nhttp://127.0.0.1:1/other.ts\n');
    await browser.driver.get(`${apodix.url}/work/print/takes`);
    await chooseFile(browser, source);
    await browser.findText(
      '.card .fault',
      'Cannot be used. This is a list that points to other files',
      30_000,
    );
  });
});

describe('Quick fit', () => {
  it('needs no account: words, a file, a file that fits', async () => {
    await browser.driver.manage().deleteAllCookies();
    const source = await makeClip(folder, 'loose.mkv', { seconds: 3, size: '640x360' });
    await browser.driver.get(`${apodix.url}/quick-fit`);
    await (await browser.find('#asks')).sendKeys('MP4, at most 300 kB, no longer than 2 seconds');
    await browser.findText('.limits', '300 kB');
    await chooseFile(browser, source);
    await browser.click('.card.chosen .main', 'Shape this take');
    // Too long: nothing is cut before somebody says where.
    await browser.click('.ledger .go', 'Fit it for me');
    await browser.findText('.ask', '0:01.0 too long');
    await browser.click('.ask button', 'the longest that is allowed');
    await browser.click('.ledger .go', 'Fit it for me');
    await browser.findText('.offer', 'Made and proven', 60_000);
    const link = await (await browser.findText('.side a', 'Save a copy')).getAttribute('href');
    const session = await browser.driver.manage().getCookie('apodix_session');
    const bytes = Buffer.from(
      await (
        await fetch(link ?? '', { headers: { cookie: `apodix_session=${session.value}` } })
      ).arrayBuffer(),
    );
    expect(bytes.length).toBeLessThanOrEqual(300_000);
    const path = join(folder, 'quick.mp4');
    await writeFile(path, bytes);
    expect(Number((await probe(path)).format.duration)).toBeLessThanOrEqual(2);
  });
});
