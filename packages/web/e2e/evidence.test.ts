import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import { byTest, choose, find, headline, paste, textFits } from './browser.ts';
import { useBrowser } from './session.ts';

const SOCKETS =
  'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
  'tcp LISTEN 0 16 0.0.0.0:22 0.0.0.0:* users:(("sshd",pid=3,fd=3))\n' +
  'udp UNCONN 0 0 127.0.0.53%lo:53 0.0.0.0:* users:(("resolver",pid=4,fd=3))\n';

describe('evidence: what it suggests, and what a person puts right', () => {
  const browser = useBrowser();
  const h1 = (pattern: RegExp): Promise<string> => headline(browser(), pattern);
  const message = (pattern: RegExp): Promise<string> => textFits(browser(), '[data-test="message"]', pattern);
  const press = async (name: string): Promise<void> => (await byTest(browser(), name)).click();
  const stops = async (): Promise<string> =>
    browser().driver.executeScript<string>(() =>
      [...document.querySelectorAll('.bench .crossing .name')].map((e) => e.textContent?.trim()).join(' | '),
    );

  async function newCase(line: string): Promise<void> {
    await browser().driver.get(`${browser().address}new`);
    const field = await byTest(browser(), 'complaint');
    await field.sendKeys(line);
    await browser().driver.wait(
      async () => (await (await byTest(browser(), 'client')).getAttribute('value')) === '198.51.100.23',
      5000,
    );
    await field.sendKeys(Key.ENTER);
    await h1(/not known/i);
  }

  it(
    'puts a second gateway on the crossing when the first one’s outside address is private; it ' +
      'can be refused',
    async () => {
      await newCase('gullcast, tcp 8214, 203.0.113.50:8214 from 198.51.100.23, times out');
      await paste(browser(), 'WAN IP 192.168.1.2\nLAN IP 192.168.50.1\nDefault gateway 192.168.1.1\n');
      await message(/Second gateway: .*192\.168\.1\.2, is private/);
      await h1(/second gateway/);
      const stop = await browser().driver.findElement(
        By.xpath('//*[contains(@class,"crossing")]//*[normalize-space(text())="Second gateway"]'),
      );
      await stop.click();
      await textFits(browser(), '.found', /another router stands before it/);
      await press('refuse-stop');
      await message(/Taken off the crossing/);
      expect(await stops()).to.not.contain('Second gateway');
      await press('undo');
      await h1(/second gateway/);
      await browser().driver.navigate().refresh();
      await h1(/second gateway/);
    },
  );

  it('proposes the port that a configuration names, and takes it into the service', async () => {
    await paste(
      browser(),
      '# lantern settings\nserver-port=28410\nbind-address=0.0.0.0\nmotd=Lantern Reef\n',
    );
    await textFits(browser(), '[data-test="proposal"]', /server-port.*TCP 28410.*the case has TCP 8214/s);
    await press('accept-proposal');
    await textFits(browser(), '.bench', /tcp 28410/);
    expect(await browser().driver.findElements(By.css('[data-test="accept-proposal"]'))).to.deep.equal([]);
    await press('undo');
    await press('refuse-proposal');
    await message(/Not asked again/);
    expect(await browser().driver.findElements(By.css('[data-test="accept-proposal"]'))).to.deep.equal([]);
  });

  it('asks about letters that stand where digits belong, and keeps the original', async () => {
    await newCase('gullcast, tcp 8214, 203.0.113.50:8214 from 198.51.100.23, times out');
    await paste(browser(), 'WAN IP 203.O.113.5O\nLAN IP 192.168.50.1\n');
    await textFits(browser(), '[data-test="misread"]', /203\.O\.113\.5O looks like 203\.0\.113\.50/);
    await press('take-corrected');
    await textFits(browser(), '#stop-body', /203\.0\.113\.50 \(public\)/);
    await (await find(browser(), '[data-test="source"]')).click();
    await textFits(browser(), '[data-test="marked-line"]', /203\.O\.113\.5O/);
    await press('close-source');
    await (await byTest(browser(), 'paste-box')).sendKeys('server l92.168.50.20', Key.ENTER);
    await textFits(browser(), '[data-test="misread"]', /192\.168\.50\.20/);
    await press('keep-characters');
    await message(/l92\.168\.50\.20/);
  });

  it('lets the columns of a table be put right, and reads the next one of its shape like that', async () => {
    const table = (port: number): string =>
      `Rule\tA\tB\tTo\tProto\ngullcast\t9000\t${port}\t192.168.50.20\tTCP\n`;
    await paste(browser(), table(8214));
    await message(/table of port forwards/);
    await h1(/no forward takes TCP 8214|outside port/i).catch(() => h1(/./));
    for (const link of await browser().driver.findElements(By.css('[data-test="source"]'))) {
      if (/forward-table/.test(await link.getText())) {
        await link.click();
        break;
      }
    }
    await byTest(browser(), 'columns');
    await choose(browser(), 'column-2', 'inside port');
    await choose(browser(), 'column-3', 'outside port');
    await message(/Columns put right/);
    await textFits(browser(), '[data-test="understood"]', /tcp 8214 → 192\.168\.50\.20:9000/);
    await press('close-source');
    await paste(browser(), table(8215));
    await message(/its columns as you put them right before/);
  });

  it('takes a listing for a part of itself where the technician says so', async () => {
    await paste(browser(), SOCKETS);
    await message(/sockets/);
    await (await find(browser(), '#tab-evidence')).click();
    await textFits(browser(), '.files', /sockets \(ss\)/);
    await browser().driver.executeScript(() =>
      [...document.querySelectorAll<HTMLButtonElement>('.files .link')]
        .find((b) => /^ss-/.test(b.textContent ?? ''))
        ?.click(),
    );
    const tools = '.source [data-test^="part-ss-"]';
    await (await find(browser(), tools)).click();
    await message(/Only a part/);
    await textFits(browser(), tools, /it is all of it/);
    await (await find(browser(), tools)).click();
    await message(/whole listing/);
  });

  it('names everything that a stop can be asked for, with its command or click path', async () => {
    await browser().driver.get(`${browser().address}case/demo-gullcast`);
    await h1(/192\.168\.50\.31/);
    await (await find(browser(), '#tab-ask')).click();
    await textFits(
      browser(),
      '[data-test="asks"]',
      /Forward table of Gateway \(here already\).*Packets at Gateway/s,
    );
    await press('system-windows');
    await textFits(browser(), '[data-test="asks"]', /Windows: route print/);
  });

  it('once a mend was made, what is known of it is from before; a new listing settles it', async () => {
    await press('change-made');
    await h1(/Would be answered, once it is made as it was said/);
    await textFits(browser(), '.next', /Let the client try again/);
    await (await find(browser(), '#tab-known')).click();
    await textFits(browser(), '#stop-body', /from before the change/);
    await paste(
      browser(),
      'Name\tProtocol\tOutside port\tInside address\tInside port\ngullcast\tTCP\t8214\t192.168.50.20\t8214\n',
    );
    await h1(/Answered: gullcast/);
  });

  it('what people put right travels with the exported case', async () => {
    const bytes = await browser().driver.executeAsyncScript<string>((done: (text: string) => void) => {
      const open = indexedDB.open('bright-ferry');
      open.onsuccess = () => {
        const all = open.result.transaction('cases').objectStore('cases').getAll();
        all.onsuccess = () => done(JSON.stringify(all.result.map((c: { document: unknown }) => c.document)));
      };
    });
    const documents = JSON.parse(bytes) as {
      evidence?: { corrections?: unknown; columns?: { table: string } }[];
      changes?: unknown[];
    }[];
    const entries = documents.flatMap((d) => d.evidence ?? []);
    expect(entries.filter((e) => e.corrections)).to.have.length(1);
    expect(entries.filter((e) => e.columns?.table === 'forwards')).to.have.length(2);
    expect(documents.filter((d) => d.changes)).to.have.length(1);
  });

  it('what nobody reads can be pointed at: its address becomes a fact', async () => {
    await newCase('gullcast, tcp 8214, 203.0.113.50:8214 from 198.51.100.23, times out');
    await paste(browser(), 'Hallo! Anschrift draussen ist 203.0.113.50, sagt der Kasten im Keller.\n');
    await message(/kept as a note|not understood/);
    await press('shelf-button');
    await (await find(browser(), '.shelf td .link')).click();
    await press('say-line');
    await textFits(browser(), '[data-test="pointed"]', /203\.0\.113\.50 is the gateway’s outside address/);
    await (await find(browser(), '[data-test="pointed"] button')).click();
    await message(/Noted at Gateway/);
    await press('undo');
  });
});
