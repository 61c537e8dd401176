import { ADDRESS_LENGTH, type Address, type Family } from '../net/index.ts';
import { nth } from '../place/index.ts';
import {
  ROUTE_TYPE,
  type Ask,
  type LookupField,
  type Missing,
  type Question,
  type Subject,
} from '../rules/index.ts';
import type { Machine } from '../site/index.ts';
import { lookUpRoute } from './routing.ts';

type RouteField = Exclude<LookupField, { of: 'hops-left' }>;

/** The value of a field that looks at a machine's routes. */
export const routeValue = (
  machine: Machine,
  field: RouteField,
  packet: Subject,
  ask: Ask,
): number | Missing =>
  field.of === 'address-type'
    ? addressType(machine, packet, field, ask)
    : reversePath(machine, packet, field, ask);

/** `fib … type` and `addrtype`: the type of the route to an address. */
function addressType(
  machine: Machine,
  packet: Subject,
  { side, only }: Extract<LookupField, { of: 'address-type' }>,
  ask: Ask,
): number | Missing {
  const device = only === null ? null : packet[only];
  const found = lookUpRoute(machine, { destination: packet[side], source: null, in: 'lo', mark: 0 }, ask);
  switch (found.is) {
    case 'unknown':
      return { missing: found.need };
    case 'none':
      return ROUTE_TYPE.unreachable;
    case 'local':
      return device === null || found.device === device ? ROUTE_TYPE.local : ROUTE_TYPE.unicast;
    default:
      return ROUTE_TYPE[found.is];
  }
}

/**
 * `fib saddr . iif oif` and `rpfilter`: whether there is a way back, out of the incoming interface where that
 * is asked.
 */
function reversePath(
  machine: Machine,
  packet: Subject,
  field: Extract<LookupField, { of: 'reverse-path' }>,
  ask: Ask,
): number | Missing {
  const query = {
    destination: packet.source,
    source: packet.destination,
    in: packet.in ?? 'lo',
    mark: field.mark ? packet.mark : 0,
    out: field.interface ? packet.in : null,
  };
  const found = lookUpRoute(machine, query, ask);
  if (found.is === 'unknown') return { missing: found.need };
  return found.is === 'local' || found.is === 'unicast' ? 1 : 0;
}

/** Initial values of the time to live and the hop limit: RFC 1340, and the two other common ones. */
const INITIAL_HOPS = [64, 128, 255] as const;

/** How many routers of the internet may stand between two sites: nobody can tell. */
const DISTANCES = [1, 4, 8, 12, 16, 22, 30] as const;

/** How far a packet has come. */
export interface Passed {
  readonly form: string;
  /** Machines that it has come into so far. */
  readonly machines: number;
  /** It has crossed the internet, whose routers are no stops. */
  readonly isCarried: boolean;
  /** The machine where it is passes it on: it takes its hop off before its forward hook (ip_forward). */
  readonly isForwarded: boolean;
}

/**
 * Time to live (RFC 791 §3.2) or hop limit (RFC 8200 §3) at a hook; what the sender starts with is asked for,
 * and how far the way across the internet is.
 */
export function hopsLeft({ form, machines, isCarried, isForwarded }: Passed, ask: Ask): number {
  const asked = (of: string): Question => ({
    key: `${of}/${form}`,
    need: { need: 'time-to-live' },
    settle: null,
  });
  const initial = nth(INITIAL_HOPS, ask(asked('hops'), INITIAL_HOPS.length));
  const distance = isCarried ? nth(DISTANCES, ask(asked('distance'), DISTANCES.length)) : 0;
  return initial - distance - Math.max(0, machines - 1) - (isForwarded ? 1 : 0);
}

/** Address of the outgoing interface that masquerading takes. */
export const masqueradeAddress = (machine: Machine, packet: Subject): Address | null =>
  selectAddress(machine, packet.family, packet.out, packet.nextHop ?? packet.destination);

/** Address of an interface in the next hop's subnet, else its first global one (inet_select_addr). */
export function selectAddress(
  machine: Machine,
  family: Family,
  device: string | null,
  hop: Address,
): Address | null {
  const own = (machine.interfaces?.find((i) => i.name === device)?.addresses ?? []).filter(
    (a) =>
      a.address.family === family && !a.secondary && !a.unusable && a.scope !== 'link' && a.scope !== 'host',
  );
  const near = own.find((a) => sharesPrefix(hop, a.peer ?? a.address, a.prefixLength));
  return (near ?? own[0])?.address ?? null;
}

const sharesPrefix = (a: Address, b: Address, length: number): boolean => {
  const rest = BigInt(ADDRESS_LENGTH[a.family] - length);
  return a.bits >> rest === b.bits >> rest;
};

/** REDIRECT sends to the first address of the incoming interface (nf_nat_redirect). */
export const redirectAddress = (machine: Machine, device: string | null, family: Family): Address | null =>
  machine.interfaces
    ?.find((i) => i.name === device)
    ?.addresses.find(
      (a) => a.address.family === family && !a.unusable && (family === 4 || a.scope !== 'link'),
    )?.address ?? null;

/** Where a machine's own packets are redirected to. */
export const loopbackAddress = (family: Family): Address =>
  family === 4 ? { family: 4, bits: 0x7f00_0001n } : { family: 6, bits: 1n };
