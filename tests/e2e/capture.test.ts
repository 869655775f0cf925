import { Limit, type AssignmentView, type NewCards } from '@apodix/core';
import { execa } from 'execa';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { networkInterfaces, tmpdir } from 'node:os';
import { join } from 'node:path';
import QRCode from 'qrcode';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openBrowser, type Browser } from '../test-support/browser.ts';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';
import { probe } from '../test-support/sample-media.ts';

let apodix: RunningApodix;
let folder = '';
let cookie = '';

const read = async (id: string) =>
  (await (
    await fetch(`${apodix.url}/api/assignments/${id}`, { headers: { cookie } })
  ).json()) as AssignmentView;

async function signIn(browser: Browser): Promise<void> {
  await browser.setView(1280, 800);
  await browser.driver.get(apodix.url);
  // A browser that was killed may have written its cookies down, or not.
  await browser.find('li button, .card');
  if ((await browser.driver.findElements({ css: '.card' })).length === 0)
    await browser.click('li button', 'Ann Test');
  await browser.find('.card');
  const session = await browser.driver.manage().getCookie('apodix_session');
  cookie = `apodix_session=${session.value}`;
}
const go = (browser: Browser, path: string) => browser.driver.get(apodix.url + path);
/** Waits until the camera is at it; where it does not come to that, what is on screen is told. */
async function waitForPhase(browser: Browser, phase: string, ms = 20_000): Promise<void> {
  await browser.find(`[data-testid=camera][data-phase=${phase}]`, ms).catch(async (error: unknown) => {
    const at = await browser.driver.executeScript<string>(
      `const camera = document.querySelector('[data-testid=camera]');
       return camera?.dataset.phase + ': ' + document.body.innerText.replace(/\\s+/g, ' ').slice(0, 600);`,
    );
    throw new Error(`It is not ${phase} but ${at}`, { cause: error });
  });
}
/** Chooses in the menu of the count-in, and goes on once that is away. */
async function chooseCountIn(browser: Browser, words: string): Promise<void> {
  await browser.click('.side', 'Count-in');
  await browser.click('.menu label', words);
  await browser.driver.wait(
    () =>
      browser.driver.executeScript<boolean>(
        'return [...document.querySelectorAll(".menu label")].some((each) => ' +
          'each.innerText.includes(arguments[0]) && each.querySelector("input").checked)',
        words,
      ),
    10_000,
    `"${words}" is not chosen.`,
  );
  await browser.find('body').then((body) => body.sendKeys(Key.ESCAPE));
  await browser.driver.wait(
    () =>
      browser.driver.executeScript<boolean>(
        'return ![...document.querySelectorAll(".menu")].some((each) => each.checkVisibility())',
      ),
    10_000,
    'The menu stays.',
  );
}

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-capture-'));
  apodix = await startApodix(
    [
      buildAnnouncement(
        'solo',
        'video',
        [
          Limit.parse({ id: 'size', kind: 'file-size', maxBytes: 50_000_000 }),
          Limit.parse({ id: 'lines', kind: 'picture-edge', edge: 'lines', max: 720 }),
          Limit.parse({ id: 'length', kind: 'length', maxUs: 120_000_000 }),
          Limit.parse({ id: 'view', kind: 'in-view', parts: ['face', 'hands'], severity: 'should' }),
        ],
        { title: 'Marimba' },
      ),
      buildAnnouncement('print', 'photo', [], { title: 'Print' }),
    ],
    { APODIX_HOST: '0.0.0.0' },
  );
});
afterAll(async () => {
  await apodix.stop();
  await rm(folder, { recursive: true, force: true });
});

describe('the practice camera', () => {
  let browser: Browser;
  beforeAll(async () => {
    browser = await openBrowser();
    await signIn(browser);
  });
  afterAll(() => browser.close());

  it('takes the place of a camera that is not there, and its recording goes the whole way', async () => {
    await go(browser, '/work/solo/takes');
    await browser.click('.ways button', 'Open the camera');
    await browser.findText('.refused', /not allowed yet|No camera is found|did not start/);
    await browser.click('.refused button', 'practice camera');
    await waitForPhase(browser, 'lining-up');
    await browser.findText('.predicted', '2:00 at 720 lines is about 41.9 MB: fits in 50 MB.');
    await browser.findText('.told', 'The recording will not be mirrored.');
    await browser.findText('[data-testid=sound-advice]', /Loudest so far|Listening|Too quiet/);
    await browser.findText('[data-testid=advice-Light]', /Bright enough|A little dim/);
    // Nothing records, and somebody plays.
    await browser.findText('.idle', 'You are not recording.');
    await chooseCountIn(browser, 'none');
    await browser.click('[data-testid=press]', 'Start recording');
    await waitForPhase(browser, 'recording');
    await browser.findText('[data-testid=elapsed]', '0:03');
    await browser.findText('.band', /Recording · 1:5\d left/);
    await browser.click('[data-testid=press]', 'Stop recording');
    await browser.find('[data-testid=review] video');
    await browser.click('[data-testid=review] button', 'Keep this take');
    await browser.findText('.card.chosen', 'Marimba, take 1', 60_000);
    const [take] = (await read('solo')).takes;
    expect(take).toMatchObject({ state: 'ready', origin: 'practice', kind: 'video' });
    expect(take?.facts?.durationUs).toBeGreaterThan(2_500_000);
    expect(take?.facts?.sound?.loudnessLufs).toBeGreaterThan(-40);
    // Sent and held against what was recorded, it lies here no longer.
    await browser.driver.wait(
      async () => (await browser.driver.findElements({ css: '[data-testid=kept]' })).length === 0,
      20_000,
    );
  });

  it('the file is not mirrored although the picture is', async () => {
    const [take] = (await read('solo')).takes;
    const answer = await fetch(`${apodix.url}/api/takes/${take?.id}/files/source`, { headers: { cookie } });
    const path = join(folder, 'practice.webm');
    await writeFile(path, Buffer.from(await answer.arrayBuffer()));
    // The window of the practice room is on the left: 16 % of the width, a tenth of the height down.
    const { stdout } = await execa(
      'ffmpeg',
      ['-v', 'error', '-i', path, '-frames:v', '1', '-vf', 'scale=64:36,format=rgb24', '-f', 'rawvideo', '-'],
      { encoding: 'buffer' },
    );
    const blue = (x: number, y: number) =>
      (stdout[(y * 64 + x) * 3 + 2] ?? 0) - (stdout[(y * 64 + x) * 3] ?? 0);
    expect(blue(9, 8)).toBeGreaterThan(5);
    expect(blue(54, 8)).toBeLessThan(0);
    expect((await probe(path)).streams.map((stream) => stream.codec_type).sort()).toEqual(['audio', 'video']);
  });

  it('a take is looked at for face and hands on this machine, and flipped at once', async () => {
    await browser.driver.wait(async () => (await read('solo')).takes[0]?.facts?.seen !== null, 90_000);
    const seen = (await read('solo')).takes[0]?.facts?.seen;
    expect(seen?.face.length).toBeGreaterThanOrEqual(5);
    await browser.click('.card.chosen .acts button', 'Flip left and right');
    await browser.findText('.card.chosen .acts button', 'Flip back');
    await browser.driver.wait(
      async () => (await read('solo')).takes[0]?.recipe?.recipe.picture.isMirrored === true,
      10_000,
    );
  });

  it('begins by itself at the first sound, with what was before it', async () => {
    await go(browser, '/work/solo/takes?camera=off');
    await browser.click('.head button', 'Record another one');
    await browser.click('.refused button', 'practice camera');
    await waitForPhase(browser, 'lining-up');
    await chooseCountIn(browser, 'start by itself');
    await browser.click('[data-testid=press]', 'Get ready');
    await waitForPhase(browser, 'recording', 30_000);
    await browser.findText('[data-testid=elapsed]', /0:0[3-9]|0:1\d/);
    await browser.click('[data-testid=press]', 'Stop recording');
    await browser.click('[data-testid=review] button', 'Throw away');
    await browser.findText('.notice', 'thrown away');
    await browser.click('.notice .act', 'Undo');
    await browser.findText('[data-testid=kept]', 'not sent yet');
  });

  it('photographs a piece: the camera finds it, the photograph is kept', async () => {
    await go(browser, '/work/print/takes');
    await browser.click('.ways button', 'practice camera');
    await waitForPhase(browser, 'lining-up');
    expect(await (await browser.findText('[role=radio]', 'Photo')).getAttribute('aria-checked')).toBe('true');
    await browser.click('[role=radio]', 'Video');
    await browser.findText('.switch .note', 'This assignment wants photographs.');
    await browser.click('[role=radio]', 'Photo');
    await browser.findText('[data-testid=advice-Piece]', /whole piece is in the picture|It fills/);
    await browser.find('.overlay polygon');
    await browser.click('[data-testid=press]', 'Take the photograph');
    await browser.find('[data-testid=review] img');
    await browser.click('[data-testid=review] button', 'Keep this take');
    await browser.findText('.card.chosen', 'Print, take 1', 60_000);
    expect((await read('print')).takes[0]?.facts?.photo).toMatchObject({ codec: 'jpeg', heightPx: 1080 });
  });
});

describe('a camera that Chromium makes up', () => {
  it('records; killed in the middle, the recording is there again with at most a second lost', async () => {
    const profile = await mkdtemp(join(tmpdir(), 'apodix-killed-'));
    const first = await openBrowser({ profile, hasCamera: true });
    await signIn(first);
    await go(first, '/work/solo/takes?camera=on');
    await waitForPhase(first, 'lining-up');
    await first.findText('.side', 'Count-in');
    await first.driver.executeScript("localStorage.setItem('apodix.count-in', '0')");
    await go(first, '/work/solo/takes?camera=on');
    await waitForPhase(first, 'lining-up');
    await first.click('[data-testid=press]', 'Start recording');
    await first.findText('[data-testid=elapsed]', '0:05');
    const pid = await findBrowserPid(profile);
    process.kill(pid, 'SIGKILL');
    await first.driver.quit().catch(() => undefined);

    const second = await openBrowser({ profile, hasCamera: true });
    try {
      await signIn(second);
      await go(second, '/work/solo/takes');
      await second.findText('[data-testid=kept]', 'Not finished');
      await second.click('[data-testid=kept] button', 'Keep this take');
      await second.driver.wait(async () => (await read('solo')).takes.length === 2, 60_000);
      await second.driver.wait(
        async () => (await read('solo')).takes.every((take) => take.state !== 'inspecting'),
        60_000,
      );
      const take = (await read('solo')).takes.find((each) => each.origin === 'camera');
      expect(take).toMatchObject({ state: 'ready' });
      // Five seconds were shown; the coder needs part of one until its first picture, on a busy machine more.
      expect(take?.facts?.durationUs).toBeGreaterThanOrEqual(3_500_000);
    } finally {
      await second.close();
      await rm(profile, { recursive: true, force: true, maxRetries: 5 });
    }
  });
});

/** The browser process of a profile: the one that none of its own kind has started. */
async function findBrowserPid(profile: string): Promise<number> {
  const { stdout } = await execa('ps', ['-eo', 'pid=,args=']);
  const line = stdout
    .split('\n')
    .find(
      (each) =>
        each.includes(`--user-data-dir=${profile}`) &&
        !each.includes('--type=') &&
        !each.includes('chromedriver'),
    );
  const pid = Number(line?.trim().split(' ')[0]);
  if (!pid) throw new Error('The browser was not found.');
  return pid;
}

describe('a phone on the same network', () => {
  const lan = Object.values(networkInterfaces())
    .flatMap((each) => each ?? [])
    .find((each) => each.family === 'IPv4' && !each.internal)?.address;

  it.skipIf(lan === undefined)('scans a code, sends a file, and the computer sees it arrive', async () => {
    const [desk, phone] = [await openBrowser(), await openBrowser()];
    try {
      await signIn(desk);
      await go(desk, '/work/print/takes');
      await desk.click('.stage button', /Send (it )?from a phone/);
      await desk.find('[data-testid=phone-dialog] img');
      const address = await (await desk.find('.address')).getText();
      expect(address).toContain(lan);
      await phone.setView(390, 844);
      await phone.driver.get(address);
      await phone.findText('h1', 'Print');
      // Over plain http there is no camera of ours: the phone's own is offered.
      await phone.findText('.way.first', 'Photograph with the phone');
      expect(await phone.driver.getCurrentUrl()).toMatch(/\/phone\/?$/);
      const path = join(folder, 'leaf.jpg');
      await writeFile(path, await makePicture());
      await (await phone.driver.findElement({ css: '[data-testid=phone-file]' })).sendKeys(path);
      await phone.findText('.sent', 'leaf.jpg has arrived.', 60_000);
      await desk.findText('.card', 'leaf.jpg', 60_000);
      await phone.driver.get(address);
      await phone.findText('h1', 'has been used');
    } finally {
      await Promise.all([desk.close(), phone.close()]);
    }
  });
});

describe('a card on a shared device', () => {
  it('shown to the camera signs its owner in, and the one before is gone from the page', async () => {
    await fetch(`${apodix.url}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ personId: 'cat' }),
    }).then((answer) => (cookie = (answer.headers.get('set-cookie') ?? '').split(';')[0] ?? ''));
    const made = (await (
      await fetch(`${apodix.url}/api/cards`, {
        method: 'POST',
        headers: { cookie, 'content-type': 'application/json' },
        body: JSON.stringify({ personIds: ['cat'] }),
      })
    ).json()) as NewCards;
    const [png, film] = [join(folder, 'card.png'), join(folder, 'card.mjpeg')];
    await QRCode.toFile(png, made.cards[0]?.code ?? '', { width: 420, margin: 6 });
    const pad = 'scale=460:460,pad=640:480:90:10:gray';
    await execa('ffmpeg', [
      '-v',
      'error',
      '-y',
      '-loop',
      '1',
      '-i',
      png,
      '-t',
      '1',
      '-vf',
      pad,
      '-pix_fmt',
      'yuvj420p',
      '-q:v',
      '2',
      film,
    ]);
    const browser = await openBrowser({
      hasCamera: true,
      more: [`--use-file-for-fake-video-capture=${film}`],
    });
    try {
      await signIn(browser);
      await go(browser, '/work/solo/takes?camera=on');
      // Cat has brought in nothing: what was Ann's is not there any more.
      await browser.driver.wait(async () => {
        const session = await browser.driver.manage().getCookie('apodix_session');
        const answer = await fetch(`${apodix.url}/api/session`, {
          headers: { cookie: `apodix_session=${session.value}` },
        });
        return ((await answer.json()) as { person: { id: string } | null }).person?.id === 'cat';
      }, 30_000);
      await waitForPhase(browser, 'lining-up');
      expect(await browser.driver.findElements({ css: 'article.card img' })).toHaveLength(0);
      expect(await (await browser.find('body')).getText()).not.toContain('Ann');
    } finally {
      await browser.close();
    }
  });
});

async function makePicture(): Promise<Buffer> {
  const { default: sharp } = await import('sharp');
  return sharp({ create: { width: 400, height: 300, channels: 3, background: '#4a6' } })
    .jpeg()
    .toBuffer();
}
