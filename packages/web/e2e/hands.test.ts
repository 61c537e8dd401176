import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { expect } from 'chai';
import { Key } from 'selenium-webdriver';
import { find, headline, paste, textFits } from './browser.ts';
import { useBrowser } from './session.ts';

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

describe('hands and eyes', () => {
  const browser = useBrowser();

  async function serious(): Promise<string[]> {
    await browser().driver.executeScript(AXE);
    const found = await browser().driver.executeAsyncScript<
      { id: string; impact: string; nodes: { html: string }[] }[]
    >((done: (v: unknown) => void) => {
      void (window as unknown as { axe: { run: () => Promise<{ violations: unknown }> } }).axe
        .run()
        .then((r) => done(r.violations));
    });
    return found
      .filter((v) => v.impact === 'serious' || v.impact === 'critical')
      .map((v) => `${v.id}: ${v.nodes[0]?.html.slice(0, 160)}`);
  }

  for (const [title, path, ready] of [
    ['the bench with a stale forward', 'case/demo-gullcast', 'h1'],
    ['the bench with two faults', 'case/demo-ebbtide', 'h1'],
    ['the bench behind a shared address', 'case/demo-lantern-reef', 'h1'],
    ['a new case', 'new', '[data-test="complaint"]'],
    ['all cases', 'cases', 'main section'],
    ['traffic', 'case/demo-gullcast/traffic', '[data-test="no-record"]'],
    ['handing over', 'case/demo-gullcast/handover', '[data-test="story"]'],
  ] as const) {
    for (const theme of ['day', 'night']) {
      it(`nothing serious is found on ${title}, by ${theme}`, async () => {
        await browser().driver.get(browser().address + path);
        await find(browser(), ready);
        await browser().driver.executeScript((t: string) => {
          document.documentElement.dataset['theme'] = t;
        }, theme);
        expect(await serious()).to.deep.equal([]);
      });
    }
  }

  it('does the whole bench with the keyboard alone', async () => {
    await browser().driver.get(`${browser().address}case/demo-gullcast`);
    await headline(browser(), /Astray/);
    const keys = async (...k: string[]): Promise<void> =>
      (await browser().driver.switchTo().activeElement()).sendKeys(...k);
    await keys('r');
    await find(browser(), '[data-test="rehearsal"]');
    await keys(Key.ESCAPE);
    await headline(browser(), /Astray/);
    await keys(Key.ARROW_RIGHT);
    await textFits(browser(), '.stop h2', /Server/);
    await keys('q');
    await textFits(browser(), '[data-test="suspect"]', /^found\s*Gateway/);
    const counts = await (await find(browser(), '[data-test="shrinking"] canvas')).getAttribute('aria-label');
    expect(counts).to.match(/^The first line: \d\d; .*: 1$/);
    expect(await serious()).to.deep.equal([]);
    await keys(Key.ESCAPE);
    await find(browser(), '.stop h2');
    await keys('e');
    await keys('seen from outside 203.0.113.50', Key.ENTER);
    await textFits(browser(), '[data-test="message"]', /Noted at Gateway/);
    await keys(Key.ESCAPE);
    await keys(Key.chord(Key.CONTROL, 'z'));
    await textFits(browser(), '[data-test="message"]', /Taken back/);
    await keys('?');
    await textFits(browser(), '[role="dialog"]', /Rehearse the change/);
    await keys(Key.ESCAPE);
    await browser().driver.wait(
      async () =>
        browser().driver.executeScript<boolean>(
          () => !document.querySelector('[role="dialog"]')?.checkVisibility(),
        ),
      5000,
      'the list of commands stays',
    );
    await keys('g', 'c');
    await textFits(browser(), 'main', /Take in a case file/);
  });

  it('shows every focus', async () => {
    await browser().driver.get(`${browser().address}case/demo-gullcast`);
    await headline(browser(), /Astray/);
    for (let i = 0; i < 12; i++) {
      await (await browser().driver.switchTo().activeElement()).sendKeys(Key.TAB);
      const outline = await browser().driver.executeScript<string>(() => {
        const style = getComputedStyle(document.activeElement!);
        return `${style.outlineStyle} ${style.outlineWidth} ${style.boxShadow}`;
      });
      expect(outline).to.not.match(/^none 0px none|^none .* none$/);
    }
  });

  it('lights every other place of the address under the pointer', async () => {
    const same = await browser().driver.executeScript<number>(() => {
      const one = [...document.querySelectorAll('.address')].find((e) => e.textContent === '192.168.50.20')!;
      one.dispatchEvent(new MouseEvent('mouseenter', { bubbles: false }));
      return new Promise((resolve) =>
        requestAnimationFrame(() => resolve(document.querySelectorAll('.address.same').length)),
      );
    });
    expect(same).to.be.above(1);
  });

  it('reads on a narrow window and on a phone', async () => {
    for (const [width, height] of [
      [1024, 768],
      [640, 400],
      [390, 800],
    ] as const) {
      await browser().driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
        width,
        height,
        deviceScaleFactor: 1,
        mobile: width < 500,
      });
      await browser().driver.get(`${browser().address}case/demo-gullcast`);
      const h1 = await find(browser(), 'h1[data-test="headline"]');
      for (const theme of ['night', 'day']) {
        await browser().driver.executeScript((t: string) => {
          document.documentElement.dataset['theme'] = t;
        }, theme);
        expect(await serious(), `${theme} at ${width}`).to.deep.equal([]);
      }
      const { width: own, x } = await h1.getRect();
      expect(x + own, `headline at ${width}`).to.be.at.most(width);
      expect(
        await browser().driver.executeScript<number>(() => document.documentElement.scrollWidth),
        `page at ${width}`,
      ).to.be.at.most(width);
    }
    await browser().driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
      width: 1280,
      height: 800,
      deviceScaleFactor: 1,
      mobile: false,
    });
  });

  it('changes the verdict on a pasted text of 1,000 lines', async () => {
    await browser().driver.get(`${browser().address}case/demo-gullcast`);
    await headline(browser(), /Astray/);
    const rows = Array.from({ length: 1000 }, (_, i) => {
      const port = i === 500 ? 8214 : 20000 + i;
      return `row ${i + 1}\tTCP\t${port}\t192.168.50.20\t${port}\ton`;
    });
    await paste(
      browser(),
      `Name\tProtocol\tOutside port\tInside address\tInside port\tState\n${rows.join('\n')}\n`,
    );
    await headline(browser(), /Answered/);
  });
});
