import { ADDRESS_LENGTH, type Address, type Family } from '../net/index.ts';
import { ROUTE_TYPE, type Ask, type LookupField, type Missing, type Subject } from '../rules/index.ts';
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

/**
 * Time to live (RFC 791 §3.2) or hop limit (RFC 8200 §3) on arrival; what the sender starts with is asked
 * for.
 * @param passed machines that the packet has come into so far
 */
export function hopsLeft(form: string, passed: number, ask: Ask): number {
  const question = {
    key: `hops/${form}`,
    need: { need: 'time-to-live' } as const,
    settle: null,
  };
  const initial = INITIAL_HOPS[ask(question, INITIAL_HOPS.length)] ?? INITIAL_HOPS[0];
  return initial - Math.max(0, passed - 1);
}

/**
 * Address of the outgoing interface in the next hop's subnet, else its first global one (inet_select_addr).
 */
export function masqueradeAddress(machine: Machine, packet: Subject): Address | null {
  const { family } = packet;
  const own = (machine.interfaces?.find((i) => i.name === packet.out)?.addresses ?? []).filter(
    (a) =>
      a.address.family === family && !a.secondary && !a.unusable && a.scope !== 'link' && a.scope !== 'host',
  );
  const hop = packet.nextHop ?? packet.destination;
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
