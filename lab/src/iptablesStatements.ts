import { CLIENT, CLIENT6, HOST, HOST6, INSIDE, OTHER, WAN } from './places.ts';
import { OTHER_PORT, rulesOf, type Placed, type Statement, type Tables } from './statement.ts';

/** Conditions for TCP packets to the statement's own port. */
const TCP: readonly string[] = [
  '',
  `-s ${CLIENT}`,
  `! -s ${CLIENT}`,
  '-s 198.51.100.0/27',
  `-d ${HOST}`,
  `! -d ${HOST}`,
  `-d ${WAN}`,
  '-m tcp --sport 40000:65535',
  '-m tcp --sport 1:1023',
  '-m tcp ! --sport :1023',
  '-m tcp --tcp-flags SYN,ACK,FIN,RST SYN',
  '-m tcp --tcp-flags ALL SYN',
  '-m tcp --tcp-flags ALL NONE',
  '-m tcp --tcp-flags SYN,ACK SYN,ACK',
  '-m tcp ! --tcp-flags SYN,ACK SYN',
  '-m tcp --syn',
  '-m tcp ! --syn',
  '-m multiport --dports PORT,22',
  '-m multiport ! --dports PORT,22',
  '-m multiport --dports 20000:20999',
  '-m multiport --sports 40000:65535,22',
  '-m multiport --ports PORT',
  '-m multiport ! --ports 22,40000:65535',
  '-m conntrack --ctstate NEW',
  '-m conntrack ! --ctstate NEW',
  '-m conntrack --ctstate DNAT',
  '-m conntrack ! --ctstate DNAT',
  '-m conntrack --ctstate NEW,DNAT',
  '-m conntrack --ctstate ESTABLISHED,DNAT',
  '-m conntrack ! --ctstate ESTABLISHED,DNAT',
  '-m conntrack --ctstate SNAT',
  '-m conntrack --ctstate RELATED,ESTABLISHED',
  '-m conntrack --ctstate INVALID,UNTRACKED',
  '-m state --state NEW',
  '-m state ! --state NEW',
  '-m conntrack --ctstatus NONE',
  '-m conntrack --ctstatus ASSURED,SEEN_REPLY',
  '-m conntrack --ctdir ORIGINAL',
  '-m conntrack --ctdir REPLY',
  '-m conntrack --ctproto 6',
  '-m conntrack ! --ctproto 6',
  `-m conntrack --ctorigsrc ${CLIENT}`,
  `-m conntrack ! --ctorigsrc ${CLIENT}`,
  `-m conntrack --ctorigdst ${WAN}`,
  `-m conntrack --ctorigdst ${HOST}`,
  `-m conntrack --ctreplsrc ${HOST}`,
  `-m conntrack --ctrepldst ${CLIENT}`,
  '-m conntrack --ctorigsrcport 40000:65535',
  '-m conntrack --ctorigdstport PORT',
  '-m addrtype --src-type UNICAST',
  '-m addrtype --dst-type LOCAL',
  '-m addrtype ! --dst-type LOCAL',
  '-m addrtype --dst-type UNICAST',
  '-m addrtype --dst-type BROADCAST,MULTICAST',
  '-m iprange --src-range 198.51.100.20-198.51.100.30',
  '-m iprange ! --src-range 198.51.100.20-198.51.100.30',
  '-m iprange --dst-range 192.168.50.1-192.168.50.50',
  '-m mark --mark 0',
  '-m mark --mark 0x10/0x10',
  '-m mark ! --mark 0x10/0x10',
  '-m connmark --mark 0x1/0xff',
  '-m pkttype --pkt-type unicast',
  '-m pkttype --pkt-type broadcast',
  '-m pkttype ! --pkt-type multicast',
  '-m ttl --ttl-eq 62',
  '-m ttl --ttl-lt 63',
  '-m ttl --ttl-gt 62',
  '-m comment --comment "a \\"word\\" of it"',
  '-i wan0',
  '! -i wan0',
  '-i eno1',
  '-i e+',
  '! -i lo',
];

/** What a rule does with a TCP packet that it takes. */
const ENDINGS: readonly string[] = [
  '-j ACCEPT',
  '-j DROP',
  '-j RETURN',
  '-j REJECT --reject-with tcp-reset',
  '-j REJECT --reject-with icmp-port-unreachable',
  '-j REJECT --reject-with icmp-host-unreachable',
  '-j REJECT --reject-with icmp-net-unreachable',
  '-j REJECT --reject-with icmp-proto-unreachable',
  '-j REJECT --reject-with icmp-net-prohibited',
  '-j REJECT --reject-with icmp-host-prohibited',
  '-j REJECT --reject-with icmp-admin-prohibited',
  '-j LOG --log-prefix "seen "',
  '-j NFLOG --nflog-group 3',
  '-j EMPTY',
  '-g EMPTY',
  '-j DROPS',
  '-g DROPS',
  '-j PASSES',
  '-j RETURNING',
  '-g RETURNING',
  '-j DEEP',
  '-g DEEP',
];

const ROWS: readonly (readonly string[])[] = [
  [`-s ${CLIENT} -j ACCEPT`, '-j DROP'],
  [`-s ${CLIENT} -j RETURN`, '-j DROP'],
  [`-s ${CLIENT} -j PASSES`, '-j DROP'],
  [`-s ${CLIENT} -j EMPTY`, '-j DROP'],
  [`-s ${CLIENT} -g EMPTY`, '-j DROP'],
  ['-j LOG --log-prefix "seen "', '-j DROP'],
  ['-j RETURNING', '-j DROP'],
];

/** Marks, set in the mangle table and asked for in the next one. */
const MARKED: readonly (readonly string[])[] = [
  ['-j MARK --set-mark 0x10', '-m mark --mark 0x10 -j DROP'],
  ['-j MARK --set-xmark 0x3/0xff', '-m mark --mark 0x2/0x2 -j DROP'],
  ['-j MARK --or-mark 0x4', '-m mark --mark 0x4/0x4 -j DROP'],
  ['-j MARK --set-mark 0x7', '-j MARK --and-mark 0x3', '-m mark --mark 0x3 -j DROP'],
  ['-j MARK --set-mark 0x7', '-j MARK --xor-mark 0x5', '-m mark --mark 0x2 -j DROP'],
  ['-j CONNMARK --set-mark 0x21', '-m connmark --mark 0x21 -j DROP'],
  ['-j MARK --set-mark 0x5', '-j CONNMARK --save-mark', '-m connmark --mark 0x5 -j DROP'],
  ['-j CONNMARK --set-mark 0x6', '-j CONNMARK --restore-mark', '-m mark --mark 0x6 -j DROP'],
  ['-j MARK --set-mark 0x10', '-m mark ! --mark 0x10 -j DROP'],
  [`-s ${CLIENT} -j MARK --set-mark 0x10`, '-m mark --mark 0x10 -j DROP'],
  ['-j MARK --set-mark 0x10', '-j RETURN', '-m mark --mark 0x10 -j DROP'],
];

const FORWARDS: readonly string[] = [
  `-j DNAT --to-destination ${HOST}`,
  `-j DNAT --to-destination ${HOST}:${OTHER_PORT}`,
  `-j DNAT --to-destination ${HOST}:PORT`,
  '-j DNAT --to-destination 192.168.50.20-192.168.50.20',
  '-j DNAT --to-destination 192.168.50.99',
  '-j DNAT --to-destination 192.168.50.1',
  `-s ${CLIENT} -j DNAT --to-destination ${HOST}:${OTHER_PORT}`,
  `! -s ${CLIENT} -j DNAT --to-destination ${HOST}:${OTHER_PORT}`,
  `-d ${WAN} -j DNAT --to-destination ${HOST}:${OTHER_PORT}`,
  `-i lan0 -j DNAT --to-destination ${HOST}:${OTHER_PORT}`,
  `-m addrtype --dst-type LOCAL -j DNAT --to-destination ${HOST}:${OTHER_PORT}`,
  '-j REDIRECT',
  `-j REDIRECT --to-ports ${OTHER_PORT}`,
  '-j NETMAP --to 192.168.50.20/32',
  `-d ${WAN} -j NETMAP --to 192.168.50.16/29`,
  '-j ACCEPT',
  '-j RETURN',
  '-j TOHOST',
];

const SOURCES: readonly string[] = [
  '-j MASQUERADE',
  `-s ${CLIENT} -j MASQUERADE --to-ports 30000-30000`,
  '-j SNAT --to-source 192.168.50.1',
  `-j SNAT --to-source ${INSIDE}`,
  `-s ${CLIENT} -j SNAT --to-source 192.168.50.1:30002`,
  `-s ${CLIENT} -j SNAT --to-source 192.168.50.1`,
  `! -s ${CLIENT} -j MASQUERADE`,
  '-o lan0 -j MASQUERADE',
  '-o wan0 -j MASQUERADE',
  '-m conntrack --ctstate DNAT -j MASQUERADE',
  '-j ACCEPT',
];

const EARLY: readonly string[] = [
  '-j CT --notrack',
  '-j NOTRACK',
  `-d ${WAN} -j DROP`,
  `-d ${HOST} -j DROP`,
  '-m addrtype --dst-type LOCAL -j DROP',
  '-i wan0 -j DROP',
];

const OUTWARD: readonly string[] = ['-o lan0', '! -o lan0', '-o wan0', '-o l+', '-i wan0 -o lan0', '-i lan0'];

/** The same hooks, for IPv6. */
const SIX: readonly string[] = [
  `-s ${CLIENT6} -j DROP`,
  '! -s 2001:db8:c1::/64 -j DROP',
  `-d ${HOST6} -j DROP`,
  '-m hl --hl-eq 62 -j DROP',
  '-m hl --hl-lt 63 -j DROP',
  '-m hl --hl-gt 62 -j DROP',
  '-m conntrack --ctstate NEW -j DROP',
  '-m conntrack --ctstate DNAT -j DROP',
  `-m conntrack --ctorigdst ${HOST6} -j DROP`,
  '-m iprange --src-range 2001:db8:c1::20-2001:db8:c1::30 -j DROP',
  '-m addrtype --dst-type LOCAL -j DROP',
  '-m rt --rt-type 0 -j DROP',
  '-m rt ! --rt-type 0 -j DROP',
  '-m frag --fragfirst -j DROP',
  '-j REJECT --reject-with tcp-reset',
  '-j REJECT --reject-with icmp6-port-unreachable',
  '-j REJECT --reject-with icmp6-no-route',
  '-j REJECT --reject-with icmp6-addr-unreachable',
  '-j REJECT --reject-with icmp6-adm-prohibited',
  '-j REJECT --reject-with icmp6-policy-fail',
  '-j REJECT --reject-with icmp6-reject-route',
  '-j DROPS',
];

const at = (where: Statement['where'], texts: readonly string[]): Statement[] =>
  texts.map((text) => ({ where, rules: [text] }));

/** Every match and target that is modelled, one statement a port; all of them for TCP alone or UDP alone. */
export const IPTABLES_STATEMENTS: readonly Statement[] = [
  ...at(
    'host',
    TCP.map((c) => `${c} -j DROP`),
  ),
  ...at(
    'forward',
    [...TCP, ...OUTWARD].map((c) => `${c} -j DROP`),
  ),
  ...at('host', ENDINGS),
  ...at('forward', ENDINGS),
  ...ROWS.map((rules): Statement => ({ where: 'host', rules })),
  ...MARKED.map((rules): Statement => ({ where: 'host', rules })),
  ...MARKED.map((rules): Statement => ({ where: 'forward', rules })),
  ...SIX.map((rule): Statement => ({ where: 'host', rules: [rule], family: 6 })),
  ...SIX.map((rule): Statement => ({ where: 'forward', rules: [rule], family: 6 })),
  ...at('prerouting', FORWARDS),
  ...at('postrouting', SOURCES),
  ...at('early', EARLY),
];

/** A target that a packet does not come back from, or one that hands it over: it belongs to the filter table. */
const isMarking = (rule: string): boolean => /-j (?:CONN)?MARK /.test(rule);

const CHAINS: Readonly<Record<string, readonly string[]>> = {
  EMPTY: [],
  DROPS: ['-j DROP'],
  PASSES: ['-j ACCEPT'],
  RETURNING: [`-s ${CLIENT} -j RETURN`, '-j ACCEPT'],
  DEEP: [`-s ${OTHER} -j DROPS`, `-s ${CLIENT} -g RETURNING`],
};

function table(name: string, chains: readonly string[], rules: readonly string[], own = {}): string {
  const named = Object.entries<readonly string[]>(own);
  return [
    `*${name}`,
    ...chains.map((chain) => `:${chain} ACCEPT [0:0]`),
    ...named.map(([chain]) => `:${chain} - [0:0]`),
    ...rules,
    ...named.flatMap(([chain, list]) => list.map((rule) => `-A ${chain} ${rule}`)),
    'COMMIT\n',
  ].join('\n');
}

/** The rule sets of gateway and server that hold these statements. */
export function iptablesTables(placed: readonly Placed[]): Tables {
  const of = (
    where: Statement['where'],
    chain: string,
    wanted: (rule: string) => boolean = () => true,
    family = 4,
  ): string[] =>
    placed
      .filter((p) => p.where === where && (p.family ?? 4) === family)
      .flatMap((p) =>
        rulesOf(p)
          .filter(wanted)
          .flatMap((rule) => {
            const both = /tcp|--ctproto|--syn/.test(rule) ? ['tcp'] : ['tcp', 'udp'];
            return both.map((transport) => `-A ${chain} -p ${transport} --dport ${p.port} ${rule}`);
          }),
      );
  const inFilter = (rule: string): boolean => !isMarking(rule);
  const all = ['tcp', 'udp'].map(
    (p) => `-A PREROUTING -d ${WAN}/32 -p ${p} --dport 20000:20999 -j DNAT --to-destination ${HOST}`,
  );
  const nat = table(
    'nat',
    ['PREROUTING', 'INPUT', 'OUTPUT', 'POSTROUTING'],
    [
      ...of('prerouting', 'PREROUTING'),
      ...all,
      ...of('postrouting', `POSTROUTING -d ${HOST}`),
      `-A POSTROUTING -s 192.168.50.0/24 -d ${HOST} -j MASQUERADE`,
      '-A POSTROUTING -o wan0 -j MASQUERADE',
    ],
    { TOHOST: ['-p tcp', '-p udp'].map((p) => `${p} -j DNAT --to-destination ${HOST}:${OTHER_PORT}`) },
  );
  const filter = (rules: readonly string[]): string =>
    table('filter', ['INPUT', 'FORWARD', 'OUTPUT'], rules, CHAINS);
  const mangled = (where: 'host' | 'forward', chain: string): string =>
    table('mangle', ['PREROUTING', 'INPUT', 'FORWARD', 'OUTPUT', 'POSTROUTING'], of(where, chain, isMarking));
  const six = (where: 'host' | 'forward', chain: string): string =>
    table('filter', ['INPUT', 'FORWARD', 'OUTPUT'], of(where, chain, inFilter, 6), {
      DROPS: ['-j DROP'],
    });
  return {
    gateway: {
      rules: '',
      ip6tables: six('forward', 'FORWARD'),
      iptables:
        table('raw', ['PREROUTING', 'OUTPUT'], of('early', 'PREROUTING')) +
        mangled('forward', 'FORWARD') +
        nat +
        filter(of('forward', 'FORWARD', inFilter)),
    },
    host: {
      rules: '',
      ip6tables: six('host', 'INPUT'),
      iptables: mangled('host', 'INPUT') + filter(of('host', 'INPUT', inFilter)),
    },
  };
}
