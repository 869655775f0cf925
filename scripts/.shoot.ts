import { writeFile } from 'node:fs/promises';
import { openBrowser } from '/work/main/tests/test-support/browser.ts';
const url='http://127.0.0.1:4870';
const b = await openBrowser();
try {
  await b.driver.get(url+'/sign-in'); await b.click('li button','Ineke Varga'); await b.find('.card');
  for (const arg of process.argv.slice(2)) {
    const [name,path,w,h,dark,script] = arg.split('|');
    await b.setView(Number(w||1280),Number(h||800),dark==='dark');
    await b.driver.get(url+path); await b.driver.sleep(900);
    if (script) { await b.driver.executeScript(script); await b.driver.sleep(700); }
    await writeFile('/tmp/shots/'+name+'.png', await b.driver.takeScreenshot(),'base64');
  }
} finally { await b.close(); }
