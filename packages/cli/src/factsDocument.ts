import type { Fact } from '@bright-ferry/core/evidence';

/** Facts grouped by kind, each with the line where it stands. */
export type FactsDocument = Readonly<Record<string, unknown>>;

type Of<K extends Fact['kind']> = Extract<Fact, { kind: K }>;

/** Groups the facts of one reading for `read --json`. */
export function factsDocument(facts: readonly Fact[]): FactsDocument {
  const of = <K extends Fact['kind']>(kind: K): Of<K>[] => facts.filter((f): f is Of<K> => f.kind === kind);
  const groups: Record<string, unknown> = {};
  const put = (key: string, list: readonly unknown[]): void => {
    if (list.length > 0) groups[key] = list;
  };
  put('interfaces', interfaces(of('interface'), of('address')));
  put('routes', of('route').map((r) => ({ family: r.family, to: r.to, via: r.hops[0]?.via ?? null, dev: r.hops[0]?.dev ?? null, metric: r.metric, table: r.table, type: r.type, reject: ['blackhole', 'unreachable', 'prohibit'].includes(r.type), ...(r.hops.length > 1 ? { hops: r.hops } : {}), ...(r.src ? { src: r.src } : {}), line: r.at.line })));
  put('rules', of('policy').map(({ kind: _, at, ...rest }) => ({ ...rest, line: at.line })));
  put('neighbours', of('neighbour').map((n) => ({ address: n.address, dev: n.dev, mac: n.mac, state: n.states, line: n.at.line })));
  put('sockets', of('socket').map((s) => ({ protocol: s.protocol, family: s.family, address: s.address, port: s.port, state: s.state, ...(s.device ? { device: s.device } : {}), ...(s.peer ? { peer: s.peer, peerPort: s.peerPort } : {}), ...(s.processes.length > 0 ? { processes: s.processes } : {}), line: s.at.line })));
  if (of('setting').length > 0) groups['values'] = Object.fromEntries(of('setting').map((s) => [s.key, s.value]));
  put('leases', of('lease').map((l) => ({ mac: l.mac, name: l.name, address: l.address, permanent: l.expires === null, expires: l.expires, line: l.at.line })));
  put('forwards', of('forward').map(({ kind: _, at, ...rest }) => ({ ...rest, line: at.line })));
  put('labelled', of('labelled').map((l) => ({ what: l.what, label: l.label, value: l.value, ...(l.prefix === undefined ? {} : { prefix: l.prefix }), line: l.at.line })));
  put('names', of('name').map(({ kind: _, at, ...rest }) => ({ ...rest, line: at.line })));
  put('chains', [...of('nft').flatMap(nftChains), ...of('iptables').flatMap(iptablesChains)]);
  return groups;
}

function interfaces(heads: readonly Of<'interface'>[], addresses: readonly Of<'address'>[]): unknown[] {
  const names = [...new Set([...heads.map((h) => h.name), ...addresses.map((a) => a.interface)])];
  return names.map((name) => {
    const head = heads.find((h) => h.name === name);
    return {
      name, ...(head?.index === undefined ? {} : { index: head.index }), ...(head?.mtu === undefined ? {} : { mtu: head.mtu }), ...(head?.operstate === undefined ? {} : { operstate: head.operstate }), ...(head?.adminUp === undefined ? {} : { adminUp: head.adminUp }), ...(head?.mac ? { mac: head.mac } : {}),
      addresses: addresses.filter((a) => a.interface === name).map((a) => ({ family: a.family, address: a.address, prefix: a.prefix, scope: a.scope, line: a.at.line })), line: head?.at.line,
    };
  });
}

function nftChains(fact: Of<'nft'>): unknown[] {
  return fact.objects.flatMap((o) => (o.is === 'chain' ? [{ family: o.family, table: o.table, name: o.name, ...(o.base ? { type: o.base.type, hook: o.base.hook, priority: o.base.priority, policy: o.base.policy } : {}), rules: fact.objects.filter((r) => r.is === 'rule' && r.family === o.family && r.table === o.table && r.chain === o.name).length, line: o.at.line }] : []));
}

function iptablesChains(fact: Of<'iptables'>): unknown[] {
  return fact.tables.flatMap((t) => t.chains.map((c) => ({ family: fact.family === 4 ? 'ip' : 'ip6', table: t.name, name: c.name, policy: c.policy?.toLowerCase() ?? null, rules: t.rules.filter((r) => r.chain === c.name).length, line: c.at.line })));
}
