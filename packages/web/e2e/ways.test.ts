import { Key } from 'selenium-webdriver';
import { byTest, headline, paste, textFits } from './browser.ts';
import { useBrowser } from './session.ts';

const CLIENT =
  'anna@desk:~$ ip addr\n2: wlp2s0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
  '    inet 192.168.50.77/24 scope global wlp2s0\n' +
  'anna@desk:~$ ip route\ndefault via 192.168.50.1 dev wlp2s0\n192.168.50.0/24 dev wlp2s0 scope link\n';
const GATEWAY =
  'root@gateway:~# ip addr\n1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n' +
  '    inet 127.0.0.1/8 scope host lo\n' +
  '2: wan: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 203.0.113.50/24 scope global wan\n' +
  '3: lan: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.1/24 scope global lan\n' +
  'root@gateway:~# ip route\ndefault via 203.0.113.1 dev wan\n203.0.113.0/24 dev wan scope link\n' +
  '192.168.50.0/24 dev lan scope link\n' +
  'root@gateway:~# sysctl net.ipv4.ip_forward\nnet.ipv4.ip_forward = 1\n' +
  'root@gateway:~# nft list ruleset\ntable ip nat {\n\tchain pre {\n' +
  '\t\ttype nat hook prerouting priority dstnat; policy accept;\n' +
  '\t\tiifname "wan" tcp dport 8214 dnat to 192.168.50.20\n\t}\n\tchain post {\n' +
  '\t\ttype nat hook postrouting priority srcnat; policy accept;\n\t\toifname "wan" masquerade\n\t}\n}\n' +
  'table ip f {\n\tchain i {\n\t\ttype filter hook input priority filter; policy drop;\n\t}\n}\n' +
  'root@gateway:~#\n';
const SERVER =
  'root@server:~# ip addr\n1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n' +
  '    inet 127.0.0.1/8 scope host lo\n' +
  '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.20/24 scope global eno1\n' +
  'root@server:~# ip route\ndefault via 192.168.50.1 dev eno1\n192.168.50.0/24 dev eno1 scope link\n' +
  'root@server:~# ss -tulpn\nNetid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
  'tcp LISTEN 0 128 0.0.0.0:8214 0.0.0.0:* users:(("gullcast",pid=1,fd=3))\n' +
  'root@server:~# nft list ruleset\ntable inet none {\n}\nroot@server:~#\n';

describe('a mend that has another way', () => {
  const browser = useBrowser();

  it('shows the second way in place of the first, rehearses it, and goes back', async () => {
    const b = browser();
    await b.driver.get(`${b.address}new`);
    await (
      await byTest(b, 'complaint')
    ).sendKeys('gullcast, tcp 8214, 203.0.113.50:8214 from 192.168.50.77, times out', Key.ENTER);
    await headline(b, /./);
    for (const [text, stop] of [
      [CLIENT, /client/],
      [GATEWAY, /Gateway/],
      [SERVER, /Server/],
    ] as const) {
      await paste(b, text);
      await textFits(b, '[data-test="message"]', stop);
    }
    await headline(
      b,
      /^Lost at the gateway: TCP 8214 on 203\.0\.113\.50 is forwarded for callers from outside/,
    );
    await textFits(b, '.next h2', /^Dial 192\.168\.50\.20:8214 from inside/);
    await (await byTest(b, 'other-way')).click();
    await textFits(b, '.next h2', /^Turn callers from 192\.168\.50\.0\/24 round at the gateway/);
    await textFits(b, '.next .commands', /masquerade/);
    await (await byTest(b, 'rehearse')).click();
    await textFits(b, '[data-test="rehearsal-after"]', /Answered/);
    await (await byTest(b, 'end-rehearsal')).click();
    await textFits(b, '.next h2', /^Turn /);
    await (await byTest(b, 'other-way')).click();
    await textFits(b, '.next h2', /^Dial /);
  });
});
