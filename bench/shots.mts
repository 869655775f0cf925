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
  await b.click('.tabs button','Sound'); await b.driver.sleep(500); await b.driver.executeScript("document.querySelector('.panel').scrollTop=9999"); await b.driver.sleep(300); await shot('sound2');
  await b.setView(1280, 800, true); await b.click('.tabs button','Colour'); await b.driver.sleep(900); await shot('color-dark');
  await b.setView(390, 844); await b.driver.get('http://127.0.0.1:4870/work/marimba/shape'); await b.find('.strip'); await b.driver.sleep(1500); await shot('phone');
  await b.driver.executeScript("window.scrollTo(0, 700)"); await b.driver.sleep(300); await shot('phone2');
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
