import { Limit, type Part } from '@apodix/core';
import { openBrowser } from '../../tests/test-support/browser.ts';
import { buildAnnouncement, startApodix } from '../../tests/test-support/running-apodix.ts';
import type { Benchmark, Row } from '../benchmark.ts';

const SECONDS = 8;
const IN_VIEW = '[data-testid="advice-In view"]';

/** Counts looks and the gaps between drawn frames for a while; told by the page. */
const WATCH = `
  const [seconds, done] = arguments;
  const camera = document.querySelector('[data-testid=camera]');
  const read = (name) => Number(camera?.dataset[name] ?? 0);
  const before = [read('looks'), read('seen')];
  const gaps = [];
  let last = performance.now();
  const end = last + seconds * 1000;
  const tick = (now) => {
    gaps.push(now - last);
    last = now;
    if (now < end) return requestAnimationFrame(tick);
    gaps.sort((left, right) => left - right);
    done({
      looks: (read('looks') - before[0]) / seconds,
      seen: (read('seen') - before[1]) / seconds,
      median: gaps[gaps.length >> 1],
      high: gaps[Math.floor(gaps.length * 0.95)],
    });
  };
  requestAnimationFrame(tick);
`;

const view = (id: string, parts: readonly Part[]) =>
  buildAnnouncement(id, 'video', [Limit.parse({ id: 'view', kind: 'in-view', parts: [...parts] })]);

/** What is looked for, with the words that tell that it is found or not. */
const KINDS = [
  { id: 'print', name: 'a piece', ready: /piece|edge|sharp|straight|light/i, advice: '.readings' },
  { id: 'hands', name: 'face and hands', ready: /picture|Hard to tell|covers/, advice: IN_VIEW },
  { id: 'all', name: 'face, hands and body', ready: /picture|Hard to tell|covers/, advice: IN_VIEW },
] as const;

/** Looks a second of the camera in Chromium, and whether the preview is held up by them. */
export const looksBenchmark: Benchmark = {
  name: 'looks',
  isShort: true,
  run: async (_isLong, tell) => {
    const apodix = await startApodix([
      buildAnnouncement('print', 'photo', []),
      view('hands', ['face', 'hands']),
      view('all', ['face', 'hands', 'body']),
    ]);
    const browser = await openBrowser();
    const rows: Row[] = [];
    try {
      await browser.setView(1280, 800);
      await browser.driver.manage().setTimeouts({ script: 60_000 });
      await browser.driver.get(apodix.url);
      await browser.click('li button', 'Ann Test');
      await browser.find('.card');
      const watch = (): Promise<Record<string, number>> => browser.driver.executeAsyncScript(WATCH, SECONDS);
      const calm = await watch();
      for (const { id, name, ready, advice } of KINDS) {
        await browser.driver.get(`${apodix.url}/work/${id}/takes?camera=practice`);
        await browser.findText(advice, ready, 60_000);
        const busy = await watch();
        const isPiece = id === 'print';
        const row = {
          'looked for': name,
          'looks at the picture, a second': Number((busy.looks ?? 0).toFixed(1)),
          'looks for the person, a second': isPiece ? 'none' : Number((busy.seen ?? 0).toFixed(1)),
          'gap between frames, ms': Number((busy.median ?? 0).toFixed(1)),
          '95th': Number((busy.high ?? 0).toFixed(1)),
          'times that of a page at rest': Number(
            ((busy.median ?? 0) / Math.max(1, calm.median ?? 1)).toFixed(2),
          ),
        };
        rows.push(row);
        tell(row);
      }
    } finally {
      await browser.close();
      await apodix.stop();
    }
    const title = 'Looks of the camera (baseline: frames of a page at rest)';
    return { tables: [{ title, rows }] };
  },
};
