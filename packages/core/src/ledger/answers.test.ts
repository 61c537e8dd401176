import { expect } from 'chai';
import { ASKS, type AskKind } from '../asks/index.ts';
import { readText } from '../reading/index.ts';
import { answers } from './answers.ts';

const ADDRESSES =
  '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.20/24 scope global eno1\n';
const RULES =
  'table inet f {\n' +
  ' chain i {\n' +
  '  type filter hook input priority filter; policy drop;\n' +
  '  tcp dport 8214 accept\n' +
  ' }\n' +
  '}\n';
const COUNTED = RULES.replace('tcp dport 8214', 'tcp dport 8214 counter packets 3 bytes 180');

const tables = (...rules: readonly string[]): string =>
  ['*nat', ':PREROUTING ACCEPT [0:0]', 'COMMIT', '*filter', ':INPUT DROP [0:0]', ...rules, 'COMMIT', ''].join(
    '\n',
  );

/** What answers which asks, by reading what programs print. */
const TABLE: readonly (readonly [title: string, text: string, answered: readonly AskKind[]])[] = [
  ['ip addr', ADDRESSES, ['addresses']],
  ['ip route', 'default via 192.168.50.1 dev eno1\n192.168.50.0/24 dev eno1 scope link\n', ['routes']],
  ['kernel settings', 'net.ipv4.ip_forward = 1\nnet.ipv4.conf.all.rp_filter = 0\n', ['routes']],
  ['ip neigh', '192.168.50.1 dev eno1 lladdr 02:48:4e:00:00:01 REACHABLE\n', ['neighbours']],
  [
    'ss -tulpn',
    'Netid State  Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
      'tcp   LISTEN 0      16     0.0.0.0:8214  0.0.0.0:*    users:(("gullcast",pid=7,fd=3))\n',
    ['sockets'],
  ],
  ['nft list ruleset', RULES, ['rules', 'forwards']],
  ['nft list ruleset with counters', COUNTED, ['rules', 'forwards', 'counters']],
  ['iptables-save', tables('-A INPUT -p tcp --dport 8214 -j ACCEPT'), ['rules', 'forwards']],
  [
    'iptables-save -c',
    tables('[3:180] -A INPUT -p tcp --dport 8214 -j ACCEPT', '-A INPUT -j DROP'),
    ['rules', 'forwards', 'counters'],
  ],
  ['a forward table', 'tcp 8214 192.168.50.20 8214\nudp 28410 192.168.50.20 28410\n', ['forwards']],
  ['leases', '1767225600 02:48:4e:00:00:20 192.168.50.20 server *\n', ['leases']],
  ['a status line', 'WAN IP 203.0.113.50\n', ['status']],
  ['what the internet sees', 'seen from outside 203.0.113.50\n', ['seen-address']],
  ['a look-up', 'radio.example.net has address 203.0.113.50\n', ['name']],
  ['a mapping', 'UDP:28410:192.168.50.20:28410:0:tide\n', ['mappings']],
  ['settings of a program', "listen_addresses = '*'\nport = 5432\n", ['configuration']],
  [
    'a packet log',
    'Nov 25 10:00:00 gw kernel: DENY IN=wan OUT= MAC= SRC=198.51.100.23 DST=203.0.113.50 LEN=60 ' +
      'TOS=0x00 PREC=0x00 TTL=62 ID=1 DF PROTO=TCP SPT=40112 DPT=8214 WINDOW=64240 RES=0x00 SYN URGP=0\n',
    ['drop-log'],
  ],
  [
    'sessions',
    'tcp      6 118 SYN_SENT src=198.51.100.23 dst=203.0.113.50 sport=40112 dport=8214 ' +
      '[UNREPLIED] src=192.168.50.20 dst=198.51.100.23 sport=8214 dport=40112 mark=0 use=1\n',
    ['sessions'],
  ],
];

describe('which piece of evidence answers which ask', () => {
  for (const [title, text, answered] of TABLE)
    it(title, () => {
      const reading = readText(text);
      if (!reading) throw new Error(`nothing understood in ${title}`);
      expect(
        ASKS.filter((ask) => answers({ shows: reading.covers, facts: reading.facts }, ask)),
      ).to.have.members([...answered]);
    });

  it('nothing answers where nothing was understood', () =>
    expect(ASKS.filter((ask) => answers({ shows: [], facts: [] }, ask))).to.deep.equal([]));
});
