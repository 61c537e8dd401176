import { sourcePrefixes, type ForwardRow } from '../devices/index.ts';
import { type ForwardFact, known, saidOr } from '../facts/index.ts';
import {
  parseAddress,
  type Address,
  formatAddress,
  type Prefix,
  toPrefixes,
  addressRange,
  type PortSet,
  sameAddress,
} from '../net/index.ts';
import type { Doubt } from '../rules/index.ts';
import { type CaseFacts, factsOf } from '../ledger/index.ts';
import { nth, type SourceRef } from '../place/index.ts';

export type Names = ReadonlyMap<string, Address>;

export const EVERY_PORT = [{ first: 0, last: 65535 }];

export const openPorts = (f: ForwardFact): Doubt =>
  'open' in f.inside ? f.inside.open : { doubt: 'range-lengths' };

export function sendersOf(text: string): readonly Prefix[] | null {
  const single = sourcePrefixes([text]);
  if (single) return single;
  const [first, last, more] = text.split(/[-–]/).map((t) => parseAddress(t.trim()));
  return first && last && more === undefined && first.family === last.family && first.bits <= last.bits
    ? toPrefixes(addressRange(first, last))
    : null;
}

/** Senders that a row names; what is no address, prefix or range of addresses is open. */
export function sourcesOf({ sources }: ForwardFact): {
  prefixes: readonly Prefix[] | null;
  doubts: readonly Doubt[];
} {
  const list = saidOr(sources, null);
  if (list === null) return { prefixes: null, doubts: [] };
  const read = list.map((text) => [text, sendersOf(text)] as const);
  const odd = read.flatMap(([text, p]) => (p === null ? [text] : []));
  return odd.length > 0
    ? { prefixes: null, doubts: [{ doubt: 'word', field: 'source', text: odd.join(', ') }] }
    : { prefixes: read.flatMap(([, p]) => p ?? []), doubts: [] };
}

/** First inside ports, one for each outside range; null where it is not known which they are. */
export function insideOf({ inside }: ForwardFact, outside: PortSet): (number | null)[] {
  if (!('is' in inside)) return outside.map(() => null);
  const ports = inside.is;
  if (ports === 'same') return outside.map((o) => o.first);
  return outside.map((o, i) => {
    const inner = ports.length === outside.length ? ports[i] : undefined;
    return inner && inner.last - inner.first === o.last - o.first ? inner.first : null;
  });
}

export function targetOf(f: ForwardFact, names: Names): { address: Address | null; unsure: Doubt | null } {
  if ('is' in f.target) return { address: parseAddress(f.target.is), unsure: null };
  const called = [f.device, f.target.open.doubt === 'word' ? f.target.open.text : null];
  const named = called.flatMap((n) => (n === null ? [] : addressesOf(n, names)));
  const isOne = new Set(named.map((a) => a.bits)).size === 1;
  return isOne && named[0] ? { address: named[0], unsure: null } : { address: null, unsure: f.target.open };
}

/** What a name stands for, or a name and what is in brackets behind it; both may be known. */
function addressesOf(text: string, names: Names): Address[] {
  const parts = /^([^()]{1,80}?) *\(([^()]{1,80})\)$/.exec(text);
  return [text, ...(parts ? [nth(parts, 1), nth(parts, 2)] : [])].flatMap(
    (word) => names.get(nameKey(word)) ?? names.get(word.toLowerCase().replaceAll('-', ':')) ?? [],
  );
}

/** A device's name as pages vary it: `Hall PC`, `hall_pc` and `hall-pc` are one. */
const nameKey = (name: string): string => name.toLowerCase().replaceAll(/[\s_]+/g, '-');

/** A row that is bound to a line takes what is dialled by that line's address. */
export function onLine(f: ForwardFact, lines: Names): ForwardFact {
  const bound = f.narrowed.find((n) => n.doubt === 'narrowed' && lines.has(n.text.toLowerCase()));
  const address = bound?.doubt === 'narrowed' ? lines.get(bound.text.toLowerCase()) : undefined;
  return address && 'is' in f.outsideAddress && f.outsideAddress.is === null
    ? {
        ...f,
        narrowed: f.narrowed.filter((n) => n !== bound),
        outsideAddress: known(formatAddress(address)),
      }
    : f;
}

/** Outside addresses of a stop by the names of its lines, where it has several. */
export function linesOf(facts: CaseFacts, stop: string): Names {
  const out = new Map<string, Address>();
  for (const { fact } of factsOf(facts, 'labelled').filter((l) => l.stop === stop)) {
    const address = fact.what === 'wan-address' ? parseAddress(fact.value) : null;
    if (address) out.set(fact.label.toLowerCase(), address);
  }
  return out.size > 1 ? out : new Map();
}

/**
 * Addresses by the names and link addresses that leases and lists of devices of a stop give. A newer list
 * stands over an older one; a name that two machines of one age have names neither. Of a machine with
 * addresses of both families the IPv4 one is what forwards lead to.
 */
export function namesOf(facts: CaseFacts, stop: string): Names {
  const held = new Map<string, { readonly address: Address; readonly at: string | null }>();
  const shared = new Set<string>();
  const add = (key: string, address: Address, at: string | null): void => {
    const before = held.get(key);
    if (before && before.address.family !== address.family) {
      if (address.family === 4) held.set(key, { address, at });
      return;
    }
    // Facts come by age, the oldest first; those without a time are of any age.
    const isNewer = before !== undefined && before.at !== null && at !== null && before.at !== at;
    if (isNewer) shared.delete(key);
    else if (before && !sameAddress(before.address, address)) shared.add(key);
    held.set(key, { address, at });
  };
  for (const { fact, at } of factsOf(facts, 'lease').filter((l) => l.stop === stop)) {
    const address = parseAddress(fact.address);
    if (!address) continue;
    if (fact.name) add(nameKey(fact.name), address, at);
    if (fact.mac) add(fact.mac.toLowerCase(), address, at);
  }
  return new Map(
    [...held].flatMap(([key, { address }]) => (shared.has(key) ? [] : [[key, address] as const])),
  );
}

/** The rows that a fact is: one for each range of its outside ports, with all that is open about it. */
export function rowsOfFact(f: ForwardFact, source: SourceRef, names: Names): ForwardRow[] {
  const protocol = saidOr(f.protocol, 'both');
  if (protocol === 'other') return [];
  const sources = sourcesOf(f);
  const bound =
    'is' in f.outsideAddress && f.outsideAddress.is !== null ? parseAddress(f.outsideAddress.is) : null;
  const doubts = [
    ...[f.protocol, f.outside, f.enabled, f.sources, f.outsideAddress].flatMap((x) =>
      'open' in x ? [x.open] : [],
    ),
    ...sources.doubts,
    ...f.narrowed,
  ];
  const target = targetOf(f, names);
  const outside = 'is' in f.outside ? f.outside.is : (f.outsideWithin ?? EVERY_PORT);
  const inside = 'is' in f.outside ? insideOf(f, outside) : outside.map(() => null);
  return outside.map((ports, i): ForwardRow => {
    const first = inside[i] ?? null;
    const unsure = target.unsure ?? (first === null ? openPorts(f) : null);
    return {
      name: f.name ?? '',
      protocol,
      outside: ports,
      insideAddress: target.address,
      insideFirst: first ?? ports.first,
      enabled: saidOr(f.enabled, true),
      applied: f.applied,
      ...(f.waitsFor ? { waitsFor: f.waitsFor } : {}),
      sources: sources.prefixes,
      ...(bound ? { outsideAddress: bound } : {}),
      doubts,
      ...(unsure ? { unsure } : {}),
      source,
    };
  });
}
