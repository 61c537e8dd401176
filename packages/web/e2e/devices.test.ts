import { Key } from 'selenium-webdriver';
import { expect } from 'chai';
import { byTest, choose, find, headline, paste, textFits } from './browser.ts';
import { useBrowser } from './session.ts';

describe('devices that print no rules, and other places to look from', () => {
  const browser = useBrowser();
  const open = async (name: string): Promise<void> => {
    await browser().driver.get(`${browser().address}case/demo-${name}`);
    await headline(browser(), /./);
  };
  it('a filled-in device changes the crossing at once, and can be taken back', async () => {
    await open('gullcast');
    await (await find(browser(), '#tab-device')).click();
    await choose(browser(), 'field-keptBy', 'in the carrier’s portal');
    await (await byTest(browser(), 'keep-device')).click();
    await headline(browser(), /Not known yet.*kept in the carrier’s portal, and its list is not known/);
    await (await byTest(browser(), 'undo')).click();
    await headline(browser(), /Astray/);
  });

  it('a wrong value is refused with the place, and nothing is changed', async () => {
    await (await find(browser(), '#tab-device')).click();
    await (await find(browser(), '[data-test="field-exposedHost"] input')).sendKeys('192.168.50', Key.ENTER);
    await (await byTest(browser(), 'keep-device')).click();
    await textFits(browser(), '[data-test="device-problem"]', /exposedHost is not an IP address/);
    await headline(browser(), /Astray/);
  });

  it('compares the outside client with a machine beside the server', async () => {
    await open('gullcast');
    expect(await (await byTest(browser(), 'from-outside')).getAttribute('aria-pressed')).to.equal('true');
    await (await byTest(browser(), 'from-inside')).click();
    await textFits(browser(), '.crossing .column:first-child', /192\.168\.50\./);
    await (await byTest(browser(), 'from-outside')).click();
    await headline(browser(), /Astray/);
  });

  it('shows both families side by side where the name has both', async () => {
    await open('gullcast');
    await paste(
      browser(),
      'gullcast.gannet.example.net has address 203.0.113.50\n' +
        'gullcast.gannet.example.net has IPv6 address 2001:db8:50::20\n',
    );
    await byTest(browser(), 'from-outside-6');
    await (await byTest(browser(), 'undo')).click();
  });

  it('shows the rules in the device’s order, and by which field the near one missed', async () => {
    await open('ebbtide');
    await (await find(browser(), '#tab-rules')).click();
    await textFits(
      browser(),
      '.rules',
      /198\.51\.100\.33[\s\S]*source is 198\.51\.100\.23: differs in the last octet/,
    );
  });

  it('lists what is open from outside, what nobody asked for first', async () => {
    await open('ebbtide');
    await (await find(browser(), '#tab-open')).click();
    await textFits(browser(), '[data-test="openings"]', /tcp 22[\s\S]*no service here asks for it/);
  });
});
