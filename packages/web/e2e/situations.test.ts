import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import { SITUATIONS, type Situation } from '../src/testing/situations.ts';
import { byTest, find, headline, paste, textFits, type Browser } from './browser.ts';
import { useBrowser } from './session.ts';

/** What a technician does with one hand or the other; each counts what it took. */
abstract class Hands {
  acts = 0;
  readonly browser: Browser;

  constructor(browser: Browser) {
    this.browser = browser;
  }

  abstract open(line: string): Promise<void>;
  abstract assign(stop: string): Promise<void>;
  abstract typed(line: string): Promise<void>;
  abstract press(test: string, key: string): Promise<void>;

  async pasted(text: string): Promise<void> {
    this.acts++;
    await paste(this.browser, text);
  }

  protected async keys(...keys: string[]): Promise<void> {
    this.acts++;
    await (await this.browser.driver.switchTo().activeElement()).sendKeys(...keys);
  }

  protected async click(selector: string): Promise<void> {
    this.acts++;
    await (await find(this.browser, selector)).click();
  }
}

class Mouse extends Hands {
  async open(line: string): Promise<void> {
    await this.click('a[href="/new"]');
    await byTest(this.browser, 'complaint');
    await this.keys(line);
    await this.click('[data-test="open-case"]');
  }

  assign(stop: string): Promise<void> {
    return this.click(`[data-test="assign-${stop}"]`);
  }

  async typed(line: string): Promise<void> {
    await this.click('[data-test="paste-box"]');
    await this.keys(line, Key.ENTER);
  }

  press(test: string): Promise<void> {
    return this.click(`[data-test="${test}"]`);
  }
}

class Keyboard extends Hands {
  async open(line: string): Promise<void> {
    await this.keys('n');
    await byTest(this.browser, 'complaint');
    await this.keys(line);
    await this.keys(Key.ENTER);
  }

  async assign(stop: string): Promise<void> {
    const buttons = await this.browser.driver.findElements(By.css('.asking [data-test^="assign-"]'));
    const names = await Promise.all(buttons.map((b) => b.getAttribute('data-test')));
    for (let i = names.indexOf(`assign-${stop}`); i > 0; i--) await this.keys(Key.TAB);
    await this.keys(Key.ENTER);
  }

  async typed(line: string): Promise<void> {
    await this.keys('e');
    await this.keys(line, Key.ENTER);
    await this.keys(Key.ESCAPE);
  }

  press(_test: string, key: string): Promise<void> {
    return this.keys(key);
  }
}

describe('situations, walked as a technician does', () => {
  const browser = useBrowser();
  const isThere = (selector: string): Promise<boolean> =>
    browser().driver.executeScript<boolean>((s: string) => document.querySelector(s) !== null, selector);
  const text = (selector: string): Promise<string> =>
    browser().driver.executeScript<string>(
      (s: string) => document.querySelector(s)?.textContent ?? '',
      selector,
    );

  /** Waits until a piece is taken in: a question is asked, or something new is said of it. */
  async function takenIn(before: string): Promise<void> {
    await browser().driver.wait(
      async () => (await isThere('.asking')) || (await said()) !== before,
      15_000,
      'nothing is said of the piece',
    );
  }
  const said = async (): Promise<string> =>
    `${await text('[data-test="shelf-button"]')} ${await text('[data-test="message"]')} ` +
    `${await text('h1[data-test="headline"]')}`;

  async function takeIn(hands: Hands, situation: Situation): Promise<void> {
    await hands.open(
      situation.way === 'rented' ? `${situation.complaint}, rented machine` : situation.complaint,
    );
    await textFits(browser(), '[data-test="shelf-button"]', /Evidence 0/);
    await headline(browser(), /\S/);
    for (const [stop, piece] of situation.pieces) {
      const before = await said();
      await (stop === 'typed' ? hands.typed(piece) : hands.pasted(piece));
      await takenIn(before);
      if (await isThere('.asking')) {
        await hands.assign(stop);
        await browser().driver.wait(async () => !(await isThere('.asking')), 15_000, 'the question stays');
      }
    }
    if (situation.whole && (await isThere('[data-test="is-whole"]'))) await hands.press('is-whole', 'a');
    await headline(browser(), situation.seen);
    expect(await outOfSight(), situation.title).to.deep.equal([]);
  }

  /** What of verdict, crossing, next step and paste place does not stand on the first screen. */
  const outOfSight = (): Promise<string[]> =>
    browser().driver.executeScript<string[]>(() => {
      // Where it is answered, the next step is to say what came of a try.
      const buttons = '.advice .buttons button, [data-test="seen-works"]';
      const seen = `[data-test="headline"], .crossing, ${buttons}, [data-test="paste-box"]`;
      const all = [...document.querySelectorAll(seen)];
      if (all.length < 4) return ['no verdict, crossing, button or paste place'];
      const out = all.filter((e) => {
        const { top, bottom, right, width } = e.getBoundingClientRect();
        return width > 0 && (top < 0 || bottom > innerHeight || right > innerWidth);
      });
      return out.map(
        (e) =>
          `${e.className} ${e.textContent?.trim().slice(0, 40)} ${JSON.stringify(e.getBoundingClientRect())}`,
      );
    });

  /** From the verdict to the closed case: rehearsal, made, the client's try, the handover. */
  async function settle(hands: Hands): Promise<void> {
    await hands.press('rehearse', 'r');
    await textFits(browser(), '[data-test="rehearsal-after"]', /\S/);
    await hands.press('end-rehearsal', Key.ESCAPE);
    await byTest(browser(), 'change-made');
    await hands.press('change-made', 'm');
    await textFits(browser(), '[data-test="message"]', /Noted as made/);
    await hands.press('seen-works', '1');
    await headline(browser(), /^Answered: seen to work since the change/);
  }

  async function walk(hands: Hands, title: string): Promise<void> {
    const situation = SITUATIONS.find((s) => s.title === title);
    if (!situation) throw new Error(`no situation “${title}”`);
    await takeIn(hands, situation);
    const change = await text('.next h2');
    await settle(hands);
    await hands.press('handover', 'h');
    await textFits(
      browser(),
      'main',
      new RegExp(change.slice(0, 30).replaceAll(/[.*+?^${}()|[\]\\]/g, '\\$&')),
    );
    await browser().driver.navigate().back();
    await headline(browser(), /./);
  }

  before(async () => {
    await browser().driver.get(browser().address);
    await headline(browser(), /./);
  });

  const MOUSE = [
    'a group that the client is not in',
    'a rule for the zone before the translation',
    'digits swapped between rule and mapping',
    'three rows for a recorder, one not applied',
    'a row bound to the other line',
    'a block beats an allow',
  ];
  for (const title of MOUSE) it(`by mouse: ${title}`, () => walk(new Mouse(browser()), title));

  const KEYS = ['a mapping with its sides exchanged', 'a Windows row for the local subnet'];
  for (const title of KEYS) it(`by keyboard: ${title}`, () => walk(new Keyboard(browser()), title));

  it('none of them takes many acts to its verdict', async function () {
    this.timeout(400_000);
    const counts: number[] = [];
    const some = process.env['EVERY_SITUATION'] ? SITUATIONS : SITUATIONS.slice(0, 4);
    for (const situation of some) {
      const hands = new Mouse(browser());
      await takeIn(hands, situation);
      counts.push(hands.acts);
      if (process.env['EVERY_SITUATION']) process.stdout.write(`${hands.acts} acts: ${situation.title}\n`);
    }
    expect(Math.max(...counts)).to.be.at.most(20);
  });
});
