import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, By, type WebDriver, type WebElement } from 'selenium-webdriver';
import { Options, ServiceBuilder, type Driver } from 'selenium-webdriver/chrome.js';

export interface Browser {
  readonly driver: WebDriver;
  setView(widthPx: number, heightPx: number, isDark?: boolean): Promise<void>;
  /** Waits for an element that is there and shown. */
  find(selector: string, timeoutMs?: number): Promise<WebElement>;
  /** Waits for a shown element that holds the text. */
  findText(selector: string, text: string | RegExp, timeoutMs?: number): Promise<WebElement>;
  click(selector: string, text?: string | RegExp): Promise<void>;
  close(): Promise<void>;
}

const ARGUMENTS = [
  '--headless=new',
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--disable-dev-shm-usage',
  '--hide-scrollbars',
  '--lang=en-GB',
  '--autoplay-policy=no-user-gesture-required',
];

/** A fresh headless Chromium with its own profile. */
export interface BrowserOptions {
  /** A profile that is there already, and stays. */
  readonly profile?: string;
  /** A camera and a microphone that Chromium makes up, and gives to every page that asks. */
  readonly hasCamera?: boolean;
  readonly more?: readonly string[];
}

const CAMERA = ['--use-fake-device-for-media-stream', '--use-fake-ui-for-media-stream'];

export async function openBrowser(wish: BrowserOptions = {}): Promise<Browser> {
  process.env.SE_OFFLINE = 'true';
  process.env.SE_AVOID_STATS = 'true';
  const profile = wish.profile ?? (await mkdtemp(join(tmpdir(), 'apodix-chromium-')));
  const options = new Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  options.addArguments(
    ...ARGUMENTS,
    ...(wish.hasCamera ? CAMERA : []),
    ...(wish.more ?? []),
    `--user-data-dir=${profile}`,
  );
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(
      new ServiceBuilder('/usr/bin/chromedriver').setEnvironment({
        ...(process.env as Record<string, string>),
        LANGUAGE: 'en_GB',
      }),
    )
    .build();
  const tools = driver as Driver;
  const matches = (found: string, wanted: string | RegExp) =>
    typeof wanted === 'string' ? found.includes(wanted) : wanted.test(found);
  const findText = async (
    selector: string,
    text: string | RegExp,
    timeoutMs = 20_000,
  ): Promise<WebElement> => {
    let seen: string[] = [];
    const found = await driver
      .wait(async () => {
        seen = [];
        for (const element of await driver.findElements(By.css(selector))) {
          try {
            const words = await element.getText();
            seen.push(words);
            if (matches(words, text) && (text === '' || (await element.isDisplayed()))) return element;
          } catch {
            return null;
          }
        }
        return null;
      }, timeoutMs)
      .catch(() => null);
    if (!found)
      throw new Error(
        `No "${selector}" holds ${String(text)}; there is: ${seen.map((words) => JSON.stringify(words.slice(0, 120))).join(', ') || 'nothing'} at ${await driver.getCurrentUrl()}`,
      );
    return found;
  };
  const find = (selector: string, timeoutMs = 20_000) => findText(selector, '', timeoutMs);
  return {
    driver,
    setView: async (width, height, isDark = false) => {
      await tools.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
        width,
        height,
        deviceScaleFactor: 1,
        mobile: false,
      });
      await tools.sendDevToolsCommand('Emulation.setEmulatedMedia', {
        features: [{ name: 'prefers-color-scheme', value: isDark ? 'dark' : 'light' }],
      });
    },
    find,
    findText,
    click: async (selector, text) => {
      for (let attempt = 0; ; attempt += 1) {
        const element = text === undefined ? await find(selector) : await findText(selector, text);
        try {
          await driver.executeScript('arguments[0].scrollIntoView({block: "center"})', element);
          await element.click();
          return;
        } catch (error) {
          if (attempt >= 10) throw error;
          await driver.sleep(200);
        }
      }
    },
    close: async () => {
      await driver.quit();
      if (wish.profile === undefined) await rm(profile, { recursive: true, force: true });
    },
  };
}
