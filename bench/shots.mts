import { writeFile } from 'node:fs/promises';
import { openBrowser } from '../tests/test-support/browser.ts';
const b = await openBrowser({ more: ['--enable-unsafe-swiftshader'] });
try {
  await b.setView(1280, 800);
  await b.driver.get('http://127.0.0.1:4870/sign-in');
  await b.find('li button');
  await b.click('li button', 'Ineke Varga');
  await b.find('.card');
  await b.driver.get('http://127.0.0.1:4870/work/marimba/shape');
  await b.find('.strip');
  await b.driver.sleep(2500);
  const shot = async (n: string) =>
    writeFile(`/tmp/shots/${n}.png`, await b.driver.takeScreenshot(), 'base64');
  await shot('cut');
  await b.click('.tabs button', 'Colour');
  await b.driver.sleep(1200);
  await shot('color');
  await b.click('.tools button', 'Before and after');
  await b.driver.sleep(800);
  await shot('split');
  await b.click('.tabs button', 'Frame');
  await b.click('.tools button', 'Choose a part');
  await b.driver.sleep(600);
  await shot('frame');
  await b.click('.tabs button', 'Sound');
  await b.driver.sleep(600);
  await shot('sound');
  console.log(
    await b.driver
      .manage()
      .logs()
      .get('browser')
      .then((l) => l.map((x) => x.message).slice(0, 10))
      .catch((e) => String(e)),
  );
} finally {
  await b.close();
}
