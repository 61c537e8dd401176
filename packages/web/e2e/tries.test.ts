import { expect } from 'chai';
import { Key } from 'selenium-webdriver';
import { byTest, complaints, find, headline, paste, textFits } from './browser.ts';
import { useBrowser } from './session.ts';

const ROWS =
  'Name\tProtocol\tExternal port\tInternal IP\tInternal port\n' +
  'web\tTCP\t80\t192.168.50.20\t80\n' +
  'files\tTCP\t21\t192.168.50.20\t21\n';
const ADDRESSES =
  'anna@heron:~$ ip addr\n' +
  '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 qdisc noqueue state UNKNOWN group default qlen 1000\n' +
  '    link/loopback 00:00:00:00:00:00 brd 00:00:00:00:00:00\n' +
  '    inet 127.0.0.1/8 scope host lo\n' +
  '2: eno1: <BROADCAST,MULTICAST,UP,LOWER_UP> mtu 1500 qdisc fq_codel state UP group default ' +
  'qlen 1000\n' +
  '    link/ether 02:00:5e:00:00:20 brd ff:ff:ff:ff:ff:ff\n' +
  '    inet 192.168.50.20/24 brd 192.168.50.255 scope global eno1\n' +
  'anna@heron:~$ ip route\n' +
  'default via 192.168.50.1 dev eno1\n' +
  '192.168.50.0/24 dev eno1 proto kernel scope link src 192.168.50.20\n' +
  'anna@heron:~$ sudo nft list ruleset\n' +
  'anna@heron:~$ ss -tulpn\n' +
  'Netid State  Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
  'tcp   LISTEN 0      32           0.0.0.0:21        0.0.0.0:*    ' +
  'users:(("transferd",pid=812,fd=3))\n' +
  'tcp   LISTEN 0      511          0.0.0.0:80        0.0.0.0:*    ' +
  'users:(("webd",pid=813,fd=6))\n';
const SETTINGS =
  'listen=YES\nlisten_port=21\npasv_enable=YES\npasv_min_port=40000\npasv_max_port=40010\n' +
  'pasv_address=192.168.50.20\n';
const DIALOGUE =
  '220 Welcome to the picture box.\n230 Login successful.\n' +
  '227 Entering Passive Mode (192,168,50,20,156,66).\n';

describe('tries', () => {
  const browser = useBrowser();

  async function newCase(complaint: string): Promise<void> {
    await browser().driver.get(`${browser().address}new`);
    await (await byTest(browser(), 'complaint')).sendKeys(complaint);
    await (await byTest(browser(), 'open-case')).click();
    await headline(browser(), /./);
  }
  const putIn = async (text: string): Promise<void> => {
    await paste(browser(), text);
    await textFits(browser(), '[data-test="message"]', /Put to/);
  };

  it('a protocol that nobody said is marked, and said with one click', async () => {
    await newCase('moorhen on 28410, 203.0.113.50 from 198.51.100.23 and 192.0.2.7, times out');
    await textFits(browser(), '[data-test="unsaid"]', /28410 is TCP or UDP; taken for TCP/);
    await (await byTest(browser(), 'say-udp')).click();
    await textFits(browser(), '.top, header', /udp 28410/);
    expect(await browser().driver.findElements({ css: '[data-test="unsaid"]' })).to.have.length(0);
    expect(await complaints(browser())).to.deep.equal([]);
  });

  it('a file transfer: the first connection is answered, the next goes inside', async () => {
    await newCase(
      'photographer, ftp 21, 203.0.113.50:21 from 198.51.100.23, logs in, then the listing hangs',
    );
    await putIn(ROWS);
    await putIn('WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n');
    await putIn(ADDRESSES);
    await putIn(SETTINGS);
    await paste(browser(), DIALOGUE);
    await textFits(
      browser(),
      '[data-test="afterwards"]',
      /goes to 192\.168\.50\.20:40002, an inside address, and TCP 40000–40010 does not get through/,
    );
    await headline(browser(), /^Answered/);
    await textFits(browser(), '.advice', /Let the program announce 203\.0\.113\.50/);
    await (await byTest(browser(), 'accept-proposal')).click();
    await headline(browser(), /Lost at the gateway: no forward takes TCP 40000/);
  });

  it('the grid shows every place, and what is noted there stands in it', async () => {
    await browser().driver.actions().sendKeys('w').perform();
    const row = await find(browser(), '[data-test="vantage-lan-1"]');
    expect(await row.getText()).to.match(/from inside, by the inside address to 192\.168\.50\.20:21\/tcp/);
    await (await find(browser(), '[data-test="vantage-lan-1"] [data-test="ask-tcp/21"]')).click();
    await (await find(browser(), '[data-test="vantage-lan-1"] [data-test="say-lost"]')).click();
    await textFits(browser(), '[data-test="vantage-lan-1"] [data-test="cell-seen"]', /seen: waits/);
    await browser().driver.actions().sendKeys(Key.ESCAPE).perform();
    expect(await browser().driver.findElements({ css: '[data-test="vantages"]' })).to.have.length(0);
    expect(await complaints(browser())).to.deep.equal([]);
  });
});
