/** Machines that keep a client out, each for one reason. */

export const CLIENT = '198.51.100.23';
/** What the client dials: the server itself, or the gateway in front of it. */
export const OUTSIDE = '198.51.100.80';
export const INSIDE = '192.168.50.20';
export const PORT = 8214;
/** Names that a shell would act on, were they not quoted. */
const CHAIN = 'guard;in';

export interface Faulty {
  readonly title: string;
  /** Which machine is at fault; a site with a faulty gateway has the server behind it. */
  readonly at: 'server' | 'gateway';
  readonly nft?: string;
  readonly iptables?: string;
  /** Commands that break it besides its rules. */
  readonly broken?: string;
  /** Who else is to be let in. */
  readonly others?: readonly string[];
  /** Listed without handles, as people mostly paste it. */
  readonly isPlain?: true;
  /** Listed by both programs, nft’s and iptables’. */
  readonly isTwice?: true;
}

const chain = (rules: string, policy = 'drop'): string =>
  'table inet guard {\n' +
  ' chain input {\n' +
  `  type filter hook input priority filter; policy ${policy};\n` +
  '  ct state established,related accept\n' +
  `  ${rules}\n` +
  ' }\n' +
  '}\n';
const saved = (rules: string): string =>
  '*filter\n' +
  ':INPUT DROP [0:0]\n' +
  ':FORWARD ACCEPT [0:0]\n' +
  ':OUTPUT ACCEPT [0:0]\n' +
  '-A INPUT -m state --state RELATED,ESTABLISHED -j ACCEPT\n' +
  `${rules}COMMIT\n`;
const nat = (rules: string): string =>
  'table ip nat {\n chain pre {\n  type nat hook prerouting priority dstnat; policy accept;\n' +
  `  ${rules}\n }\n}\n`;
const savedNat = (rules: string): string =>
  '*nat\n' +
  ':PREROUTING ACCEPT [0:0]\n' +
  ':INPUT ACCEPT [0:0]\n' +
  ':OUTPUT ACCEPT [0:0]\n' +
  ':POSTROUTING ACCEPT [0:0]\n' +
  `${rules}COMMIT\n`;
const OFFICE = 'comment "the $(id) office"';
const RIGHT = nat(`tcp dport ${PORT} dnat to ${INSIDE}`);

export const SITES: readonly Faulty[] = [
  { title: 'nft, nothing lets it in', at: 'server', nft: chain('tcp dport 22 accept') },
  {
    title: 'nft, a rule above ends it',
    at: 'server',
    nft: chain(`tcp dport ${PORT} counter drop`, 'accept'),
  },
  {
    title: 'nft, one digit off in the source',
    at: 'server',
    nft: chain(`ip saddr 198.51.100.33 tcp dport ${PORT} counter accept ${OFFICE}`),
  },
  {
    title: 'nft listed without handles, one digit off in the source',
    at: 'server',
    nft: chain(`tcp dport 22 accept\n  ip saddr 198.51.100.33 tcp dport ${PORT} counter accept ${OFFICE}`),
    isPlain: true,
  },
  {
    title: 'iptables, nothing lets it in',
    at: 'server',
    iptables: saved('-A INPUT -p tcp --dport 22 -j ACCEPT\n'),
  },
  {
    title: 'iptables, nothing lets it in, and three are to be',
    at: 'server',
    iptables: saved('-A INPUT -p tcp --dport 22 -j ACCEPT\n'),
    others: ['192.0.2.7', '192.0.2.64/27'],
  },
  {
    title: 'iptables, a rule above ends it, in a chain of its own',
    at: 'server',
    iptables: saved(
      `:${CHAIN} - [0:0]\n` +
        `-A INPUT -p tcp -j ${CHAIN}\n` +
        `-A ${CHAIN} -p tcp --dport 22 -j ACCEPT\n` +
        `-A ${CHAIN} -p tcp --dport ${PORT} -j REJECT\n`,
    ),
  },
  {
    title: 'iptables, one digit off in the source',
    at: 'server',
    iptables: saved(
      `-A INPUT -s 198.51.100.33/32 -p tcp --dport ${PORT} -m comment --comment "it's the $(id) ` +
        'office" -j ACCEPT\n',
    ),
  },
  { title: 'an interface that is switched off', at: 'gateway', nft: RIGHT, broken: 'ip link set lan down' },
  {
    title: 'forwarding switched off',
    at: 'gateway',
    nft: RIGHT,
    broken: 'sysctl -qw net.ipv4.ip_forward=0',
  },
  { title: 'no translation and no chain for it', at: 'gateway', nft: 'table ip nat {\n}\n' },
  { title: 'nft, no translation', at: 'gateway', nft: nat('tcp dport 443 dnat to 192.168.50.30') },
  {
    title: 'nft, a translation to a machine that is gone',
    at: 'gateway',
    nft: nat(`tcp dport ${PORT} counter dnat to 192.168.50.21 ${OFFICE}`),
  },
  {
    title: 'nft without handles, a translation to a machine that is gone',
    at: 'gateway',
    nft: nat(
      `tcp dport 22 dnat to 192.168.50.21:22\n  tcp dport ${PORT} counter dnat to 192.168.50.21:${PORT}`,
    ),
    isPlain: true,
  },
  { title: 'nft, the inside port', at: 'gateway', nft: nat(`tcp dport ${PORT} dnat to ${INSIDE}:8213`) },
  {
    title: 'nft, the inside port, and iptables does not see the rule',
    at: 'gateway',
    nft: nat(`tcp dport ${PORT} dnat to ${INSIDE}:8213`),
    isTwice: true,
  },
  { title: 'nft, the protocol', at: 'gateway', nft: nat(`udp dport ${PORT} dnat to ${INSIDE}`) },
  { title: 'nft, the line', at: 'gateway', nft: nat(`iifname "wan2" tcp dport ${PORT} dnat to ${INSIDE}`) },
  {
    title: 'nft, another rule takes it first',
    at: 'gateway',
    nft: nat(`tcp dport 8000-8999 dnat to 192.168.50.21\n  tcp dport ${PORT} counter dnat to ${INSIDE}`),
  },
  {
    title: 'iptables, a translation to a machine that is gone',
    at: 'gateway',
    iptables: savedNat(
      '-A PREROUTING -p tcp -m tcp --dport 22 -j DNAT --to-destination 192.168.50.21\n' +
        `-A PREROUTING -p tcp -m tcp --dport ${PORT} -j DNAT --to-destination 192.168.50.21:${PORT}\n`,
    ),
  },
  {
    title: 'iptables, the inside port',
    at: 'gateway',
    iptables: savedNat(
      `-A PREROUTING -p tcp -m tcp --dport ${PORT} -j DNAT --to-destination ${INSIDE}:8213\n`,
    ),
  },
  {
    title: 'iptables, another rule takes it first',
    at: 'gateway',
    iptables: savedNat(
      '-A PREROUTING -p tcp -m tcp --dport 8000:8999 -j DNAT --to-destination 192.168.50.21\n' +
        `-A PREROUTING -p tcp -m tcp --dport ${PORT} -j DNAT --to-destination ${INSIDE}\n`,
    ),
  },
  {
    title: 'iptables, a translation for somebody else, and three are to be let in',
    at: 'gateway',
    iptables: savedNat(
      '-A PREROUTING -p tcp -m tcp --dport 22 -j DNAT --to-destination 192.168.50.21\n' +
        `-A PREROUTING -s 192.0.2.9/32 -p tcp -m tcp --dport ${PORT} -j DNAT --to-destination ` +
        `${INSIDE}\n`,
    ),
    others: ['192.0.2.7', '192.0.2.64/27'],
  },
];
