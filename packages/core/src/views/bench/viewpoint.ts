import type { CaseFacts } from '../../ledger/index.ts';
import {
  ADDRESS_LENGTH,
  formatAddress,
  isReachable,
  parseAddress,
  prefixContains,
  prefixOf,
  sameAddress,
  type Address,
} from '../../net/index.ts';
import type { Site } from '../../site/index.ts';
import { aimOf, type Aim } from './packet.ts';

/** From where a service is tried: `from` null is the client of the case. */
export interface Viewpoint {
  readonly key: 'outside' | 'outside-6' | 'inside' | `client/${string}` | `dials/${string}`;
  readonly label: string;
  readonly aim: Aim;
  readonly from: Address | null;
}

/**
 * The places worth comparing: the client itself, over IPv6 too where the name has both, and a machine beside
 * the server.
 */
export function viewpointsOf(facts: CaseFacts, site: Site): Viewpoint[] {
  const aim = aimOf(facts);
  const six = aim.name && aim.address?.family === 4 ? aimOf(facts, 6) : null;
  const both = six?.address ? six : null;
  const inside = aim.address ? insideNeighbour(site) : null;
  const others = (facts.document.client?.others ?? [])
    .flatMap((text) => parseAddress(text) ?? [])
    .filter((a) => a.family === aim.address?.family);
  const also = facts.document.client?.alsoDials ?? [];
  return [
    { key: 'outside', label: both ? 'the client, IPv4' : 'the client', aim, from: null },
    ...(both ? [{ key: 'outside-6' as const, label: 'the client, IPv6', aim: both, from: null }] : []),
    ...also.map((typed) => ({
      key: `dials/${typed}` as const,
      label: `the client, by ${typed}`,
      aim: aimOf(facts, null, typed),
      from: null,
    })),
    ...others.map((from) => ({
      key: `client/${formatAddress(from)}` as const,
      label: formatAddress(from),
      aim,
      from,
    })),
    ...(inside ? [{ key: 'inside' as const, label: 'a machine beside the server', aim, from: inside }] : []),
  ];
}

/**
 * A free address of the server's private network; null where the server stands on a public one or is not
 * known.
 */
export function insideNeighbour(site: Site): Address | null {
  for (const m of site.machines.filter((x) => x.role === 'host')) {
    for (const i of (m.interfaces ?? []).filter((x) => !x.loopback && x.adminUp && !x.noNeighbours)) {
      for (const own of i.addresses) {
        if (
          own.address.family !== 4 ||
          isReachable(own.address) ||
          own.scope === 'host' ||
          own.prefixLength > 29
        )
          continue;
        const network = prefixOf(own.address, own.prefixLength);
        const last = network.bits + (1n << BigInt(ADDRESS_LENGTH[4] - own.prefixLength)) - 2n;
        for (let bits = last; bits > network.bits; bits--) {
          const candidate: Address = { family: 4, bits };
          const taken = site.machines.some(
            (x) =>
              x.interfaces?.some((y) => y.addresses.some((a) => sameAddress(a.address, candidate))) ||
              x.neighbours.some((n) => sameAddress(n.address, candidate)),
          );
          if (!taken && prefixContains(network, candidate)) return candidate;
        }
      }
    }
  }
  return null;
}
