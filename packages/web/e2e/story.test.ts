import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { Key } from 'selenium-webdriver';
import { unpackCase } from '@bright-ferry/core/case';
import { byTest, find, headline, paste, textFits } from './browser.ts';
import { useBrowser } from './session.ts';

const COMPLAINT =
  'lantern reef, udp 28410 and tcp 28410, play.gannet.example.net from 198.51.100.23, times out';
const STATUS = 'Internet\nWAN IP\t203.0.113.50\nDefault gateway\t203.0.113.49\nLAN IP\t192.168.50.1\n';
const NAME = 'play.gannet.example.net has address 203.0.113.50\n';
const FORWARDS =
  'Name\tProtocol\tOutside port\tInside address\tInside port\n' +
  'lantern reef\tUDP\t28410\t192.168.50.31\t28410\n' +
  'lantern reef\tTCP\t28410\t192.168.50.20\t28410\n';
const LEASES =
  '1795541919 02:48:4e:00:01:31 192.168.50.31 printer-hall *\n' +
  '1795541919 02:48:4e:00:00:20 192.168.50.20 heron *\n';
const ADDRESSES =
  '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 qdisc noqueue state UNKNOWN\n' +
  '    inet 127.0.0.1/8 scope host lo\n' +
  '2: eno1: <BROADCAST,MULTICAST,UP,LOWER_UP> mtu 1500 qdisc fq_codel state UP\n' +
  '    link/ether 02:48:4e:00:00:20 brd ff:ff:ff:ff:ff:ff\n' +
  '    inet 192.168.50.20/24 brd 192.168.50.255 scope global eno1\n';

describe('the story: from one line of complaint to a mend', () => {
  const browser = useBrowser();
  const h1 = (pattern: RegExp): Promise<string> => headline(browser(), pattern);
  const lamps = async (): Promise<string[]> =>
    browser().driver.executeScript<string[]>(() =>
      [...document.querySelectorAll('.bench .crossing .word')].map((e) => e.textContent ?? ''),
    );

  it('has the demo cases on the first visit, the newest on the bench', async () => {
    await browser().driver.get(browser().address);
    await h1(/./);
    expect(await browser().driver.getCurrentUrl()).to.match(/\/case\/demo-/);
    await browser().driver.get(`${browser().address}cases`);
    const text = await textFits(browser(), 'main section', /Ebbtide/);
    for (const name of ['Lantern Reef', 'Gullcast', 'Ebbtide']) expect(text).to.contain(name);
  });

  it('tells what is wrong in each demo case', async () => {
    const said: readonly (readonly [string, RegExp, RegExp])[] = [
      ['lantern-reef', /shared by the carrier/, /public IPv4 address/],
      ['gullcast', /192\.168\.50\.31.*printer-hall.*192\.168\.50\.20/, /192\.168\.50\.20/],
      ['ebbtide', /198\.51\.100\./, /loopback/],
    ];
    for (const [name, verdict, next] of said) {
      await browser().driver.get(`${browser().address}case/demo-${name}`);
      await h1(verdict);
      await textFits(browser(), '.next', next);
    }
  });

  it('the crossing grows as the line is typed', async () => {
    await browser().driver.get(`${browser().address}new`);
    const field = await byTest(browser(), 'complaint');
    await field.sendKeys('gullcast, tcp 8214');
    await textFits(browser(), '[data-test="first-crossing"]', /Outside client.*Gateway.*Server/s);
    await field.sendKeys(', 203.0.113.50 from 198.51.100.23');
    await textFits(browser(), '[data-test="first-crossing"]', /198\.51\.100\.23.*203\.0\.113\.50/s);
    await field.sendKeys(', a rented machine');
    await textFits(browser(), '[data-test="first-crossing"]', /Perimeter/);
  });

  it('opens a case from one line, and marks what is missing', async () => {
    await browser().driver.get(`${browser().address}new`);
    const line = await byTest(browser(), 'complaint');
    await line.sendKeys('lantern reef, udp 28410 and tcp 28410, play.gannet.example.net;28410, times out');
    await textFits(browser(), '[data-test="slips"]', /“;”.*“:”/);
    expect(await (await byTest(browser(), 'client')).getAttribute('value')).to.equal('');
    await line.clear();
    await line.sendKeys(COMPLAINT);
    await browser().driver.wait(
      async () => (await (await byTest(browser(), 'client')).getAttribute('value')) === '198.51.100.23',
      5000,
    );
    expect(await (await byTest(browser(), 'service')).getAttribute('value')).to.equal('Lantern Reef');
    expect(await (await byTest(browser(), 'ports')).getAttribute('value')).to.equal('udp 28410, tcp 28410');
    await line.sendKeys(Key.ENTER);
    await h1(/not been looked up/);
  });

  it('takes evidence from anywhere, assigns it by its content; the crossing changes', async () => {
    await paste(browser(), NAME);
    await textFits(browser(), '[data-test="message"]', /Outside client/);
    await paste(browser(), STATUS);
    await textFits(browser(), '[data-test="message"]', /Gateway/);
    await paste(browser(), FORWARDS);
    await paste(browser(), LEASES);
    await paste(browser(), ADDRESSES);
    await h1(/Astray at the gateway.*192\.168\.50\.31/);
    expect((await lamps())[3]).to.equal('shut');
  });

  it('undoes and redoes every step, with the keyboard alone', async () => {
    const body = await find(browser(), 'body');
    await body.sendKeys(Key.chord(Key.CONTROL, 'z'));
    await body.sendKeys(Key.chord(Key.CONTROL, 'z'));
    await body.sendKeys(Key.chord(Key.CONTROL, 'z'));
    await textFits(browser(), '.next', /Forward table/);
    await body.sendKeys(Key.chord(Key.CONTROL, Key.SHIFT, 'z'));
    await body.sendKeys(Key.chord(Key.CONTROL, Key.SHIFT, 'z'));
    await body.sendKeys(Key.chord(Key.CONTROL, Key.SHIFT, 'z'));
    await h1(/Astray at the gateway/);
  });

  it('shows the original text with the line marked at a click; Esc leads back', async () => {
    await (await find(browser(), '[data-test="rests-on"]')).click();
    expect(await textFits(browser(), '[data-test="marked-line"]', /192\.168\.50\.31/)).to.contain('28410');
    await (await find(browser(), 'body')).sendKeys(Key.ESCAPE);
    await find(browser(), '.stop');
  });

  it('rehearses the mend on a copy: before and after side by side', async () => {
    await (await byTest(browser(), 'rehearse')).click();
    const text = await textFits(browser(), '[data-test="rehearsal"]', /Astray/);
    expect(text).to.match(/now/);
    await textFits(browser(), '[data-test="rehearsal-after"]', /192\.168\.50\.20/);
    await (await byTest(browser(), 'end-rehearsal')).click();
    await h1(/Astray at the gateway/);
  });

  it('takes the facts away with their evidence', async () => {
    await (await find(browser(), '.crossing .column:nth-child(4) .label')).click();
    await (await find(browser(), '#tab-evidence')).click();
    await (await find(browser(), '[data-test^="remove-forward-table"]')).click();
    await textFits(browser(), '.next', /Forward table/);
    await (await byTest(browser(), 'undo')).click();
    await h1(/Astray/);
  });

  it('takes one typed line like evidence', async () => {
    const box = await byTest(browser(), 'paste-box');
    await box.sendKeys('seen from outside: 203.0.113.50', Key.ENTER);
    await textFits(browser(), '[data-test="message"]', /Noted at Gateway/);
  });

  it('survives a reload', async () => {
    await browser().driver.navigate().refresh();
    await h1(/Astray at the gateway/);
    expect(await (await byTest(browser(), 'undo')).isEnabled()).to.equal(true);
  });

  it('tells the story, exports the case with the same bytes, and takes it in again', async () => {
    await (await find(browser(), 'body')).sendKeys('h');
    const story = await textFits(browser(), '[data-test="story"]', /Astray/);
    for (const part of ['192.168.50.31', 'printer-hall', '198.51.100.23']) expect(story).to.contain(part);
    await (await byTest(browser(), 'export-case')).click();
    const name = await browser().driver.wait(
      () => readdirSync(browser().downloads).find((f) => f.endsWith('.ferry.zip')) ?? null,
      10_000,
    );
    const packed = new Uint8Array(readFileSync(join(browser().downloads, name!)));
    const texts = [...unpackCase(packed, name!).files.values()].map((b) => new TextDecoder().decode(b));
    expect(texts).to.have.members([NAME, STATUS, FORWARDS, LEASES, ADDRESSES]);
    await browser().driver.get(`${browser().address}cases`);
    const rows = async (): Promise<number> =>
      await browser().driver.executeScript<number>(() => document.querySelectorAll('main li').length);
    await textFits(browser(), 'main section', /Lantern Reef/);
    const before = await rows();
    await browser().driver.executeScript(
      () => ((document.querySelector('[data-test="import-input"]') as HTMLElement).hidden = false),
    );
    await (await byTest(browser(), 'import-input')).sendKeys(join(browser().downloads, name!));
    await h1(/Astray at the gateway/);
    await browser().driver.get(`${browser().address}cases`);
    await browser().driver.wait(async () => (await rows()) === before + 1, 5000);
  });
});
