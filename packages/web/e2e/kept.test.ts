import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { unpackCase } from '@bright-ferry/core/case';
import { serve, type Served } from '@bright-ferry/server';
import { byTest, find, headline, openBrowser, paste, textFits, type Browser } from './browser.ts';

const CASE = 'case/demo-gullcast';

/** Everything that a page says it kept is kept, and nothing is lost without a word. */
describe('nothing is lost', () => {
  let served: Served;
  let browser: Browser;

  beforeEach(async () => {
    served = await serve({ port: 0 });
    browser = await openBrowser({ address: served.address });
    await open();
  });

  afterEach(async () => {
    await browser.close();
    served.close();
  });

  async function open(): Promise<void> {
    await browser.driver.get(`${served.address}${CASE}`);
    await headline(browser, /./);
  }

  const message = (pattern: RegExp): Promise<string> => textFits(browser, '[data-test="message"]', pattern);
  const evidence = (count: number): Promise<string> =>
    textFits(browser, '[data-test="shelf-button"]', new RegExp(`Evidence ${count}$`));

  async function newTab(): Promise<string> {
    await browser.driver.switchTo().newWindow('tab');
    await open();
    return browser.driver.getWindowHandle();
  }

  /** The case file that comes when it is exported. */
  async function exported(): Promise<ReturnType<typeof unpackCase>> {
    await browser.driver.executeScript(() => {
      (document.activeElement as HTMLElement | null)?.blur();
      document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'x', bubbles: true }));
    });
    const files = (): string[] => readdirSync(browser.downloads).filter((f) => f.endsWith('.zip'));
    await browser.driver.wait(() => files().length > 0, 15_000, 'no case file comes');
    const [name = ''] = files();
    return unpackCase(new Uint8Array(readFileSync(join(browser.downloads, name))), name);
  }

  it('two tabs on one case show each other’s changes, and both are kept', async () => {
    const first = await browser.driver.getWindowHandle();
    await newTab();
    await paste(browser, 'seen from outside 203.0.113.50');
    await message(/Gateway/);
    await browser.driver.switchTo().window(first);
    await message(/Changed in another page/);
    await evidence(9);
    await paste(browser, 'hostname: plover');
    await message(/Put to|kept as a note/);
    await evidence(10);
    await open();
    await evidence(10);
  });

  it('a case that is removed in one tab stays whole in the other', async () => {
    const first = await browser.driver.getWindowHandle();
    await browser.driver.switchTo().newWindow('tab');
    await browser.driver.get(`${served.address}cases`);
    await (await byTest(browser, 'remove-demo-gullcast')).click();
    await byTest(browser, 'put-back');
    await browser.driver.switchTo().window(first);
    await message(/removed in another page/);
    await byTest(browser, 'unkept');
    await paste(browser, 'seen from outside 203.0.113.50');
    await message(/kept again, whole/);
    await byTest(browser, 'kept');
    await open();
    await evidence(9);
    expect((await exported()).files.size).to.equal((await exported()).document.evidence?.length);
  });

  it('site data that is cleared under an open case is written again', async () => {
    await browser.driver.executeAsyncScript((done: () => void) => {
      const request = indexedDB.deleteDatabase('bright-ferry');
      request.onsuccess = request.onerror = request.onblocked = () => done();
    });
    await paste(browser, 'seen from outside 203.0.113.50');
    await message(/kept again, whole/);
    await open();
    await headline(browser, /Astray/);
    await evidence(9);
  });

  it('a full storage says so, the export is whole, and the next write brings everything', async () => {
    const fill = (isFull: boolean): Promise<void> =>
      browser.driver.executeScript((full: boolean) => {
        const store = IDBObjectStore.prototype as unknown as { put: unknown; working?: unknown };
        store.working ??= store.put;
        store.put = full
          ? () => {
              throw new DOMException('full', 'QuotaExceededError');
            }
          : store.working;
      }, isFull);
    await fill(true);
    await paste(browser, 'seen from outside 203.0.113.50');
    await find(browser, '.trouble[role="alert"]');
    await byTest(browser, 'unkept');
    const { document, files } = await exported();
    for (const { file } of document.evidence ?? []) expect(files.has(file), file).to.equal(true);
    await fill(false);
    await paste(browser, 'hostname: plover');
    await byTest(browser, 'kept');
    await browser.driver.wait(
      async () => (await browser.driver.findElements({ css: '.trouble[role="alert"]' })).length === 0,
      15_000,
    );
    await open();
    await evidence(10);
  });

  it('the open page goes on without its server: evidence, export, handover, a reload', async () => {
    await browser.driver.wait(
      async () => browser.driver.executeScript<boolean>(() => navigator.serviceWorker.controller !== null),
      30_000,
      'no service worker takes the page over',
    );
    served.close();
    await paste(browser, 'seen from outside 203.0.113.50');
    await message(/Gateway/);
    expect((await exported()).document.title).to.contain('Gullcast');
    await (await find(browser, 'nav a[href$="/handover"]')).click();
    await byTest(browser, 'story');
    await browser.driver.get(`${served.address}cases`);
    await find(browser, 'main');
    await open();
    await evidence(9);
  });
});
