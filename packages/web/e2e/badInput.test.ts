import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { byTest, drop, headline, paste, textFits } from './browser.ts';
import { useBrowser } from './session.ts';

describe('bad input', () => {
  const browser = useBrowser();
  const message = (pattern: RegExp): Promise<string> => textFits(browser(), '[data-test="message"]', pattern);
  beforeEach(async () => {
    await browser().driver.get(`${browser().address}case/demo-gullcast`);
    await headline(browser(), /Astray/);
  });
  afterEach(() => headline(browser(), /Astray/));

  it('says what a dropped picture or program is not, and what could be sent instead', async () => {
    await drop(
      browser(),
      'screen.png',
      Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13]),
    );
    await message(/screen\.png.*not text.*Send/);
    await drop(
      browser(),
      'thing.bin',
      Uint8Array.from({ length: 5000 }, (_, i) => (i * 7919) % 256),
    );
    await message(/thing\.bin.*not text/);
  });

  it('refuses 200 MB at once and stays usable', async () => {
    await browser().driver.executeScript(() => {
      const data = new DataTransfer();
      data.items.add(new File([new Uint8Array(200 * 1024 * 1024).fill(65)], 'huge.log'));
      document
        .querySelector('.bench')!
        .dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }));
    });
    await message(/huge\.log has 200 MiB.*Send the part/);
    await paste(browser(), 'seen from outside 203.0.113.50');
    await message(/Gateway/);
    await (await byTest(browser(), 'undo')).click();
  });

  it('says that it reads a large text, and can be stopped; nothing of it is kept', async () => {
    await browser().driver.executeScript(() => {
      const line =
        'Nov 24 02:51:25 plover kernel: DENY IN=eth0 OUT= MAC= SRC=198.51.100.23 DST=203.0.113.50 ' +
        'LEN=60 PROTO=TCP SPT=40112 DPT=8299 SYN\n';
      const data = new DataTransfer();
      data.items.add(new File([line.repeat(230_000)], 'kern.log'));
      // Pressed as soon as it is there: on a fast machine reading does not take long.
      const waits = setInterval(() => {
        const stop = document.querySelector<HTMLButtonElement>('[data-test="stop-reading"]');
        if (stop) {
          clearInterval(waits);
          stop.click();
        }
      }, 5);
      document
        .querySelector('.bench')!
        .dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }));
    });
    await message(/Stopped; nothing was taken in/);
    await paste(browser(), 'seen from outside 203.0.113.50');
    await message(/Gateway/);
    await (await byTest(browser(), 'undo')).click();
  });

  it('keeps what it does not understand as a note, and shows nothing of it as HTML', async () => {
    await paste(
      browser(),
      'The cat sat on the router.\n<img src=x onerror="document.title=1">\n' +
        '<script>document.title="2"</script>\n',
    );
    await message(/not understood, kept as a note/);
    expect(await browser().driver.getTitle()).to.match(/Bright Ferry/);
    expect(
      await browser().driver.executeScript(() => document.querySelectorAll('main img, main script').length),
    ).to.equal(0);
    await (await byTest(browser(), 'undo')).click();
  });

  it('has a word for nothing', async () => {
    await drop(browser(), 'empty.txt', new Uint8Array());
    await message(/nothing in it/);
  });

  it('refuses a damaged or foreign case file with the reason, and leaves the store alone', async () => {
    const files: readonly (readonly [string, Buffer, RegExp])[] = [
      ['damaged.zip', Buffer.from('PK\u0003\u0004 and then rubbish'), /damaged\.zip.*Nothing was changed/],
      ['foreign.zip', Buffer.from('hello'), /foreign\.zip.*Nothing was changed/],
    ];
    await browser().driver.get(`${browser().address}cases`);
    await textFits(browser(), 'main section', /Ebbtide/);
    for (const [name, bytes, said] of files) {
      const path = join(browser().downloads, name);
      writeFileSync(path, bytes);
      await browser().driver.executeScript(
        () => ((document.querySelector('[data-test="import-input"]') as HTMLElement).hidden = false),
      );
      await (await byTest(browser(), 'import-input')).sendKeys(path);
      await textFits(browser(), '[data-test="import-problem"]', said);
    }
    expect(await browser().driver.executeScript(() => document.querySelectorAll('main li').length)).to.equal(
      3,
    );
    await browser().driver.get(`${browser().address}case/demo-gullcast`);
  });
});

describe('a browser that keeps nothing', () => {
  const browser = useBrowser();

  it('says so plainly, works on, and still exports', async () => {
    await browser().driver.sendDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', {
      source:
        'Object.defineProperty(window, "indexedDB", { value: { open() { throw new ' +
        'DOMException("full", "QuotaExceededError") }, deleteDatabase() {}, cmp: () => 0 } })',
    });
    await browser().driver.get(`${browser().address}case/demo-gullcast`);
    await textFits(browser(), 'body', /Export the case/);
    await headline(browser(), /Astray/);
    await paste(browser(), 'seen from outside 203.0.113.50');
    await textFits(browser(), '[data-test="message"]', /Gateway/);
    await browser().driver.executeScript(() => document.body.focus());
    await headline(browser(), /Astray/);
  });
});
