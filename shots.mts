import { openBrowser, headline, find, byTest, paste, screenshot, complaints } from './packages/web/e2e/browser.ts';
const b = await openBrowser();
await b.driver.get(b.address); await headline(b,/./); await b.driver.sleep(500); await screenshot(b,'/tmp/s1.png');
for (const [i,n] of ['gullcast','lantern-reef'].entries()) { await b.driver.get(b.address+'case/demo-'+n); await headline(b,/./); await b.driver.sleep(400); await screenshot(b,`/tmp/s${i+2}.png`); }
await (await byTest(b,'rehearse')).click(); await b.driver.sleep(400); await screenshot(b,'/tmp/s4.png');
console.log(await complaints(b)); await b.close(); process.exit(0);
