import { openBrowser, byTest, find, headline, paste, screenshot, stopServing, textFits } from '../packages/web/e2e/browser.ts';
import { Key } from 'selenium-webdriver';
const b = await openBrowser();
try {
  await b.driver.get(`${b.address}new`);
  const line = await byTest(b, 'complaint');
  await line.sendKeys('gullcast, tcp 8214, 203.0.113.50:8214 from 198.51.100.23, times out');
  await b.driver.sleep(600);
  await line.sendKeys(Key.ENTER);
  await headline(b, /not known/i);
  await paste(b, 'WAN IP 192.168.1.2\nLAN IP 192.168.50.1\nDefault gateway 192.168.1.1\n');
  await textFits(b, '[data-test="message"]', /Second gateway/);
  await paste(b, '# lantern settings\nserver-port=28410\nbind-address=0.0.0.0\nmotd=Lantern Reef\n');
  await byTest(b, 'accept-proposal');
  const box = await byTest(b, 'paste-box');
  await box.sendKeys('WAN IP 192.168.1.3', Key.ENTER);
  await b.driver.sleep(900);
  await (await byTest(b, 'more-proposals')).click();
  await b.driver.sleep(300);
  await screenshot(b, '/tmp/look2.png');
} finally { await b.close(); stopServing(); }
