import { convertRgb8ToLab, Limit, measureDeltaE, type AssignmentView, type FitSamples } from '@apodix/core';
import { execa } from 'execa';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openBrowser, type Browser } from '../test-support/browser.ts';
import { dropFile } from '../test-support/drop-file.ts';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';
import { makeHall, readFramePoints, SCORE } from '../test-support/sample-media.ts';

let apodix: RunningApodix;
let browser: Browser;
let folder = '';
let cookie = '';
const [WIDTH, HEIGHT] = [160, 90];
/** A lamp of a hall: red through, green two thirds, blue a third, and a third of the light. */
const DIM_LAMP = 'colorchannelmixer=rr=0.6:gg=0.45:bb=0.27,noise=alls=3:allf=t';

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-shape-page-'));
  const limits = [
    { kind: 'file-size', maxBytes: 6_000_000 },
    { kind: 'length', maxUs: 5_000_000 },
  ].map((each, index) => Limit.parse({ id: `l${index}`, ...each }));
  apodix = await startApodix([buildAnnouncement('film', 'video', limits, { title: 'Film study' })]);
  browser = await openBrowser({ more: ['--enable-unsafe-swiftshader'] });
  await browser.setView(1280, 800);
  await browser.driver.get(apodix.url);
  await browser.click('li button', 'Ann Test');
  await browser.find('.card');
  cookie = `apodix_session=${(await browser.driver.manage().getCookie('apodix_session')).value}`;
  const source = await makeHall(folder, 'IMG_0101.mov', 8, DIM_LAMP);
  await browser.driver.get(`${apodix.url}/work/film/takes`);
  await browser.findText('main', 'Takes');
  await dropFile(browser, source);
  await browser.findText('.card.chosen', /0:08/, 60_000);
  await browser.driver.get(`${apodix.url}/work/film/shape`);
  await browser.find('.strip');
});
afterAll(async () => {
  await browser.close();
  await apodix.stop();
  await rm(folder, { recursive: true, force: true });
});

const read = async () =>
  (await (
    await fetch(`${apodix.url}/api/assignments/film`, { headers: { cookie } })
  ).json()) as AssignmentView;
const readRecipe = async () => (await read()).takes[0]?.recipe?.recipe;
const kept = () => browser.findText('[role=status].note', 'Kept.');
const tool = (words: string | RegExp) => browser.click('.tools button', words);
const tab = (words: string) => browser.click('.tabs button', words);
const body = () => browser.find('body');
const frame = async () =>
  Number(/\d+/.exec(await (await browser.find('[data-testid=frame]')).getText())?.[0]);

/** What the canvas over the video shows, averaged over areas: R, G, B. */
const readCanvas = async () =>
  Uint8Array.from(
    await browser.driver.executeScript<number[]>(
      `const from = document.querySelector('[data-testid=colored]');
       const copy = Object.assign(document.createElement('canvas'), { width: from.width, height: from.height });
       const context = copy.getContext('2d');
       context.drawImage(from, 0, 0);
       const { data } = context.getImageData(0, 0, copy.width, copy.height);
       const [bx, by] = [copy.width / ${WIDTH}, copy.height / ${HEIGHT}];
       const small = [];
       for (let y = 0; y < ${HEIGHT}; y += 1)
         for (let x = 0; x < ${WIDTH}; x += 1)
           for (let side = 0; side < 3; side += 1) {
             let [sum, count] = [0, 0];
             for (let py = Math.floor(y * by); py < (y + 1) * by; py += 1)
               for (let px = Math.floor(x * bx); px < (x + 1) * bx; px += 1) {
                 sum += data[(py * copy.width + px) * 4 + side];
                 count += 1;
               }
             small.push(Math.round(sum / count));
           }
       return small;`,
    ),
  );

describe('shaping a take', () => {
  it('that is too long asks where it shall end, and cuts only then', async () => {
    expect((await readRecipe())?.spans).toEqual([]);
    await browser.findText('.ask', '0:03.0 too long');
    await browser.click('.ask button', 'the longest that is allowed');
    await browser.findText('.foot .line', '0:00.00 → 0:05.00');
    await kept();
    expect((await readRecipe())?.spans).toEqual([{ source: 0, startUs: 0, finishUs: 5_000_000 }]);
  });

  it('is cut by typed times, divided into parts that are reordered, and brought back step by step', async () => {
    const [start] = await browser.driver.findElements({ css: '.tools form input' });
    await start?.clear();
    await start?.sendKeys('0:01.00', Key.ENTER);
    await browser.findText('.foot .line', '0:01.00 → 0:05.00');
    await (await browser.find('.end.start')).sendKeys(Key.ARROW_RIGHT);
    await browser.findText('.foot .line', '0:01.04 → 0:05.00');
    await browser.click('.tools h2', 'Parts');
    await (await body()).sendKeys('.'.repeat(25));
    await browser.driver.wait(async () => (await frame()) === 51, 10_000);
    await (await body()).sendKeys('d');
    await browser.findText('.tools li', '0:02.0 → 0:05.0');
    await browser.click('.tools li button[aria-label="Part 2 earlier"]');
    await browser.findText('.foot .line', 'in 2 parts');
    await kept();
    expect((await readRecipe())?.spans.map((span) => span.startUs)).toEqual([2_040_000, 1_040_000]);
    for (let step = 0; step < 4; step += 1) await (await body()).sendKeys(Key.chord(Key.CONTROL, 'z'));
    await browser.findText('.foot .line', '0:00.00 → 0:05.00');
  });

  it('comes with the lamp put right, shown as the file will be: mean ΔE00 at most 1, 99 in 100 at most 3, on every frame', async () => {
    await tab('Colour');
    await browser.findText('[data-testid=lamp]', /Lamp \d \d+ K/);
    await browser.findText('[data-testid=lamp]', /What should be grey: ΔE \d/);
    await browser.find('[data-testid=colored]');
    const shown: { at: number; points: Uint8Array }[] = [];
    const look = async (steps: number) => {
      await (await body()).sendKeys('.'.repeat(steps));
      await browser.driver.sleep(700);
      shown.push({ at: await frame(), points: await readCanvas() });
    };
    await look(10);
    await look(9);
    // A video that is on its way and never there: the frame that was read from the film stays over it.
    await browser.driver.executeScript(
      `const hold = (name, get) => Object.defineProperty(document.querySelector('.surround video'), name,
         { configurable: true, get, set: () => undefined });
       hold('currentTime', () => 2);
       hold('seeking', () => true);`,
    );
    await look(3);
    await look(7);
    expect(await (await browser.find('[data-testid=sought]')).isDisplayed()).toBe(true);
    await browser.driver.executeScript(
      `const video = document.querySelector('.surround video');
       delete video.currentTime;
       delete video.seeking;`,
    );
    // Nothing of what is planned is left to chance: by all samples.
    await expect
      .poll(async () => (await read()).takes[0]?.samples, { timeout: 90_000, interval: 500 })
      .toSatisfy(
        (samples?: FitSamples | null) => !!samples && samples.windows.length >= (samples.wanted ?? 1),
      );
    await browser.click('.ledger .go', 'Fit it for me');
    await browser.findText('.offer', 'Made and proven', 90_000);
    const made = (await read()).made[0];
    const colors = made?.findings.find((finding) => finding.of === 'proof' && finding.row === 'color');
    expect([colors?.state, colors?.sentence]).toEqual(['met', expect.stringContaining('to be put right')]);
    const path = join(folder, 'made.mp4');
    const answer = await fetch(`${apodix.url}${made?.fileUrl ?? ''}`, { headers: { cookie } });
    await writeFile(path, Buffer.from(await answer.arrayBuffer()));
    for (const { at, points } of shown) {
      const file = await readFramePoints(path, at, WIDTH);
      const differences = Array.from({ length: WIDTH * HEIGHT }, (_, point) => {
        const [own, other] = [points, file].map((picture) =>
          convertRgb8ToLab(picture[point * 3] ?? 0, picture[point * 3 + 1] ?? 0, picture[point * 3 + 2] ?? 0),
        );
        return own && other ? measureDeltaE(own, other) : 99;
      }).sort((left, right) => left - right);
      const mean = differences.reduce((sum, each) => sum + each, 0) / differences.length;
      const high = differences[Math.floor(differences.length * 0.99)] ?? 99;
      expect([at, mean <= 1 && high <= 3, mean, high]).toEqual([at, true, mean, high]);
    }
  });

  it('a grey is picked in the picture, before and after stand side by side, and a table goes out', async () => {
    await browser.driver.get(`${apodix.url}/work/film/shape`);
    await tab('Colour');
    await tool('None');
    await browser.findText('[data-testid=lamp]', 'No lamp put right');
    await tool('Pick it in the picture');
    await browser.click('.window video');
    await browser.findText('[data-testid=lamp]', 'chosen by you');
    await (await body()).sendKeys('c');
    await browser.find('.divide');
    await browser.findText('.tag.inner', 'as recorded');
    const cube = join(folder, 'Faded.cube');
    const corners = [0, 1].flatMap((b) => [0, 1].flatMap((g) => [0, 1].map((r) => [r, g, b])));
    const lines = corners.map((each) => each.map((value) => (0.2 + 0.6 * value).toFixed(6)).join(' '));
    await writeFile(cube, `LUT_3D_SIZE 2\n${lines.join('\n')}\n`);
    const input = await browser.driver.findElement({ css: '[data-testid=cube]' });
    await input.sendKeys(cube);
    await browser.findText('.table', 'Faded');
    await kept();
    expect((await readRecipe())?.picture.color?.look).toMatchObject({ name: 'Faded', edge: 2 });
    await browser.click('.table button');
    await tool('Show where');
    await browser.findText('.tools button', 'Hide where');
    await tool('Whole picture');
  });

  it('shows the frame that is sought before the video is there, and the same one', async () => {
    const sought = await browser.driver.executeAsyncScript<{
      us: number;
      videoUs: number;
      off: number;
      isAway: boolean;
    }>(
      `const done = arguments[arguments.length - 1];
       const [video, still, strip] = ['.surround video', '[data-testid=sought]', '.strip']
         .map((each) => document.querySelector(each));
       const read = (picture) => {
         const copy = Object.assign(document.createElement('canvas'), { width: 64, height: 36 });
         const context = copy.getContext('2d');
         context.imageSmoothingQuality = 'high';
         context.drawImage(picture, 0, 0, 64, 36);
         return context.getImageData(0, 0, 64, 36).data;
       };
       const look = () => {
         if (!still.checkVisibility()) return requestAnimationFrame(look);
         const first = read(still);
         video.addEventListener('seeked', () => requestAnimationFrame(() => {
           const last = read(video);
           const off = first.reduce((sum, value, at) => sum + Math.abs(value - last[at]), 0) / first.length;
           const isAway = !still.checkVisibility();
           done({ us: Number(still.dataset.us), videoUs: 1e6 * video.currentTime, off, isAway });
         }), { once: true });
       };
       look();
       const box = strip.getBoundingClientRect();
       strip.setPointerCapture = () => undefined;
       for (const type of ['pointerdown', 'pointerup'])
         strip.dispatchEvent(new PointerEvent(type, {
           bubbles: true, button: 0, pointerId: 1, clientX: box.left + 0.3 * box.width, clientY: box.top + 80,
         }));`,
    );
    expect(sought.videoUs - sought.us).toBeGreaterThanOrEqual(0);
    expect(sought.videoUs - sought.us).toBeLessThan(40_000);
    expect(sought.off).toBeLessThan(3);
    expect(sought.isAway).toBe(true);
  });

  it('a part of the picture is chosen by keys and straightened, and becomes a photo', async () => {
    await tab('Frame');
    await browser.click('select', '');
    await browser.click('select option', '1:1');
    await tool('Change the part');
    const part = await browser.find('[data-testid=crop] .part');
    await part.sendKeys(Key.ARROW_LEFT, Key.ARROW_LEFT);
    await tool('Done');
    await (await browser.find('.tools input[type=range]')).sendKeys(Key.ARROW_RIGHT);
    await kept();
    const picture = (await readRecipe())?.picture;
    expect(picture?.straightenDegrees).toBeCloseTo(0.1, 5);
    expect([picture?.crop?.height, picture?.crop?.x]).toEqual([1, expect.closeTo(0.199, 2)]);
    await tab('Cut');
    await tool('Take this frame as a photo');
    await browser.findText('.v-snackbar, [role=status], .notice', 'is a photo now', 20_000);
    await browser.driver.wait(
      async () =>
        (await read()).takes.some((take) => take.kind === 'photo' && take.facts?.photo?.widthPx === 640),
      30_000,
    );
  });

  it('is heard through a better recording that is laid on it by itself, and moved by hand', async () => {
    const better = join(folder, 'recorder.wav');
    // Begun 1.2 s after the film, by a recorder of its own.
    const part = ['-f', 'lavfi', '-i', `${SCORE}:d=8`, '-ss', '1.2', '-ar', '44100', better];
    await execa('ffmpeg', ['-v', 'error', '-y', ...part]);
    await browser.driver.get(`${apodix.url}/work/film/takes`);
    await browser.findText('main', 'Takes');
    await dropFile(browser, await makeHall(folder, 'IMG_0102.mov', 8, DIM_LAMP, SCORE));
    await dropFile(browser, better);
    const names = ['IMG_0102.mov', 'recorder.wav'];
    const isReady = async () =>
      (await read()).takes.filter((take) => names.includes(take.name) && take.state === 'ready').length === 2;
    await browser.driver.wait(isReady, 60_000);
    await browser.driver.get(`${apodix.url}/work/film/shape`);
    await browser.click('.others button', 'IMG_0102');
    await tab('Sound');
    await tool('Sound of recorder.wav');
    await browser.findText('.tools section', 'The sound is that of', 30_000);
    await tool('+10 ms');
    await kept();
    const film = (await read()).takes.find((take) => take.name === 'IMG_0102.mov');
    const source = film?.recipe?.recipe.sources[1];
    expect(Math.abs((source?.offsetUs ?? 0) - 1_210_000)).toBeLessThan(5000);
    await tool('own sound');
    await browser.findText('.tools button', 'Sound of recorder.wav');
  });

  it('has a part of another take after its own, somebody hidden in it, and is made and proven', async () => {
    const times = async (startS: string, finishS: string) => {
      const inputs = await browser.driver.findElements({ css: '.tools form input' });
      for (const [index, words] of [startS, finishS].entries()) {
        // As a person does: all of it is chosen, and typed over.
        await inputs[index]?.sendKeys(Key.chord(Key.CONTROL, 'a'), words, Key.ENTER);
      }
      await browser.findText('.foot .line', `${startS} → ${finishS}`);
    };
    await tab('Cut');
    await times('0:00.00', '0:02.00');
    await browser.click('.join select');
    await browser.click('.join option', 'IMG_0101');
    await browser.findText('.tools li.on', 'IMG_0101');
    await times('0:01.00', '0:02.20');
    await browser.findText('.foot .line', 'in 2 parts');
    // It plays on in the other take.
    await browser.click('.tools li .times', '0:02.0');
    await browser.click('.transport .play');
    await browser.driver.wait(
      async () => await (await browser.find('video.guest')).isDisplayed().catch(() => false),
      15_000,
    );
    await browser.driver.wait(
      async () => !(await (await browser.find('video.guest')).isDisplayed().catch(() => true)),
      15_000,
    );
    await tab('Frame');
    await tool('Hide a place');
    const area = await browser.find('[data-testid=hidden] .area');
    await area.sendKeys(Key.ARROW_LEFT, Key.ARROW_LEFT, Key.chord(Key.SHIFT, Key.ARROW_RIGHT));
    await kept();
    await browser.click('.ledger .go', 'Fit it for me');
    await browser.findText('.offer', 'Made and proven', 90_000);
    const view = await read();
    const film = view.takes.find((take) => take.name === 'IMG_0102.mov');
    const made = view.made.find((each) => each.takeId === film?.id && each.isCurrent);
    expect(made?.facts.durationUs).toBeCloseTo(3_200_000, -5);
    expect(
      made?.plan.kind === 'video' ? made.plan.cut.recipe.spans.map((each) => each.source) : null,
    ).toEqual([0, 1]);
    expect(film?.recipe?.recipe.picture.hidden[0]?.path[0]?.x).toBeCloseTo(0.48, 5);
    const hidden = made?.findings.find((each) => each.of === 'proof' && each.row === 'hidden');
    expect(hidden?.state).toBe('met');
  });

  it('begins with a card, goes over from part to part, stands calm, and is made and proven', async () => {
    await browser.driver.get(`${apodix.url}/work/film/shape`);
    await browser.find('.strip');
    await browser.click('.others button', 'IMG_0102');
    await tab('Cut');
    await browser.click('.tools li .times', 'IMG_0101');
    await browser.click('.tools .choice select option', 'a dissolve of 0.5 s');
    await tool('Add an opening card');
    // What is known already is on it: the title, who made it, the course.
    const words = () => browser.find('img.picture').then((card) => card.getAttribute('alt'));
    expect(await words()).toContain('Film study. Ann Test');
    const title = await browser.find('.tools section input[maxlength]');
    await title.clear();
    await title.sendKeys('Two looks');
    await browser.click('.tools .lasting option', /^2 s/);
    await browser.driver.wait(async () => (await words())?.startsWith('Two looks. Ann Test'), 10_000);
    const drawn = async () => (await (await browser.find('img.picture')).getAttribute('src')) ?? '';
    expect(await drawn()).toContain('data:image/svg+xml');
    await tab('Frame');
    await tool('Steady it');
    await browser.findText('.tools .note', /The outer \d/, 60_000);
    await kept();
    await browser.click('.ledger .go', 'Fit it for me');
    await browser.findText('.offer', 'Made and proven', 120_000);
    const view = await read();
    const film = view.takes.find((take) => take.name === 'IMG_0102.mov');
    const made = view.made.find((each) => each.takeId === film?.id && each.isCurrent);
    // 2 s of the card, 2 s and 1.2 s of the takes, half a second of which is of both.
    expect(made?.facts.durationUs).toBeCloseTo(4_700_000, -5);
    const open = made?.findings.filter((each) => each.state !== 'met').map((each) => each.sentence);
    expect(open).toEqual([]);
  });
});
