import { readFileSync } from 'node:fs';
import { byTest, find, headline, openBrowser, paste, screenshot, stopServing } from '../packages/web/e2e/browser.ts';
const b = await openBrowser();
await b.driver.get(`${b.address}new`);
await (await byTest(b, 'complaint')).sendKeys('gullcast, tcp 8214, 203.0.113.50:8214 from 198.51.100.23, times out');
await b.driver.sleep(400);
await (await find(b, '[data-test="open-bench"], [data-test="create"], form button[type=submit]')).click();
await headline(b, /./);
const ipconfig = 'Windows IP Configuration\n\n\nEthernet adapter Ethernet:\n\n   IPv4 Address. . . . . . . . . . . : 192.168.50.20\n   Subnet Mask . . . . . . . . . . . : 255.255.255.0\n   Default Gateway . . . . . . . . . : 192.168.50.1\n';
const netstat = '  Proto  Local Address          Foreign Address        State           PID\n  TCP    0.0.0.0:8214           0.0.0.0:0              LISTENING       1234\n  UDP    0.0.0.0:28410          *:*                                    99\n';
for (const t of [ipconfig, netstat, 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n', 'Protocol\tOutside port\tInside address\tInside port\nTCP\t8214\t192.168.50.20\t8214\n', readFileSync('packages/core/src/evidence/examples/netsh-rules.txt', 'utf8')]) { await paste(b, t); await b.driver.sleep(900); }
await screenshot(b, '/tmp/look1.png');
const more = Array.from({length: 50}, (_, i) => readFileSync('packages/core/src/evidence/examples/netsh-rules.txt', 'utf8').split('\n').slice(8, 26).join('\n').replaceAll('8214', String(50000+i)).replace('Gullcast', `Other ${i}`)).join('\n');
await paste(b, readFileSync('packages/core/src/evidence/examples/netsh-rules.txt', 'utf8').replace(/Ok.\n/, '') + more + '\nName             : hall\nNetworkCategory  : Private\n'); await b.driver.sleep(1200);
await screenshot(b, '/tmp/look2.png');
await b.close(); stopServing();
