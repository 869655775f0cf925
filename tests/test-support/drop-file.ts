import { By } from 'selenium-webdriver';
import type { Browser } from './browser.ts';

/** Drops a file onto the page as a person would: real bytes from disk, in a real `drop` event. */
export async function dropFile(browser: Browser, path: string): Promise<void> {
  const { driver } = browser;
  await driver.executeScript(`
    const input = document.createElement('input');
    input.type = 'file';
    input.id = 'dropped-file';
    document.body.append(input);`);
  await (await driver.findElement(By.id('dropped-file'))).sendKeys(path);
  await driver.executeScript(`
    const input = document.getElementById('dropped-file');
    const data = new DataTransfer();
    data.items.add(input.files[0]);
    input.remove();
    for (const type of ['dragenter', 'dragover', 'drop']) window.dispatchEvent(new DragEvent(type, { dataTransfer: data, bubbles: true, cancelable: true }));`);
}

/** Chooses a file in the page's own file field, as the system's dialogue would. */
export async function chooseFile(browser: Browser, path: string): Promise<void> {
  await browser.find('.drop');
  await (await browser.driver.findElement(By.css('[data-testid=file-input]'))).sendKeys(path);
}
