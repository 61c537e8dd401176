import { CLIENT, HOST, OTHER, WAN } from './places.ts';
import { OTHER_PORT, rulesOf, type Placed, type Statement, type Tables } from './statement.ts';

/** Marks are set in the mangle table; all other rules of a hook belong to the filter table. */
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
