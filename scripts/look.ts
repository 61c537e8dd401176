import { openBrowser, byTest, find, headline, paste, screenshot, stopServing, textFits } from '../packages/web/e2e/browser.ts';
import { Key } from 'selenium-webdriver';
const b = await openBrowser();
try {
  await find;
  await b.driver.get(`${b.address}new`);
  const line = await byTest(b, 'complaint');
  await line.sendKeys('gullcast, tcp 8214, 203.0.113.50:8214 from 198.51.100.23, times out');
  await b.driver.sleep(600);
  await line.sendKeys(Key.ENTER);
  await headline(b, /not known/i);
  await paste(b, 'WAN IP 203.O.113.5O\nLAN IP 192.168.50.1\n');
  await byTest(b, 'misread');
  await b.driver.sleep(300);
  await screenshot(b, '/tmp/look1.png');
  await (await byTest(b, 'take-corrected')).click();
  await textFits(b, '[data-test="message"]', /Gateway/);
  await paste(b, 'Rule\tA\tB\tTo\tProto\ngullcast\t8214\t8000\t192.168.50.20\tTCP\nreef\t28410\t28410\t192.168.50.20\tUDP\n');
  await textFits(b, '[data-test="message"]', /forwards/);
  for (const l of await b.driver.findElements({ css: '[data-test="source"]' })) if (/forward-table/.test(await l.getText())) { await l.click(); break; }
  await byTest(b, 'columns');
  await b.driver.sleep(300);
  const fact = (await b.driver.findElements({ css: '.fact' }))[1]!;
  await b.driver.actions().move({ origin: fact }).perform();
  await b.driver.sleep(300);
  await screenshot(b, '/tmp/look2.png');
} finally { await b.close(); stopServing(); }
