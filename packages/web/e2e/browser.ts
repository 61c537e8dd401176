import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, until, type WebElement } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';
import { serve, type Served } from '@bright-ferry/server';

process.env['SE_MANAGER_PATH'] = '/nonexistent';

/** Longest wait for something to appear, milliseconds; generous, since machines differ. */
const PATIENCE = 15_000;

/** A headless Chromium with a fresh profile on the served application. */
export interface Browser {
  readonly driver: chrome.Driver;
  readonly address: string;
  readonly downloads: string;
  close(): Promise<void>;
}

let served: Served | null = null;

/** Ends the server that the browsers share. */
export function stopServing(): void {
  served?.close();
  served = null;
}

export interface BrowserWish {
  readonly width?: number;
  readonly height?: number;
  /** A profile that stays when the browser is closed; a fresh one without it. */
  readonly profile?: string;
  /** The application is served there already. */
  readonly address?: string;
}

export async function openBrowser({
  width = 1280,
  height = 800,
  profile: given,
  address: elsewhere,
}: BrowserWish = {}): Promise<Browser> {
  if (elsewhere === undefined) served ??= await serve({ port: 0 });
  const address = elsewhere ?? served!.address;
  const profile = given ?? mkdtempSync(join(tmpdir(), 'bright-ferry-profile-'));
  const downloads = mkdtempSync(join(tmpdir(), 'bright-ferry-downloads-'));
  const options = new chrome.Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  options.addArguments(
    '--headless=new',
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--disable-dev-shm-usage',
    '--lang=en',
    `--user-data-dir=${profile}`,
  );
  options.setUserPreferences({
    'download.default_directory': downloads,
    'download.prompt_for_download': false,
  });
  options.set('goog:loggingPrefs', { browser: 'ALL' });
  const driver = chrome.Driver.createSession(
    options,
    new chrome.ServiceBuilder('/usr/bin/chromedriver').build(),
  );
  await driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width,
    height,
    deviceScaleFactor: 1,
    mobile: false,
  });
  return {
    driver,
    address,
    downloads,
    close: async () => {
      await driver.quit();
      if (given === undefined) rmSync(profile, { recursive: true, force: true });
      rmSync(downloads, { recursive: true, force: true });
    },
  };
}

export async function find({ driver }: Browser, selector: string): Promise<WebElement> {
  return driver.wait(until.elementLocated(By.css(selector)), PATIENCE, `nothing is found for ${selector}`);
}

export const byTest = (browser: Browser, name: string): Promise<WebElement> =>
  find(browser, `[data-test="${name}"]`);

/** Chooses from a field by the words that stand there. */
export async function choose(browser: Browser, name: string, label: string): Promise<void> {
  const field = await byTest(browser, name);
  await browser.driver.executeScript((e: HTMLElement) => e.scrollIntoView({ block: 'center' }), field);
  await field.click();
  await browser.driver.wait(
    () =>
      browser.driver.executeScript<boolean>(
        (own: HTMLElement, text: string) => {
          const list = own.querySelector('[aria-controls]')?.getAttribute('aria-controls') ?? '';
          const items = [...document.querySelectorAll<HTMLElement>(`[id="${list}"] [role="option"]`)];
          const found = items.find((i) => i.textContent?.trim().startsWith(text));
          found?.click();
          return found !== undefined;
        },
        field,
        label,
      ),
    PATIENCE,
    `${name} has nothing like ${label} to choose`,
  );
}

/** Waits until the element's text fits. */
export async function textFits(browser: Browser, selector: string, pattern: RegExp): Promise<string> {
  let last = '';
  await browser.driver
    .wait(
      async () => {
        try {
          last = await (await browser.driver.findElement(By.css(selector))).getText();
          return pattern.test(last);
        } catch {
          return false;
        }
      },
      PATIENCE,
      `${selector} never fits ${pattern}`,
    )
    .catch((error: Error) => {
      throw new Error(`${error.message}; it says: ${last}`);
    });
  return last;
}

export const headline = (browser: Browser, pattern: RegExp): Promise<string> =>
  textFits(browser, 'h1[data-test="headline"]', pattern);

/** Pastes text with nothing focused, as Ctrl+V does: a paste event with the text on its clipboard. */
export async function paste({ driver }: Browser, text: string): Promise<void> {
  await driver.executeScript((value: string) => {
    (document.activeElement as HTMLElement | null)?.blur();
    const data = new DataTransfer();
    data.setData('text/plain', value);
    document.body.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
    );
  }, text);
}

/** Drops a file on the bench. */
export async function drop({ driver }: Browser, name: string, bytes: Uint8Array): Promise<void> {
  await driver.executeScript(
    (fileName: string, base64: string) => {
      const data = new DataTransfer();
      data.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], fileName));
      document
        .querySelector('.bench')!
        .dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }));
    },
    name,
    Buffer.from(bytes).toString('base64'),
  );
}

export async function screenshot({ driver }: Browser, file: string): Promise<void> {
  writeFileSync(file, await driver.takeScreenshot(), 'base64');
}

/** Everything that the console complained about since the last call. */
export async function complaints({ driver }: Browser): Promise<string[]> {
  const entries = await driver.manage().logs().get('browser');
  return entries.filter((e) => e.level.name === 'SEVERE' || e.level.name === 'WARNING').map((e) => e.message);
}
