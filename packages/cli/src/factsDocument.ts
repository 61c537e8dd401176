import { compileIptables, compileNft, forwardsOf } from '@bright-ferry/core/devices';
import { printed, type Fact, type Printed } from '@bright-ferry/core/facts';
import { doubtText } from '@bright-ferry/core/words';
import { iptablesChains, iptablesCounters, nftChains, nftSets, objectCounts } from './factsRules.ts';
import { forwardFactRows, forwardRows } from './factsForwards.ts';

/** Facts grouped by kind, each with the line where it stands. */
export type FactsDocument = Readonly<Record<string, unknown>>;

export type Of<K extends Fact['kind']> = Extract<Fact, { kind: K }>;

/** Groups the facts of one reading for `read --json`. */
export function factsDocument(facts: readonly Fact[]): FactsDocument {
  const of = <K extends Fact['kind']>(kind: K): Of<K>[] => facts.filter((f): f is Of<K> => f.kind === kind);
  const groups: Record<string, unknown> = {};
  const put = (key: string, list: readonly unknown[]): void => {
    if (list.length > 0) groups[key] = list;
  };
  put('interfaces', interfaces(of('interface'), of('address')));
  put('routes', of('route').map(routeRow));
  const families = new Set(of('route').map((r) => r.family));
  if (families.size === 1) groups['family'] = [...families][0];
  put('rules', of('policy').map(policyRow));
  put(
    'neighbours',
    of('neighbour').map((n) => ({
      address: n.address,
      dev: n.dev,
      mac: n.mac,
      state: n.states,
      line: n.at.line,
    })),
  );
  put('sockets', of('socket').map(socketRow));
  if (of('setting').length > 0)
    groups['values'] = Object.fromEntries(of('setting').map((s) => [s.key, s.value]));
  put(
    'leases',
    of('lease').map((l) => ({
      mac: l.mac,
      name: l.name,
      address: l.address,
      permanent: l.expires === null,
      expires: l.expires,
      line: l.at.line,
    })),
  );
  put('forwards', of('forward').flatMap(forwardFactRows));
  put(
    'labelled',
    of('labelled').map((l) => ({
      what: l.what,
      label: l.label,
      value: l.value,
      ...(l.prefix === undefined ? {} : { prefix: l.prefix }),
      line: l.at.line,
    })),
  );
  put('names', of('name').map(nameRow));
  // One name asked for by several types (A and AAAA): the first that has an answer says the most.
  const [name] = of('name').filter(
    (n, _, all) => n.answers.length > 0 || !all.some((o) => o.answers.length > 0),
  );
  if (name && of('name').every((n) => n.name === name.name)) Object.assign(groups, nameRow(name));
  put('chains', of('nft').flatMap(nftChains));
  put('sets', of('nft').flatMap(nftSets));
  const [rules] = of('nft');
  if (rules) groups['objects'] = objectCounts(rules);
  put(
    'counters',
    of('nft').flatMap((f) =>
      f.objects.flatMap((o) =>
        o.is === 'rule' && o.counted
          ? [
              {
                chain: `${o.family} ${o.table} ${o.chain}`,
                ...(o.handle === undefined ? {} : { handle: o.handle }),
                ...o.counted,
                line: o.at.line,
              },
            ]
          : [],
      ),
    ),
  );
  if (of('iptables').length > 0) {
    groups['chains'] = iptablesChains(of('iptables'));
    const counters = iptablesCounters(of('iptables'));
    if (counters) groups['counters'] = counters;
  }
  const filters = [
    ...of('nft').map((f) => compileNft(f.objects, '')),
    ...of('iptables').map((f) => compileIptables(f.tables, f.family, '')),
  ];
  put('forwards', filters.flatMap(forwardsOf).flatMap(forwardRows));
  for (const fact of facts) {
    const p = printed(fact);
    if (!p) continue;
    if (p.once) groups[p.group] = p.value;
    else ((groups[p.group] ??= []) as unknown[]).push(listRow(p, fact.at.line));
  }
  return groups;
}

/** A row of a list with its line, and why something of it is open. */
function listRow({ value, open }: Printed, line: number): unknown {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return value;
  const [doubt] = open;
  return { ...value, ...(doubt ? { perhaps: doubtText(doubt) } : {}), line };
}

/** `dev` is `*` for routes that lead nowhere, as route listings have it. */
const routeRow = (r: Of<'route'>) => ({
  family: r.family,
  to: r.to,
  via: r.hops[0]?.via ?? null,
  dev: r.hops[0]?.dev ?? (['blackhole', 'unreachable', 'prohibit', 'throw'].includes(r.type) ? '*' : null),
  metric: r.metric,
  table: r.table,
  type: r.type,
  reject: ['unreachable', 'prohibit'].includes(r.type),
  ...(r.hops.length > 1 ? { hops: r.hops } : {}),
  ...(r.src ? { src: r.src } : {}),
  line: r.at.line,
});

/** `0x64`, or `0x64/0xff` where a part of the mark counts. */
const markText = ({ value, mask }: NonNullable<Of<'policy'>['fwmark']>): string =>
  `0x${value.toString(16)}${mask === 0xffff_ffff ? '' : `/0x${mask.toString(16)}`}`;

const policyRow = ({ kind: _, at, fwmark, from, table, ...rest }: Of<'policy'>) => ({
  ...rest,
  from: from ?? 'all',
  table: table ?? null,
  ...(fwmark ? { fwmark: markText(fwmark) } : {}),
  line: at.line,
});

/**
 * States in the words of RFC 9293 (`ESTABLISHED`, `TIME_WAIT`); a socket of both families is an IPv6 one that
 * is not v6only.
 */
const socketRow = (s: Of<'socket'>) => ({
  protocol: s.protocol,
  family: s.family === 0 ? 6 : s.family,
  address: s.address === '*' ? '::' : s.address,
  port: s.port,
  state: s.state === 'ESTAB' ? 'ESTABLISHED' : s.state.replaceAll('-', '_'),
  ...v6only(s),
  ...(s.device ? { device: s.device } : {}),
  ...(s.peer ? { peer: s.peer, peerPort: s.peerPort } : {}),
  ...(s.processes.length > 0 ? { processes: s.processes } : {}),
  line: s.at.line,
});

function v6only(s: Of<'socket'>): { readonly v6only?: boolean } {
  if (s.family === 0) return { v6only: false };
  return s.address === '::' && !s.bothFamilies ? { v6only: true } : {};
}

const nameRow = ({ kind: _, at, services, ...rest }: Of<'name'>) => ({
  ...rest,
  ...(services ? { answers: services } : {}),
  line: at.line,
});

function interfaces(heads: readonly Of<'interface'>[], addresses: readonly Of<'address'>[]): unknown[] {
  const names = [...new Set([...heads.map((h) => h.name), ...addresses.map((a) => a.interface)])];
  return names.map((name) => {
    const head = heads.find((h) => h.name === name);
    return {
      name,
      ...(head?.index === undefined ? {} : { index: head.index }),
      ...(head?.mtu === undefined ? {} : { mtu: head.mtu }),
      ...(head?.operstate === undefined ? {} : { operstate: head.operstate }),
      ...(head?.adminUp === undefined ? {} : { adminUp: head.adminUp }),
      ...(head?.mac ? { mac: head.mac } : {}),
      addresses: addresses
        .filter((a) => a.interface === name)
        .map((a) => ({
          family: a.family,
          address: a.address,
          prefix: a.prefix,
          scope: a.scope,
          ...(a.label ? { label: a.label } : {}),
          ...(a.secondary ? { secondary: true } : {}),
          ...(a.peer ? { peer: a.peer } : {}),
          line: a.at.line,
        })),
      line: head?.at.line,
    };
  });
}
