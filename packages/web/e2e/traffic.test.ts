import { rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { byTest, find, headline, paste, textFits } from './browser.ts';
import { useBrowser } from './session.ts';

const HEAD =
  '#Version: 1.5\r\n' +
  '#Software: host firewall\r\n' +
  '#Time Format: Local\r\n' +
  '#Fields: date time action protocol src-ip dst-ip src-port dst-port size tcpflags tcpsyn ' +
  'tcpack tcpwin icmptype icmpcode info path\r\n' +
  '\r\n';
const line = (second: number, action: string, from: string, port: number): string => {
  const time = new Date(Date.UTC(2026, 10, 24) + second * 1000).toISOString();
  return (
    `${time.slice(0, 10)} ${time.slice(11, 19)} ${action} TCP ${from} 192.168.50.20 40001 ${port} ` +
    '52 S 1 0 64240 - - - RECEIVE\r\n'
  );
};

/** A day of a host that stands in the open, with one try of the client in it. */
function dayOfLog(lines: number): string {
  const parts = [HEAD];
  for (let i = 0; i < lines; i++) {
    const port = [22, 23, 80, 445, 3389][i % 5] ?? 22;
    parts.push(
      line(
        Math.floor((i * 86_000) / lines),
        i % 7 === 0 ? 'ALLOW' : 'DROP',
        `192.0.2.${1 + (i % 250)}`,
        port,
      ),
    );
    if (i === lines >> 1) parts.push(line(43_000, 'DROP', '198.51.100.97', 6697));
  }
  return parts.join('');
}

describe('traffic', () => {
  const browser = useBrowser();
  const story = (pattern: RegExp): Promise<string> =>
    textFits(browser(), '[data-test="traffic-story"]', pattern);

  async function newCase(complaint: string): Promise<void> {
    await browser().driver.get(`${browser().address}new`);
    await (await byTest(browser(), 'complaint')).sendKeys(complaint);
    await (await find(browser(), 'main form button[type="submit"], main .el-button--primary')).click();
    await headline(browser(), /./);
  }

  async function toTraffic(): Promise<void> {
    await (await find(browser(), 'a[href$="/traffic"]')).click();
    await byTest(browser(), 'bring');
  }

  it('counts a log of any size, finds the try in it, and keeps it as evidence that decides', async () => {
    const file = join(tmpdir(), `bright-ferry-day-${process.pid}.log`);
    writeFileSync(file, dayOfLog(400_000));
    try {
      await newCase('ferry office, tcp 6697, 203.0.113.50 from 198.51.100.97, times out');
      await toTraffic();
      await byTest(browser(), 'no-record');
      await browser().driver.findElement({ css: '[data-test="record-file"]' }).sendKeys(file);
      await story(/The client, 198\.51\.100\.97, tried TCP 6697 once: kept out/);
      await textFits(browser(), '.record', /400,001 packets in 400,006 lines/);
      expect(await (await find(browser(), '.rows tbody tr')).getText()).to.match(
        /^198\.51\.100\.97 \(the client\)/,
      );
      const drawn = (): Promise<number> =>
        browser().driver.executeScript<number>(() => {
          const rows = document.querySelector('[data-test="rows"]');
          rows?.scrollTo(0, rows.scrollHeight);
          return rows?.querySelectorAll('tbody tr:not([aria-hidden])').length ?? 0;
        });
      // However many rows there are, only those in sight are drawn.
      expect(await drawn()).to.be.within(20, 60);
      await browser().driver.wait(
        async () => !(await (await find(browser(), '[data-test="rows"]')).getText()).includes('(the client)'),
        5000,
      );
      await (await find(browser(), '.sieve input')).sendKeys('192.0.2.7 3389');
      await textFits(browser(), '.sieve', /\b\d of 501 rows/);
      await (await byTest(browser(), 'keep-tries')).click();
      await (await find(browser(), '[data-test^="assign-"]')).click();
      await headline(
        browser(),
        /Lost at the server: its log shows a packet from 198\.51\.100\.97 to TCP 6697/,
      );
    } finally {
      rmSync(file, { force: true });
    }
  });

  it('takes port and sender over from a pasted log with one click each', async () => {
    await newCase('the ferry office cannot join, from 198.51.100.23');
    await paste(
      browser(),
      HEAD.replaceAll('\r', '') + line(61_331, 'DROP', '198.51.100.97', 6697).replace('\r', ''),
    );
    // Nothing of the site is known yet: whose log it is, is asked.
    await (await find(browser(), '[data-test^="assign-"]')).click();
    await textFits(browser(), 'main', /198\.51\.100\.97 to TCP 6697, which the service of this case lacks/);
    await (await find(browser(), '[data-test="accept-proposal"]')).click();
    await textFits(browser(), 'main', /198\.51\.100\.97 came to the service’s port/);
    await (await find(browser(), '[data-test="accept-proposal"]')).click();
    await headline(browser(), /Lost at the server: its log shows a packet from 198\.51\.100\.97 to TCP 6697/);
  });

  it('watches a try: told now, recorded on a clock two hours ahead, found by its moment', async () => {
    const file = join(tmpdir(), `bright-ferry-watched-${process.pid}.log`);
    try {
      await newCase('ferry office, tcp 6697, 203.0.113.50 from 198.51.100.23, times out');
      await toTraffic();
      await textFits(browser(), '[data-test="watch"]', /What Server refused/);
      await (await byTest(browser(), 'tries-now')).click();
      await textFits(browser(), '[data-test="told"]', /told to try just now/);
      const at = Math.floor(Date.now() / 1000) - Date.UTC(2026, 10, 24) / 1000 + 2 * 3600;
      const noise = line(at - 4000, 'DROP', '192.0.2.9', 6697);
      writeFileSync(file, HEAD + noise + line(at + 3, 'DROP', '198.51.100.97', 6697));
      await browser().driver.findElement({ css: '[data-test="record-file"]' }).sendKeys(file);
      await story(/told to try, .* by this clock: 198\.51\.100\.97 came to TCP 6697 once: kept out/);
      await story(/The clock of this record is 2 hours ahead\./);
    } finally {
      rmSync(file, { force: true });
    }
  });

  it('puts captures of two places together, across the translation', async () => {
    const packet = (second: number, from: string, to: string): string =>
      `17:02:0${second}.1 IP ${from} > ${to}: Flags [S], seq 1, win 64240, length 0\n`;
    const asked = (to: string): string => [1, 2, 4].map((s) => packet(s, '198.51.100.23.51514', to)).join('');
    const put = async (text: string, stop: string): Promise<void> => {
      await paste(browser(), text);
      await (await find(browser(), `[data-test="assign-${stop}"]`)).click();
      await textFits(browser(), '[data-test="message"]', /Put to/);
    };
    await newCase('gullcast, tcp 8214, 203.0.113.50 from 198.51.100.23, times out');
    await put(asked('203.0.113.50.8214'), 'gateway');
    // On every interface and in both directions: an answer would be in it.
    await put(`admin@gullhost:~$ tcpdump -ni any port 8214\n${asked('192.168.50.20.8214')}`, 'server');
    await headline(browser(), /Lost at the server: a capture there shows 3 packets .*, and no answer/);
    await toTraffic();
    await textFits(
      browser(),
      '[data-test="places"] h2',
      /arrives at the server as 198\.51\.100\.23:51514 → 192\.168\.50\.20:8214, and no answer is seen/,
    );
    expect(await (await find(browser(), '[data-test="places"] .turned')).getText()).to.contain(
      '192.168.50.20:8214',
    );
  });

  it('says what is no record of traffic', async () => {
    const file = join(tmpdir(), `bright-ferry-note-${process.pid}.txt`);
    writeFileSync(file, 'nothing of the kind\n');
    try {
      await newCase('ferry office, tcp 6697, 203.0.113.50 from 198.51.100.97, times out');
      await toTraffic();
      await browser().driver.findElement({ css: '[data-test="record-file"]' }).sendKeys(file);
      await textFits(browser(), '[role="alert"]', /is no drop log and no capture/);
    } finally {
      rmSync(file, { force: true });
    }
  });
});
