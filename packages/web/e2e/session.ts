import { after, afterEach, before } from 'mocha';
import { expect } from 'chai';
import { complaints, openBrowser, stopServing, type Browser } from './browser.ts';

/** One browser for a whole suite; every test also checks that the console had nothing to complain about. */
export function useBrowser(): () => Browser {
  let browser: Browser | null = null;
  before(async () => {
    browser = await openBrowser();
  });
  afterEach(async () => {
    if (browser) expect(await complaints(browser), 'the console').to.deep.equal([]);
  });
  after(async () => {
    await browser?.close();
    stopServing();
  });
  return () => browser!;
}
