// Takes the pictures of the main views from a running Apodix with demo data: tsx scripts/take-screenshots.ts
// URL FOLDER [names…]
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { openBrowser } from '../tests/test-support/browser.ts';

const [url = 'http://127.0.0.1:4870', folder = 'docs/screenshots', ...wanted] = process.argv.slice(2);
const desktop = [1280, 800] as const;
const phone = [390, 844] as const;
const views: readonly {
  name: string;
  path: string;
  size: readonly [number, number];
  isDark?: boolean;
  waitFor: string;
  waitMs?: number;
  /** A button that is pressed first. */
  press?: string;
}[] = [
  { name: 'sign-in', path: '/sign-in', size: desktop, waitFor: 'li button' },
  { name: 'today', path: '/today', size: desktop, waitFor: '.card img' },
  { name: 'brief', path: '/work/marimba/brief', size: desktop, waitFor: '.limits li' },
  { name: 'my-takes', path: '/takes', size: desktop, waitFor: '.card img' },
  { name: 'takes', path: '/work/marimba/takes', size: desktop, waitFor: '.card img' },
  {
    name: 'camera',
    path: '/work/marimba/takes?camera=practice',
    size: desktop,
    waitFor: '.camera video',
    waitMs: 9000,
  },
  {
    name: 'camera-phone',
    path: '/work/linocut/takes?camera=practice',
    size: phone,
    waitFor: '.camera video',
    waitMs: 6000,
  },
  { name: 'cards', path: '/cards', size: desktop, waitFor: 'fieldset', waitMs: 500, press: 'Make the card' },
  {
    name: 'shape-video',
    path: '/work/marimba/shape',
    size: desktop,
    waitFor: '.strip',
    waitMs: 2500,
    press: 'Colour',
  },
  {
    name: 'shape-photo',
    path: '/work/grey-card/shape',
    size: desktop,
    waitFor: '.surround img',
    waitMs: 2000,
    press: 'Colour',
  },
  {
    name: 'sheet',
    path: '/work/linocut/sheet',
    size: desktop,
    waitFor: '.paper image',
    waitMs: 2000,
  },
  { name: 'fit', path: '/work/marimba/fit', size: desktop, waitFor: '.chart .main-svg', waitMs: 1500 },
  { name: 'hand-in', path: '/work/marimba/hand-in', size: desktop, waitFor: '.item' },
  { name: 'quick-fit', path: '/quick-fit', size: desktop, waitFor: '.drop' },
  { name: 'new-assignment', path: '/new', size: desktop, waitFor: '#title' },
  { name: 'feedback', path: '/work/salt-ledger/hand-in', size: desktop, waitFor: '.feedback' },
  { name: 'today-phone', path: '/today', size: phone, waitFor: '.card img' },
  { name: 'shape-phone', path: '/work/marimba/shape', size: phone, waitFor: '.strip', waitMs: 1500 },
  { name: 'today-dark', path: '/today', size: desktop, isDark: true, waitFor: '.card img' },
];

const browser = await openBrowser({ more: ['--enable-unsafe-swiftshader'] });
try {
  await mkdir(folder, { recursive: true });
  await browser.driver.get(`${url}/sign-in`);
  if (!wanted.length || wanted.includes('sign-in')) {
    await browser.setView(...desktop);
    await browser.find('li button');
    await writeFile(join(folder, 'sign-in.png'), await browser.driver.takeScreenshot(), 'base64');
  }
  await browser.click('li button', 'Ineke Varga');
  await browser.find('.card');
  for (const view of views.filter(
    (each) => each.name !== 'sign-in' && (!wanted.length || wanted.includes(each.name)),
  )) {
    await browser.setView(view.size[0], view.size[1], view.isDark);
    await browser.driver.get(url + view.path);
    await browser.find(view.waitFor);
    if (view.press) await browser.click('button', view.press);
    await browser.driver.sleep(view.waitMs ?? 700);
    await writeFile(join(folder, `${view.name}.png`), await browser.driver.takeScreenshot(), 'base64');
  }
} finally {
  await browser.close();
}
