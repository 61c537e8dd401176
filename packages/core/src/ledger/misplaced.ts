import type { Fact } from '../facts/index.ts';
import { addressKind, parseAddress } from '../net/index.ts';

/** Why a piece cannot be from the stop that it was put to. */
export type Misplaced =
  /** Its default route leads to an address that the stop holds itself. */
  | { readonly by: 'own-gateway'; readonly address: string }
  /** Its routes name interfaces that the stop does not have. */
  | { readonly by: 'interfaces'; readonly names: readonly string[] }
  /** Its sockets are on addresses that another stop holds. */
  | { readonly by: 'sockets'; readonly address: string; readonly stop: string };

/** What is judged: a piece, and where it lies. */
interface Piece {
  readonly stop: string;
  readonly facts: readonly Fact[];
}

interface Known {
  readonly interfaces: ReadonlySet<string>;
  readonly addresses: ReadonlySet<string>;
}

/**
 * Pieces whose own contents prove that they are another machine's (law 6): what they say counts at no
 * stop until somebody puts them right. A piece with the stop's addresses is the measure and never judged
 * by itself.
 */
export function misplacedAt<P extends Piece>(files: readonly P[]): ReadonlyMap<P, Misplaced> {
  const known = new Map<string, Known>();
  for (const stop of new Set(files.map((f) => f.stop))) {
    const facts = files.filter((f) => f.stop === stop).flatMap((f) => f.facts);
    const addresses = facts.flatMap((f) => (f.kind === 'address' ? [f] : []));
    known.set(stop, {
      interfaces: new Set([
        ...addresses.map((a) => a.interface),
        ...facts.flatMap((f) => (f.kind === 'interface' ? [f.name] : [])),
      ]),
      addresses: new Set(addresses.map((a) => a.address)),
    });
  }
  const out = new Map<P, Misplaced>();
  for (const file of files) {
    const own = known.get(file.stop);
    if (!own || file.facts.some((f) => f.kind === 'address')) continue;
    const why = routesElsewhere(file.facts, own) ?? socketsElsewhere(file, known);
    if (why) out.set(file, why);
  }
  return out;
}

function routesElsewhere(facts: readonly Fact[], own: Known): Misplaced | null {
  const routes = facts.flatMap((f) => (f.kind === 'route' ? [f] : []));
  if (routes.length === 0 || own.addresses.size === 0) return null;
  const via = routes.find((r) => r.to === 'default' && r.type === 'unicast')?.hops[0]?.via;
  if (via && own.addresses.has(via)) return { by: 'own-gateway', address: via };
  const names = [...new Set(routes.flatMap((r) => r.hops.flatMap((h) => h.dev ?? [])))];
  const strange = names.filter((n) => !own.interfaces.has(n) && parseAddress(n) === null);
  const isOther = strange.length > 0 && strange.length * 2 > names.length && own.interfaces.size > 0;
  return isOther ? { by: 'interfaces', names: strange } : null;
}

/** Kinds of addresses that every machine has, or that are nobody's alone. */
const EVERYWHERE: ReadonlySet<string> = new Set([
  'loopback',
  'this-network',
  'unspecified',
  'link-local',
  'multicast',
]);

function socketsElsewhere(file: Piece, known: ReadonlyMap<string, Known>): Misplaced | null {
  const own = known.get(file.stop)?.addresses ?? new Set();
  if (own.size === 0) return null;
  const bound = file.facts.flatMap((f) => {
    const address = f.kind === 'socket' ? parseAddress(f.address) : null;
    return f.kind === 'socket' && address && !EVERYWHERE.has(addressKind(address).kind) ? [f.address] : [];
  });
  const strange = bound.filter((a) => !own.has(a));
  if (strange.length === 0 || bound.some((a) => own.has(a))) return null;
  for (const address of strange)
    for (const [stop, { addresses }] of known)
      if (stop !== file.stop && addresses.has(address)) return { by: 'sockets', address, stop };
  return null;
}
