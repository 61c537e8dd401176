import { openBrowser, screenshot } from './packages/web/e2e/browser.ts';
const b = await openBrowser();
await b.driver.get(b.address); await b.driver.sleep(3000); await screenshot(b,'/tmp/s1.png');
console.log(await b.driver.getPageSource().then(s=>s.slice(0,1500)));
for (const e of await b.driver.manage().logs().get('browser')) console.log(e.level.name,e.message); await b.close(); process.exit(0);
