import { expect } from 'chai';
import { Key, type WebElement } from 'selenium-webdriver';
import { byTest, choose, find, headline, textFits } from './browser.ts';
import { useBrowser } from './session.ts';

describe('the case in hand: what was heard, the way, and what is seen', () => {
  const browser = useBrowser();
  const value = async (test: string): Promise<string> =>
    (await (await byTest(browser(), test)).getAttribute('value')) ?? '';
  const write = async (field: WebElement, text: string): Promise<void> => {
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.TAB);
  };

  beforeEach(async () => {
    await browser().driver.get(`${browser().address}case/demo-gullcast`);
    await headline(browser(), /./);
  });

  it('puts a port right that was heard wrong, and takes it back', async () => {
    await (await byTest(browser(), 'heard')).click();
    const ports = await byTest(browser(), 'heard-ports');
    await write(ports, 'tcp 8299');
    await textFits(browser(), '[data-test="message"]', /what was heard/);
    await textFits(browser(), '[data-test="heard"]', /tcp 8299/);
    await (await byTest(browser(), 'undo')).click();
    await textFits(browser(), '[data-test="heard"]', /tcp 8214/);
    expect(await value('heard-ports')).to.equal('tcp 8214');
  });

  it('names what cannot be read, and keeps the case as it was', async () => {
    await (await byTest(browser(), 'heard')).click();
    await write(await byTest(browser(), 'heard-ports'), 'icmp 8');
    await textFits(browser(), '[data-test="case-panel"] .problem', /protocol and port/);
    await textFits(browser(), '[data-test="heard"]', /tcp 8214/);
    expect(await value('heard-ports')).to.equal('icmp 8');
    await write(await byTest(browser(), 'heard-ports'), 'tcp 8214');
  });

  it('puts a stop on the way, calls it something, and takes it off', async () => {
    await (await byTest(browser(), 'heard')).click();
    await (await byTest(browser(), 'add-stop')).click();
    await textFits(browser(), '[data-test="message"]', /put on the way/);
    await find(browser(), '[data-test="way-gateway-2"]');
    await write(await byTest(browser(), 'name-gateway-2'), 'Plover');
    await textFits(browser(), '[data-test="message"]', /Called Plover/);
    await (await byTest(browser(), 'outward-gateway-2')).click();
    await textFits(browser(), '[data-test="message"]', /Plover moved/);
    await (await byTest(browser(), 'off-gateway-2')).click();
    await textFits(browser(), '[data-test="message"]', /Plover taken off the way/);
  });

  it('keeps what the client sees, and holds it against the verdict', async () => {
    await headline(browser(), /^Astray at the gateway/);
    await (await byTest(browser(), 'seen-works')).click();
    await headline(browser(), /^Seen to work; by what is known it cannot, at the gateway/);
    await textFits(browser(), '[data-test="seen-last"]', /just now/);
    await (await byTest(browser(), 'undo')).click();
    await headline(browser(), /^Astray at the gateway/);
  });

  it('is reached and left with the keyboard', async () => {
    await (await browser().driver.switchTo().activeElement()).sendKeys('c');
    await find(browser(), '[data-test="case-panel"]');
    await (await byTest(browser(), 'case-close')).sendKeys(Key.ESCAPE);
    await find(browser(), '.stop h2');
  });
});

describe('the form of a device', () => {
  const browser = useBrowser();

  it('opens with the rows of the pasted table, and keeps what was not kept yet', async () => {
    await browser().driver.get(`${browser().address}case/demo-gullcast`);
    await headline(browser(), /^Astray/);
    await (await find(browser(), '#tab-device')).click();
    await textFits(browser(), '[data-test="device-suggested"]', /As forwards\.txt shows it/);
    const row = '[data-test="row-rows-1"]';
    await textFits(browser(), row, /TCP 8214 from anyone to 192\.168\.50\.31, same port/);
    await (await find(browser(), row)).click();
    await choose(browser(), 'rows-1-to', '192.168.50.20');
    await textFits(browser(), row, /to 192\.168\.50\.20, same port/);
    await textFits(browser(), '[data-test="device-unkept"]', /Not kept yet/);
    await (await find(browser(), '#tab-known')).click();
    await (await find(browser(), '#tab-device')).click();
    await textFits(browser(), row, /to 192\.168\.50\.20, same port/);
    await (await byTest(browser(), 'keep-device')).click();
    await headline(browser(), /^Answered/);
    await textFits(browser(), '[data-test="device-other"]', /by hand; forwards\.txt shows something else/);
    await (await byTest(browser(), 'take-shown')).click();
    await headline(browser(), /^Astray/);
  });

  it('names what is wrong with a value beside it, and adds what the service needs', async () => {
    await browser().driver.get(`${browser().address}case/demo-gullcast`);
    await headline(browser(), /^Astray/);
    await (await find(browser(), '#tab-device')).click();
    await (await byTest(browser(), 'row-rows-1')).click();
    const ports = await byTest(browser(), 'rows-1-ports');
    await ports.sendKeys('99999');
    await textFits(browser(), '.fields .problem', /not a port from 1 to 65535/);
    await (await byTest(browser(), 'take-rows-1')).click();
    await (await byTest(browser(), 'need-rows-0')).click();
    await textFits(browser(), '[data-test="row-rows-2"]', /TCP 8214 from anyone to 192\.168\.50\.20/);
  });
});
