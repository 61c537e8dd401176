// Takes the pictures in docs/screenshots from the demo cases: `npm run shots`.
import { rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  byTest,
  find,
  headline,
  openBrowser,
  paste,
  screenshot,
  stopServing,
  textFits,
} from '../packages/web/e2e/browser.ts';

/** An evening of the gateway's log, made up: all the world knocks, and among it the client, three times. */
function trafficLog(): string {
  const line = (second: number, words: string, from: string, port: number): string => {
    const time = new Date(Date.UTC(2026, 10, 24, 17) + second * 1000).toISOString().slice(11, 19);
    return (
      `Nov 24 ${time} plover kernel: ${words}: IN=wan OUT= MAC= SRC=${from} DST=203.0.113.50 LEN=60 ` +
      `PROTO=TCP SPT=40112 DPT=${port} SYN\n`
    );
  };
  const noise = Array.from({ length: 4000 }, (_, i) => {
    const second = Math.round(i * 1.8 + 40 * Math.sin(i / 90));
    const isIn = i % 9 === 0;
    return line(
      second,
      isIn ? 'WAN-OK' : 'WAN-DENY',
      `192.0.2.${1 + (i % 200)}`,
      isIn ? 443 : ([22, 23, 3389, 8096][i % 4] ?? 22),
    );
  });
  return [...noise, ...[6100, 6101, 6103].map((s) => line(s, 'WAN-DENY', '198.51.100.23', 8214))].join('');
}

const FOLDER = join(import.meta.dirname, '../docs/screenshots');
const b = await openBrowser();
const shoot = async (name: string): Promise<void> => {
  await b.driver.sleep(350);
  await screenshot(b, join(FOLDER, `${name}.png`));
};
const bench = async (name: string): Promise<void> => {
  await b.driver.get(`${b.address}case/demo-${name}`);
  await headline(b, /./);
};
await bench('gullcast');
await shoot('bench-stale-forward');
await (await byTest(b, 'rehearse')).click();
await shoot('rehearsal');
await bench('ebbtide');
await shoot('bench-two-faults');
await (await find(b, '#tab-open')).click();
await find(b, '[data-test="openings"]');
await shoot('open-from-outside');
await bench('gullcast');
await (await find(b, '#tab-device')).click();
await shoot('device');
await bench('gullcast');
await (await byTest(b, 'heard')).click();
await find(b, '[data-test="case-panel"]');
await shoot('what-was-heard');
await bench('gullcast');
await (await byTest(b, 'all-places')).click();
await find(b, '[data-test="vantages"] tbody tr');
await shoot('who-tries-from-where');
await bench('ebbtide');
await b.driver.findElement({ css: 'body' }).sendKeys('q');
await find(b, '[data-test="shrinking"]');
await shoot('what-may-be-wrong');
await bench('gullcast');
await (await byTest(b, 'shelf-button')).click();
await find(b, '[data-test="shelf"] tbody');
await shoot('evidence-shelf');
await (await find(b, '[data-test="shelf"] tbody tr:nth-child(2) .link')).click();
await find(b, '[data-test="understood"]');
await shoot('original-text');
await bench('gullcast');
await (await find(b, '#tab-ask')).click();
await find(b, '[data-test="asks"]');
await shoot('ask-for');
await (await find(b, '#tab-known')).click();
await paste(b, 'Internet\nWAN IP\t192.168.1.2\nDefault gateway\t192.168.1.1\nLAN IP\t192.168.50.1\n');
await textFits(b, '[data-test="message"]', /Gateway/);
await shoot('second-gateway');
await bench('lantern-reef');
await shoot('bench-shared-address');
await b.driver.executeScript(() => (document.documentElement.dataset['theme'] = 'night'));
await shoot('bench-night');
await b.driver.executeScript(() => (document.documentElement.dataset['theme'] = 'day'));
await b.driver.get(`${b.address}new`);
await (
  await byTest(b, 'complaint')
).sendKeys(
  'lantern reef, udp 28410 and tcp 28410, play.gannet.example.net;28410 from 198.51.100.23, times out',
);
await find(b, '[data-test="first-crossing"]');
await shoot('new-case');
await b.driver.get(`${b.address}cases`);
await find(b, 'main section');
await shoot('cases');
await b.driver.get(`${b.address}case/demo-gullcast/traffic`);
await find(b, '[data-test="no-record"]');
const log = join(tmpdir(), 'plover-kern.log');
writeFileSync(log, trafficLog());
await b.driver.findElement({ css: '[data-test="record-file"]' }).sendKeys(log);
await find(b, '.rows');
await shoot('traffic');
rmSync(log);
await b.driver.get(`${b.address}case/demo-ebbtide/handover`);
await find(b, '[data-test="story"]');
await shoot('handover');
await b.close();
stopServing();
