import { expect } from 'chai';
import { iptablesSave } from '../../reading/index.ts';
import { outcome, run, testMachine } from '../../testing/index.ts';
import type { Family } from '../../net/index.ts';
import type { Site } from '../../site/index.ts';
import { compileIptables } from './compile.ts';

/** A host on one link with the client; its filter holds the rules of a test. */
function siteWith(tables: string, family: Family): Site {
  const fact = iptablesSave.read(tables).facts[0];
  if (fact?.kind !== 'iptables') throw new Error('no rules');
  const program = compileIptables(fact.tables, family, 'rules');
  const [client, host] =
    family === 4 ? ['198.51.100.23/24', '198.51.100.9/24'] : ['2001:db8::23/64', '2001:db8::9/64'];
  const machine = testMachine('host', {
    interfaces: { eth0: [host], lo: [family === 4 ? '127.0.0.1/8' : '::1/128'] },
    sockets: family === 4 ? ['tcp 0.0.0.0:80', 'udp 0.0.0.0:53'] : ['tcp [::]:80', 'udp [::]:53'],
  });
  return {
    machines: [
      testMachine('client', { role: 'client', interfaces: { eth0: [client] } }),
      { ...machine, program: { 4: null, 6: null, [family]: program } },
    ],
    sharedAddresses: [],
    internet: null,
  };
}

const TO: Readonly<Record<string, readonly [string, string]>> = {
  tcp: ['198.51.100.23:40000', '198.51.100.9:80/tcp'],
  udp: ['198.51.100.23:40000', '198.51.100.9:53/udp'],
  tcp6: ['[2001:db8::23]:40000', '[2001:db8::9]:80/tcp'],
};

/** What a rule that drops does to the first packet: it hits, it misses, or that is open. */
function meets(condition: string, packet: string, chain = 'INPUT', before = ''): string {
  const family = packet.endsWith('6') ? 6 : 4;
  const site = siteWith(
    `*filter\n:INPUT ACCEPT [0:0]\n:OUTPUT ACCEPT [0:0]\n${before}-A ${chain} ${condition} -j DROP\nCOMMIT\n`,
    family,
  );
  const [from, to] = TO[packet] ?? ['', ''];
  const word = outcome(run(site, from, to)).split(' ')[0];
  if (word === 'lost') return 'hits';
  return word === 'answered' ? 'misses' : 'open';
}

type Row = readonly [condition: string, expected: 'hits' | 'misses' | 'open', packet?: string];

const ADDRESSES: readonly Row[] = [
  ['-s 198.51.100.23/32', 'hits'],
  ['-s 198.51.100.22/31', 'hits'],
  ['-s 198.51.100.24/29', 'misses'],
  ['! -s 198.51.100.23/32', 'misses'],
  ['-s 198.51.100.1,198.51.100.23', 'hits'],
  ['-d 198.51.100.9/32', 'hits'],
  ['! -d 198.51.100.9/32', 'misses'],
  ['-s house.example', 'open'],
  ['-m iprange --src-range 198.51.100.20-198.51.100.23', 'hits'],
  ['-m iprange --src-range 198.51.100.24-198.51.100.30', 'misses'],
  ['-m iprange --dst-range 198.51.100.9-198.51.100.9', 'hits'],
  ['-m iprange ! --dst-range 198.51.100.9-198.51.100.9', 'misses'],
  ['-s 2001:db8::/64', 'hits', 'tcp6'],
  ['-s 2001:db8:1::/64', 'misses', 'tcp6'],
  ['-m iprange --src-range 2001:db8::20-2001:db8::23', 'hits', 'tcp6'],
];

const INTERFACES: readonly Row[] = [
  ['-i eth0', 'hits'],
  ['-i eth1', 'misses'],
  ['-i eth+', 'hits'],
  ['-i et+', 'hits'],
  ['! -i lo', 'hits'],
  ['! -i eth0', 'misses'],
];

const PROTOCOLS: readonly Row[] = [
  ['-p tcp', 'hits'],
  ['-p udp', 'misses'],
  ['-p 6', 'hits'],
  ['-p 17', 'misses'],
  ['-p all', 'hits'],
  ['-p 0', 'hits'],
  ['! -p udp', 'hits'],
  ['! -p tcp', 'misses'],
  ['-p icmp', 'misses'],
  ['-p gre', 'misses'],
  ['-p nosuchprotocol', 'open'],
  ['-p udp', 'hits', 'udp'],
];

const PORTS: readonly Row[] = [
  ['-p tcp -m tcp --dport 80', 'hits'],
  ['-p tcp -m tcp --dport 81', 'misses'],
  ['-p tcp -m tcp --dport http', 'hits'],
  ['-p tcp -m tcp --dport 79:80', 'hits'],
  ['-p tcp -m tcp --dport 81:', 'misses'],
  ['-p tcp -m tcp --dport 80:', 'hits'],
  ['-p tcp -m tcp --dport :80', 'hits'],
  ['-p tcp -m tcp --dport :79', 'misses'],
  ['-p tcp -m tcp --dport nosuchservice', 'open'],
  ['-p tcp -m tcp --destination-port 80', 'hits'],
  ['-p tcp -m tcp --sport 40000', 'hits'],
  ['-p tcp -m tcp --sport 39999', 'misses'],
  ['-p tcp -m tcp --source-port 40000:', 'hits'],
  ['-p tcp -m tcp ! --sport 40000', 'misses'],
  ['-p udp -m udp --dport 53', 'hits', 'udp'],
  ['-p tcp -m tcp --dport 53', 'misses', 'udp'],
  ['-p tcp -m multiport --dports 22,80', 'hits'],
  ['-p tcp -m multiport --dports 22,79:81', 'hits'],
  ['-p tcp -m multiport --dports 22,443', 'misses'],
  ['-p tcp -m multiport ! --dports 22,80', 'misses'],
  ['-p tcp -m multiport --destination-ports 80', 'hits'],
  ['-p tcp -m multiport --sports 1:1023', 'misses'],
  ['-p tcp -m multiport --source-ports 40000', 'hits'],
  ['-p tcp -m multiport --ports 80', 'hits'],
  ['-p tcp -m multiport --ports 40000', 'hits'],
  ['-p tcp -m multiport --ports 81', 'misses'],
  ['-p tcp -m multiport ! --ports 80', 'misses'],
  ['-p tcp -m multiport ! --ports 81', 'hits'],
  ['-p tcp -m multiport --ports nosuchservice', 'open'],
];

const SESSIONS: readonly Row[] = [
  ['-m conntrack --ctstate NEW', 'hits'],
  ['-m conntrack --ctstate NEW,ESTABLISHED', 'hits'],
  ['-m conntrack --ctstate RELATED,ESTABLISHED', 'misses'],
  ['-m conntrack ! --ctstate RELATED,ESTABLISHED', 'hits'],
  ['-m conntrack --ctstate INVALID', 'misses'],
  ['-m conntrack --ctstate UNTRACKED', 'misses'],
  ['-m state --state NEW', 'hits'],
  ['-m conntrack --ctstate DNAT', 'misses'],
  ['-m conntrack ! --ctstate DNAT', 'hits'],
  ['-m conntrack --ctstate DNAT,NEW', 'hits'],
  ['-m conntrack --ctstate DNAT,ESTABLISHED', 'misses'],
  ['-m conntrack --ctstatus ASSURED', 'misses'],
  ['-m conntrack ! --ctstatus SEEN_REPLY', 'hits'],
  ['-m conntrack --ctstatus NOSUCHSTATUS', 'open'],
  ['-m conntrack --ctdir ORIGINAL', 'hits'],
  ['-m conntrack --ctdir REPLY', 'misses'],
  ['-m conntrack --ctproto 6', 'hits'],
  ['-m conntrack --ctproto udp', 'misses'],
  ['-m conntrack --ctorigsrc 198.51.100.0/24', 'hits'],
  ['-m conntrack --ctorigdst 198.51.100.9', 'hits'],
  ['-m conntrack --ctorigdst 198.51.100.8', 'misses'],
  ['-m conntrack --ctreplsrc 198.51.100.9', 'hits'],
  ['-m conntrack --ctrepldst 198.51.100.23', 'hits'],
  ['-m conntrack --ctrepldst 198.51.100.9', 'misses'],
  ['-m conntrack --ctorigdstport 80', 'hits'],
  ['-m conntrack --ctorigdstport 81', 'misses'],
  ['-m conntrack --ctorigsrcport 40000', 'hits'],
];

const KINDS: readonly Row[] = [
  ['-m addrtype --dst-type LOCAL', 'hits'],
  ['-m addrtype ! --dst-type LOCAL', 'misses'],
  ['-m addrtype --src-type LOCAL', 'misses'],
  ['-m addrtype --src-type UNICAST', 'hits'],
  ['-m addrtype --dst-type UNICAST,LOCAL', 'hits'],
  ['-m addrtype --dst-type NOSUCHTYPE', 'open'],
  ['-m pkttype --pkt-type host', 'hits'],
  ['-m pkttype --pkt-type unicast', 'hits'],
  ['-m pkttype --pkt-type broadcast', 'misses'],
  ['-m pkttype --pkt-type nosuchtype', 'open'],
  ['-m mark --mark 0', 'hits'],
  ['-m mark --mark 0x1', 'misses'],
  ['-m mark ! --mark 0x1', 'hits'],
  ['-m mark --mark 0x0/0xff', 'hits'],
  ['-m mark --mark nomark', 'open'],
];

const HEADERS: readonly Row[] = [
  ['-p tcp -m tcp --tcp-flags FIN,SYN,RST,ACK SYN', 'hits'],
  ['-p tcp -m tcp ! --tcp-flags FIN,SYN,RST,ACK SYN', 'misses'],
  ['-p tcp -m tcp --tcp-flags SYN,ACK SYN,ACK', 'misses'],
  ['-p tcp -m tcp --tcp-flags ALL NONE', 'misses'],
  ['-p tcp -m tcp --tcp-flags ALL SYN', 'hits'],
  ['-p tcp -m tcp --syn', 'hits'],
  ['-p tcp -m tcp ! --syn', 'misses'],
  ['-p icmp -m icmp --icmp-type 8', 'misses'],
  ['-p icmp -m icmp --icmp-type echo-request', 'misses'],
  ['-p icmp -m icmp --icmp-type 3/4', 'misses'],
  ['-p icmp -m icmp --icmp-type any', 'misses'],
  // Nobody knows with which time to live a client starts, so only what holds for all of them is sure.
  ['-m ttl --ttl-lt 10', 'misses'],
  ['-m ttl --ttl-gt 9', 'hits'],
  ['-m ttl --ttl-gt 63', 'hits'],
  ['-m ttl --ttl-gt 64', 'open'],
  ['-m ttl --ttl-eq 64', 'open'],
  ['-m ttl --ttl-eq 63', 'misses'],
  ['-m ttl --ttl-lt 64', 'misses'],
  ['-m ttl --ttl-lt 65', 'open'],
  ['-m hl --hl-gt 9', 'hits', 'tcp6'],
  ['-m frag --fragid 1', 'misses', 'tcp6'],
  ['-m rt --rt-type 0', 'misses', 'tcp6'],
  ['-m rt ! --rt-type 0', 'hits', 'tcp6'],
  ['! -f', 'hits'],
];

const OTHERS: readonly Row[] = [
  ['-m comment --comment "tide -p udp"', 'hits'],
  ['-m limit --limit 3/min', 'open'],
  ['-m hashlimit --hashlimit-above 3/min --hashlimit-name x', 'open'],
  ['-m connlimit --connlimit-above 3', 'open'],
  ['-m time --timestart 08:00', 'open'],
  ['-m recent --set --name x', 'hits'],
  ['-m recent --update --seconds 60 --name x', 'open'],
  ['-m statistic --mode random --probability 0.5', 'open'],
  ['-m string --string x --algo bm', 'open'],
  ['-m owner --uid-owner 0', 'open'],
  ['-m nosuchmodule --with 1', 'open'],
  ['-m nosuchmodule --with 1 -s 198.51.100.99', 'misses'],
  ['-m limit --limit 3/min -p udp', 'misses'],
];

describe('conditions of iptables, by whether they hit a new TCP packet (iptables-extensions(8))', () => {
  for (const [title, rows] of Object.entries({
    ADDRESSES,
    INTERFACES,
    PROTOCOLS,
    PORTS,
    SESSIONS,
    KINDS,
    HEADERS,
    OTHERS,
  }))
    describe(title.toLowerCase(), () => {
      for (const [condition, expected, packet = 'tcp'] of rows)
        it(`${condition}${packet === 'tcp' ? '' : ` (${packet})`}: ${expected}`, () =>
          expect(meets(condition, packet)).to.equal(expected));
    });

  it('conditions on answers', () => {
    expect(meets('-m conntrack --ctstate ESTABLISHED', 'tcp', 'OUTPUT')).to.equal('hits');
    expect(meets('-m conntrack --ctstate NEW', 'tcp', 'OUTPUT')).to.equal('misses');
    expect(meets('-m conntrack --ctdir REPLY', 'tcp', 'OUTPUT')).to.equal('hits');
    expect(meets('-m conntrack --ctstatus SEEN_REPLY', 'tcp', 'OUTPUT')).to.equal('hits');
    expect(meets('-p tcp -m tcp --tcp-flags SYN,ACK SYN,ACK', 'tcp', 'OUTPUT')).to.equal('hits');
    expect(meets('-o eth0', 'tcp', 'OUTPUT')).to.equal('hits');
    expect(meets('-o eth1', 'tcp', 'OUTPUT')).to.equal('misses');
  });
});

describe('targets of iptables', () => {
  const marked = (set: string, wanted: string): string =>
    meets(`-m mark --mark ${wanted}`, 'tcp', 'INPUT', `-A INPUT -j MARK ${set}\n`);

  for (const [set, wanted] of [
    ['--set-mark 0x5', '0x5'],
    ['--set-mark 0x5/0x1', '0x5'],
    ['--set-xmark 0x5/0x1', '0x5'],
    ['--or-mark 0x6', '0x6'],
    ['--and-mark 0x6', '0'],
    ['--xor-mark 0x6', '0x6'],
  ] as const)
    it(`MARK ${set} leaves ${wanted}`, () => {
      expect(marked(set, wanted)).to.equal('hits');
      expect(marked(set, '0x77')).to.equal('misses');
    });

  it('marks are changed bit by bit (iptables-extensions(8), MARK)', () => {
    const after = (...sets: string[]): ((wanted: string) => string) => {
      const before = sets.map((s) => `-A INPUT -j MARK ${s}\n`).join('');
      return (wanted) => meets(`-m mark --mark ${wanted}`, 'tcp', 'INPUT', before);
    };
    expect(after('--set-mark 0xf0', '--or-mark 0x0f')('0xff')).to.equal('hits');
    expect(after('--set-mark 0xff', '--and-mark 0x0f')('0x0f')).to.equal('hits');
    expect(after('--set-mark 0xff', '--xor-mark 0x0f')('0xf0')).to.equal('hits');
    expect(after('--set-mark 0xff', '--set-xmark 0x1/0x0f')('0xf1')).to.equal('hits');
    expect(after('--set-mark 0xf0', '--set-mark 0x1/0x0f')('0xf1')).to.equal('hits');
    expect(after('--set-mark 0xf0', '--set-mark 0x3/0x10')('0xe3')).to.equal('hits');
  });

  it('a session keeps a mark for its packets', () => {
    const before =
      '-A INPUT -j MARK --set-mark 0x9\n-A INPUT -j CONNMARK --save-mark\n-A OUTPUT -j CONNMARK --restore-mark\n';
    expect(meets('-m mark --mark 0x9', 'tcp', 'OUTPUT', before)).to.equal('hits');
    expect(meets('-m mark --mark 0x8', 'tcp', 'OUTPUT', before)).to.equal('misses');
  });

  for (const [target, expected] of [
    ['ACCEPT', 'answered at host'],
    ['DROP', 'lost at host'],
    ['RETURN', 'answered at host'],
    ['REJECT', 'refused at host'],
    ['REJECT --reject-with tcp-reset', 'refused at host'],
    ['REJECT --reject-with icmp-admin-prohibited', 'refused at host'],
    ['LOG --log-prefix "x "', 'answered at host'],
    ['NFLOG --nflog-group 1', 'answered at host'],
    ['TCPMSS --clamp-mss-to-pmtu', 'answered at host'],
    ['CT --zone 1', 'unknown'],
    ['CT --helper ftp', 'answered at host'],
    ['NFQUEUE --queue-num 0', 'unknown'],
    ['MARK --nosuch 1', 'unknown'],
    ['CONNMARK --save-mark --nfmask 0xff --ctmask 0xff', 'unknown'],
    ['CONNMARK --restore-mark --nfmask 0xff --ctmask 0xff', 'unknown'],
    ['DNAT --to-destination nowhere', 'unknown'],
  ] as const)
    it(`-j ${target}: ${expected}`, () => {
      const site = siteWith(
        `*filter\n:INPUT ACCEPT [0:0]\n:OUTPUT ACCEPT [0:0]\n-A INPUT -j ${target}\nCOMMIT\n`,
        4,
      );
      expect(outcome(run(site, '198.51.100.23:40000', '198.51.100.9:80/tcp'))).to.equal(expected);
    });

  for (const [rule, to, expected] of [
    ['-A PREROUTING -p tcp -m tcp --dport 81 -j REDIRECT --to-ports 80', '81', 'answered at host'],
    [
      '-A PREROUTING -p tcp -m tcp --dport 81 -j DNAT --to-destination 198.51.100.9:80',
      '81',
      'answered at host',
    ],
    ['-A PREROUTING -p tcp -m tcp --dport 81 -j DNAT --to-destination :80', '81', 'answered at host'],
    ['-A PREROUTING -p tcp -m tcp --dport 81 -j DNAT --to-destination 198.51.100.9', '81', 'refused at host'],
    [
      '-A PREROUTING -p tcp -m tcp --dport 80:89 -j DNAT --to-destination 198.51.100.9:75-84/80',
      '85',
      'answered at host',
    ],
    // Below the base the distance is counted in 16 bits: a kernel took 8049 with base 8050 to the sixth port.
    [
      '-A PREROUTING -p tcp -m tcp --dport 90:110 -j DNAT --to-destination 198.51.100.9:75-84/100',
      '99',
      'answered at host',
    ],
    ['-A PREROUTING -d 198.51.100.0/24 -j NETMAP --to 198.51.100.0/24', '80', 'answered at host'],
  ] as const)
    it(`nat ${rule}`, () => {
      const site = siteWith(
        '*nat\n' +
          ':PREROUTING ACCEPT [0:0]\n' +
          ':INPUT ACCEPT [0:0]\n' +
          ':OUTPUT ACCEPT [0:0]\n' +
          ':POSTROUTING ACCEPT [0:0]\n' +
          `${rule}\n` +
          'COMMIT\n',
        4,
      );
      expect(outcome(run(site, '198.51.100.23:40000', `198.51.100.9:${to}/tcp`))).to.equal(expected);
    });

  it('an IPv6 target with a port stands in brackets', () => {
    const site = siteWith(
      '*nat\n' +
        ':PREROUTING ACCEPT [0:0]\n' +
        ':INPUT ACCEPT [0:0]\n' +
        ':OUTPUT ACCEPT [0:0]\n' +
        ':POSTROUTING ACCEPT [0:0]\n' +
        '-A PREROUTING -p tcp -m tcp --dport 81 -j DNAT --to-destination [2001:db8::9]:80\n' +
        'COMMIT\n',
      6,
    );
    expect(outcome(run(site, '[2001:db8::23]:40000', '[2001:db8::9]:81/tcp'))).to.equal('answered at host');
  });

  it('a table that breaks off leaves its chains open', () => {
    const cut = siteWith(
      '*filter\n:INPUT ACCEPT [0:0]\n:OUTPUT ACCEPT [0:0]\n-A INPUT -s 192.0.2.1/32 -j DROP\n',
      4,
    );
    expect(outcome(run(cut, '198.51.100.23:40000', '198.51.100.9:80/tcp'))).to.equal('unknown');
  });
});
