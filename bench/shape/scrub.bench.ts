import type { AssignmentView } from '@apodix/core';
import { execa } from 'execa';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openBrowser, type Browser } from '../../tests/test-support/browser.ts';
import { dropFile } from '../../tests/test-support/drop-file.ts';
import { buildAnnouncement, startApodix } from '../../tests/test-support/running-apodix.ts';
import type { Benchmark, Row } from '../benchmark.ts';

const TONE = 'sine=440:r=48000';
const takes = [
  { name: '2160 lines, 12 s', source: 'testsrc2=s=3840x2160:r=25', seconds: 12, isShort: true },
  { name: '360 lines, 30 minutes', source: 'testsrc2=s=640x360:r=25', seconds: 1800, isShort: false },
] as const;

/**
 * Presses on the strip at places far apart: how long the page itself takes for each, and until the right
 * frame is on screen, read by the page from the film or sought by the element.
 */
const SCRUB = `
  const [count, done] = arguments;
  const strip = document.querySelector('.strip');
  const video = document.querySelector('.surround video');
  const box = strip.getBoundingClientRect();
  const long = [];
  const watcher = new PerformanceObserver((list) =>
    long.push(...list.getEntries().map((each) => each.duration)));
  watcher.observe({ type: 'longtask' });
  const [handled, shown] = [[], []];
  const FRAME_US = 40_000;
  let [at, early] = [0.13, 0];
  const press = (type, share) =>
    strip.dispatchEvent(new PointerEvent(type, {
      bubbles: true, button: 0, pointerId: 1, clientX: box.left + share * box.width, clientY: box.top + 80,
    }));
  strip.setPointerCapture = () => undefined;
  const step = (left) => {
    if (left === 0) {
      watcher.disconnect();
      const sort = (values) => values.sort((one, other) => one - other);
      const pick = (values, share) => sort(values)[Math.floor((values.length - 1) * share)] ?? 0;
      return done({
        shown: pick(shown, 0.5),
        handled: pick(handled, 0.95),
        early: early / count,
        long: long.length === 0 ? 0 : Math.max(...long),
        heapMb: (performance.memory?.usedJSHeapSize ?? 0) / 1e6,
      });
    }
    at = (at + 0.381966) % 0.96;
    const from = performance.now();
    const still = document.querySelector('[data-testid=sought]');
    const before = still?.dataset.us;
    let isSought = false;
    video.addEventListener('seeked', () => (isSought = true), { once: true });
    const look = () => {
      const isRead = still?.checkVisibility() && still.dataset.us !== before;
      if (!isRead && !isSought) return requestAnimationFrame(look);
      shown.push(performance.now() - from);
      const wanted = Number(/\\d+/.exec(document.querySelector('[data-testid=frame]').innerText)[0]);
      if (isRead && Math.abs(Number(still.dataset.us) - wanted * FRAME_US) < FRAME_US / 2) early += 1;
      press('pointerup', at);
      setTimeout(() => step(left - 1), 30);
    };
    requestAnimationFrame(look);
    press('pointerdown', at + 0.02);
    handled.push(performance.now() - from);
  };
  step(count);
`;

/** The same seeks by the bare element, without the page: the baseline. */
const SEEK = `
  const [count, done] = arguments;
  const video = document.querySelector('.surround video');
  const shown = [];
  let at = 0.13;
  const step = (left) => {
    if (left === 0) {
      shown.sort((one, other) => one - other);
      return done(shown[shown.length >> 1]);
    }
    at = (at + 0.381966) % 0.96;
    const from = performance.now();
    video.addEventListener('seeked', () => {
      requestAnimationFrame(() => {
        shown.push(performance.now() - from);
        setTimeout(() => step(left - 1), 30);
      });
    }, { once: true });
    video.currentTime = at * video.duration;
  };
  step(count);
`;

const SEEKS = 40;

async function measureTake(browser: Browser, url: string, take: (typeof takes)[number]): Promise<Row> {
  await browser.driver.get(`${url}/work/film/shape`);
  await browser.find('.strip');
  await browser.driver.sleep(3000);
  const bare = await browser.driver.executeAsyncScript<number>(SEEK, SEEKS);
  const page = await browser.driver.executeAsyncScript<Record<string, number>>(SCRUB, SEEKS);
  const round = (value: number | undefined) => Number((value ?? 0).toFixed(1));
  return {
    take: take.name,
    'right frame after, ms': round(page.shown),
    'bare element, ms': round(bare),
    ratio: Number(((page.shown ?? 0) / Math.max(1, bare)).toFixed(2)),
    'read from the film, %': Math.round(100 * (page.early ?? 0)),
    'own work, 95th, ms': round(page.handled),
    'longest task, ms': round(page.long),
    'heap, MB': round(page.heapMb),
  };
}

/** Samples of what was brought in are taken on the same cores, at low priority: not measured here. */
async function waitForQuiet(browser: Browser, url: string): Promise<void> {
  const { value } = await browser.driver.manage().getCookie('apodix_session');
  const read = async () => {
    const answer = await fetch(`${url}/api/assignments/film`, {
      headers: { cookie: `apodix_session=${value}` },
    });
    return (await answer.json()) as AssignmentView;
  };
  const isActive = ({ state }: { state: string }) => state === 'waiting' || state === 'running';
  await browser.driver.wait(async () => !(await read()).jobs.some(isActive), 1_800_000, undefined, 2000);
}

/** How soon the right frame is on screen when somebody presses on the strip. */
export const scrubBenchmark: Benchmark = {
  name: 'scrub',
  isShort: false,
  run: async (isLong, tell) => {
    const rows: Row[] = [];
    for (const take of takes.filter((each) => isLong || each.isShort)) {
      const folder = await mkdtemp(join(tmpdir(), 'apodix-scrub-'));
      const apodix = await startApodix([buildAnnouncement('film', 'video', [])]);
      const browser = await openBrowser();
      try {
        const path = join(folder, 'take.mp4');
        const inputs = ['-f', 'lavfi', '-i', take.source, '-f', 'lavfi', '-i', TONE];
        const coder = [
          '-c:v',
          'libx264',
          '-preset',
          'ultrafast',
          '-g',
          '50',
          '-pix_fmt',
          'yuv420p',
          '-c:a',
          'aac',
        ];
        await execa('ffmpeg', ['-v', 'error', ...inputs, '-t', String(take.seconds), ...coder, path]);
        await browser.setView(1280, 800);
        await browser.driver.manage().setTimeouts({ script: 120_000 });
        await browser.driver.get(apodix.url);
        await browser.click('li button', 'Ann Test');
        await browser.find('.card');
        await browser.driver.get(`${apodix.url}/work/film/takes`);
        await browser.findText('main', 'Takes');
        await dropFile(browser, path);
        await browser.find('.card.chosen', 1_800_000);
        await waitForQuiet(browser, apodix.url);
        const row = await measureTake(browser, apodix.url, take);
        rows.push(row);
        tell(row);
      } finally {
        await browser.close();
        await apodix.stop();
        await rm(folder, { recursive: true, force: true });
      }
    }
    const title = 'Pressing on the strip (baseline: the bare element sought to the same places)';
    return { tables: [{ title, rows }] };
  },
};
