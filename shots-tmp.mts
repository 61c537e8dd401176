import { openBrowser, headline, find, byTest, paste, screenshot, complaints, stopServing } from './packages/web/e2e/browser.ts';
const b = await openBrowser();
await b.driver.get(b.address+'case/demo-gullcast'); await headline(b,/./); await b.driver.sleep(300);
await (await find(b,'#tab-device')).click(); await (await find(b,'[data-test=add-rows]')).click(); await b.driver.sleep(200); await screenshot(b,'/tmp/s1.png');
await (await find(b,'#tab-open')).click(); await find(b,'[data-test=openings]'); await b.driver.sleep(200); await screenshot(b,'/tmp/s2.png');
await b.driver.get(b.address+'case/demo-ebbtide'); await headline(b,/./); await (await find(b,'#tab-rules')).click();await b.driver.sleep(300); await screenshot(b,'/tmp/s3.png');
console.log(await complaints(b)); await b.close(); stopServing();
