import {
  ADDRESS_LENGTH,
  KIND_TABLE,
  MAX_BITS,
  prefix,
  type Family,
  type Point,
  type Prefix,
} from '../net/index.ts';
import { listedPolicy, type Machine, type Site } from '../site/index.ts';

/**
 * Points of a header's line at which what a machine does with a packet may change, ascending. Between two of
 * them all packets are alike.
 */
export type Cuts = (family: Family) => readonly Point[];

const NONE: readonly Point[] = [];

/** A header on which nothing depends. */
export const NO_CUTS: Cuts = () => NONE;

const point = (family: Family, bits: bigint): Point => (family === 4 ? Number(bits) : bits);

/** The first and the next point behind each prefix, in order. */
function edges(family: Family, prefixes: Iterable<Prefix | null>): Point[] {
  const points = new Set<bigint>();
  for (const p of prefixes) {
    if (!p || p.family !== family) continue;
    const host = (1n << BigInt(ADDRESS_LENGTH[family] - p.length)) - 1n;
    const first = p.bits & ~host;
    points.add(first);
    if (first + host < MAX_BITS[family]) points.add(first + host + 1n);
  }
  return [...points].sort((a, b) => (a < b ? -1 : 1)).map((bits) => point(family, bits));
}

/** Cuts that are worked out once for each object and family. */
function cached<K extends object>(work: (of: K, family: Family) => Point[]): (of: K) => Cuts {
  const cache = new WeakMap<K, Partial<Record<Family, Point[]>>>();
  return (of) => (family) => {
    let kept = cache.get(of);
    if (!kept) cache.set(of, (kept = {}));
    return (kept[family] ??= work(of, family));
  };
}

const LOOPBACK: Readonly<Record<Family, Point[]>> = {
  4: edges(4, [prefix('127.0.0.0/8')]),
  6: edges(6, [prefix('::1/128')]),
};

/** Loopback addresses (RFC 1122 §3.2.1.3, RFC 4291 §2.5.3). */
export const loopbackCuts: Cuts = (family) => LOOPBACK[family];

const SPECIAL: Readonly<Record<Family, readonly string[]>> = {
  4: ['127.0.0.0/8', '224.0.0.0/4', '255.255.255.255/32'],
  6: ['fe80::/10', 'ff00::/8'],
};

const ownPrefixes = (machine: Machine): Prefix[] =>
  (machine.interfaces ?? []).flatMap((i) =>
    i.addresses.flatMap((a) => [
      { ...a.address, length: a.prefixLength },
      { ...a.address, length: ADDRESS_LENGTH[a.address.family] },
      ...(a.peer ? [{ ...a.peer, length: a.prefixLength }] : []),
    ]),
  );

/** Where the treatment of an address by a machine's routes may change. */
export const routeCuts = cached<Machine>((machine, family) =>
  edges(family, [
    ...(machine.routes[family] ?? []).map((r) => r.destination),
    ...listedPolicy(machine, family).flatMap((p) => [p.from, p.to]),
    ...ownPrefixes(machine),
    ...SPECIAL[family].map(prefix),
  ]),
);

/** Where policy rules begin to treat sources or destinations apart. */
export const policyAddressCuts = cached<Machine>((machine, family) =>
  edges(
    family,
    listedPolicy(machine, family).flatMap((p) => [p.from, p.to]),
  ),
);

/** Where policy rules begin to treat ports apart. */
export const policyPortCuts = cached<Machine>((machine, family) =>
  portEdges(listedPolicy(machine, family).flatMap((p) => [p.sport, p.dport])),
);

function portEdges(ranges: Iterable<{ readonly first: number; readonly last: number } | null>): number[] {
  const points = new Set<number>();
  for (const range of ranges) {
    if (!range) continue;
    points.add(range.first);
    if (range.last < 65535) points.add(range.last + 1);
  }
  return [...points].sort((a, b) => a - b);
}

/** Ports on which a machine listens. */
export const socketPortCuts = cached<Machine>((machine) =>
  portEdges((machine.sockets ?? []).map((s) => ({ first: s.port, last: s.port }))),
);

/** Addresses to which a machine's sockets are bound. */
export const socketAddressCuts = cached<Machine>((machine, family) =>
  edges(
    family,
    (machine.sockets ?? []).map((s) =>
      s.address ? { ...s.address, length: ADDRESS_LENGTH[s.address.family] } : null,
    ),
  ),
);

/** Every address and network that the site knows: who takes a packet on a link changes only there. */
export const siteCuts = cached<Site>((site, family) =>
  edges(family, [
    ...site.machines.flatMap(ownPrefixes),
    ...site.machines.flatMap((m) =>
      m.neighbours.map((n) => ({ ...n.address, length: ADDRESS_LENGTH[n.address.family] })),
    ),
    ...site.sharedAddresses.map((s) => ({ ...s.address, length: ADDRESS_LENGTH[s.address.family] })),
    ...(site.fronts ?? []).map((f) => ({ ...f.address, length: ADDRESS_LENGTH[f.address.family] })),
    // What the internet carries changes at the ends of the special-purpose blocks.
    ...KIND_TABLE.map((row) => prefix(row.block)),
  ]),
);
