import { expect } from 'chai';
import { byTest, find, headline, textFits } from './browser.ts';
import { useBrowser } from './session.ts';

describe('the desk of all cases', () => {
  const browser = useBrowser();
  const desk = async (): Promise<void> => {
    await browser().driver.get(`${browser().address}cases`);
    await byTest(browser(), 'line-demo-gullcast');
  };

  it('says of each case what its verdict is, what is waited for and whose turn it is', async () => {
    await desk();
    const line = '[data-test="line-demo-gullcast"]';
    await textFits(browser(), line, /Astray · Gateway/);
    await textFits(browser(), line, /198\.51\.100\.23 → gullcast/);
    await textFits(browser(), '[data-test="turn-ours"]', /Send the forward for tcp 8214 to 192\.168\.50\.20/);
  });

  it('finds cases by words of any place, with the keyboard alone', async () => {
    await desk();
    await (await browser().driver.switchTo().activeElement()).sendKeys('tide 5432');
    await browser().driver.wait(
      async () => (await browser().driver.findElements({ css: 'main li' })).length === 1,
      15_000,
    );
    await textFits(browser(), 'main li', /Ebbtide/);
    await (await browser().driver.switchTo().activeElement()).sendKeys(' nowhere');
    await byTest(browser(), 'nothing');
  });

  it('a closed case goes to the end, and is opened again from the bench', async () => {
    await browser().driver.get(`${browser().address}case/demo-gullcast`);
    await headline(browser(), /Astray/);
    await (await browser().driver.switchTo().activeElement()).sendKeys('d');
    await byTest(browser(), 'closed');
    await desk();
    await textFits(browser(), '[data-test="turn-closed"]', /Gullcast/);
    await browser().driver.get(`${browser().address}case/demo-gullcast`);
    await (await find(browser(), '[data-test="closed"] .link')).click();
    // Only what is said to be kept may be left.
    await browser().driver.wait(
      async () => (await browser().driver.findElements({ css: '[data-test="closed"]' })).length === 0,
      15_000,
    );
    await byTest(browser(), 'kept');
    await desk();
    await textFits(browser(), '[data-test="turn-ours"]', /Gullcast/);
  });

  it('a removed case can be put back, and a returning caller gets the site as it was known', async () => {
    await desk();
    await (await byTest(browser(), 'remove-demo-gullcast')).click();
    await (await byTest(browser(), 'put-back')).click();
    await (await byTest(browser(), 'again-demo-gullcast')).click();
    await headline(browser(), /Astray/);
    await textFits(browser(), '[data-test="heard"]', /harbour radio, again/);
    expect(await browser().driver.getCurrentUrl()).to.not.contain('demo-gullcast');
  });

  it('lists hundreds of cases without waiting for their verdicts', async () => {
    await desk();
    await browser().driver.executeAsyncScript((done: () => void) => {
      const request = indexedDB.open('bright-ferry');
      request.onsuccess = () => {
        const tx = request.result.transaction('heads', 'readwrite');
        for (let n = 0; n < 500; n++)
          tx.objectStore('heads').put({
            id: `many-${n}`,
            updatedAt: '2026-01-01T00:00:00Z',
            title: `Caller ${n}`,
            service: '',
            dials: '',
            from: '',
            closed: null,
            retest: null,
          });
        tx.oncomplete = () => {
          request.result.close();
          done();
        };
      };
    });
    await desk();
    await textFits(browser(), '[data-test="turn-ours"]', /50\d[\s\S]*44\d more/);
    await (await byTest(browser(), 'search')).sendKeys('caller 499');
    await textFits(browser(), 'main li', /Caller 499/);
  });
});
