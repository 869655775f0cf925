import { writeFile } from 'node:fs/promises';
import { openBrowser } from '../tests/test-support/browser.ts';
const browser = await openBrowser();
const d = browser.driver;
const shot = async (n: string) => writeFile(`/tmp/${n}.png`, Buffer.from(await d.takeScreenshot(), 'base64'));
try {
  await browser.setView(1280, 800);
  await d.get('http://127.0.0.1:4870/sign-in');
  await browser.click('li button', process.argv[2] ?? 'Ineke Varga');
  await browser.find('.card');
  await d.get('http://127.0.0.1:4870/work/marimba/takes');
  await browser.find('.card img');
  const input = await d.findElement({ css: 'input[type=file]' });
  await input.sendKeys('/tmp/ins/k.mov');
  const t0 = Date.now();
  await browser.findText('.card', /Measuring|Looking|free place/, 60000);
  console.log('brought in', Date.now() - t0);
  await browser.find('.card .strip', 60000);
  console.log('first picture', Date.now() - t0);
  await browser.findText('.acts .main', /Play and cut/, 60000);
  console.log('playable', Date.now() - t0);
  await shot('l1');
  await browser.click('.acts .main', 'Play and cut');
  await browser.find('[data-testid=measuring]');
  await browser.click('.play', 'Play');
  await new Promise((r) => setTimeout(r, 3000));
  console.log(
    'at',
    await d.executeScript(
      'const v=document.querySelector("video");return [v.currentTime,v.duration,v.paused]',
    ),
  );
  await shot('l2');
  await browser.click('button', 'Start here').catch(() => console.log('no start here'));
  await new Promise((r) => setTimeout(r, 1500));
  await shot('l3');
  for (let i = 0; i < 200; i++) {
    if (!(await d.findElements({ css: '[data-testid=measuring]' })).length) break;
    await new Promise((r) => setTimeout(r, 1000));
  }
  console.log('measured', Date.now() - t0);
  await new Promise((r) => setTimeout(r, 2500));
  await shot('l4');
} finally {
  await browser.close();
}
