import {
  addressKind,
  ADDRESS_LENGTH,
  isReachable,
  prefixContains,
  prefixOf,
  sameAddress,
  type Address,
} from '../net/index.ts';
import type { AskKind } from '../asks/index.ts';
import type { Need } from '../rules/index.ts';
import type { Machine, NetInterface, Site } from '../site/index.ts';
import type { Ending } from './types.ts';

/** Whom the internet hands a packet to. */
export type Holder =
  | { readonly is: 'machine'; readonly machine: Machine; readonly interface: NetInterface }
  /** The sender of the first packet, of which the case knows its address alone. */
  | { readonly is: 'home' }
  | {
      readonly is: 'gone';
      readonly stop: string | null;
      readonly outcome: 'lost' | 'open';
      readonly ending: Ending;
    }
  | { readonly is: 'unknown'; readonly stop: string; readonly need: Need; readonly yields: AskKind };

/**
 * Who holds an address of the internet; the carrier in between has no evidence of its own.
 * @param home where an answer finds its way home; null for first packets
 */
export function holderOf(site: Site, to: Address, home: Address | null): Holder {
  const front = site.fronts?.find((f) => sameAddress(f.address, to));
  if (front) {
    const perimeter = interfaceOf(site, front.machine, front.interface);
    if (perimeter) return { is: 'machine', ...perimeter };
    const stop = front.machine;
    return { is: 'unknown', stop, need: { need: 'rules', stop, family: to.family }, yields: 'rules' };
  }
  const { reachable } = addressKind(to);
  for (const machine of site.machines) {
    if (!reachable && machine.presumed.kind !== 'bare') continue;
    const own = machine.interfaces?.find((i) => i.addresses.some((a) => sameAddress(a.address, to)));
    if (!own) continue;
    if (own.adminUp && own.carrier !== false) return { is: 'machine', machine, interface: own };
    const ending: Ending = { kind: 'link-down', interface: own, address: to };
    return { is: 'gone', stop: machine.id, outcome: 'lost', ending };
  }
  if (home && sameAddress(to, home)) return { is: 'home' };
  const stop = site.internet;
  const shared = site.sharedAddresses.find((s) => sameAddress(s.address, to));
  if (shared) {
    const { gateway, source } = shared;
    const ending: Ending = { kind: 'shared-address', address: to, gateway, source };
    return { is: 'gone', stop: shared.carrier, outcome: 'lost', ending };
  }
  if (!reachable && site.perhapsInside !== undefined) {
    const { perhapsInside: at } = site;
    return { is: 'unknown', stop: at, need: { need: 'addresses', stop: at }, yields: 'status' };
  }
  if (!reachable) return { is: 'gone', stop, outcome: 'lost', ending: { kind: 'not-routed', address: to } };
  const claimant = home === null ? perhapsClaimed(site, to) : null;
  if (claimant) return claimant;
  const unknown = site.outsideUnknown;
  if (unknown && home === null) return { is: 'unknown', ...unknown };
  return { is: 'gone', stop, outcome: 'open', ending: { kind: 'elsewhere', address: to, from: null } };
}

/** Networks of this length and longer are somebody's own; wider ones are shared by a carrier's customers. */
const OWN_NETWORK = 25;

/**
 * A plain router with a network of its own outside may answer for more than its own address there: mappings
 * of whole addresses stand on a page of their own.
 */
function perhapsClaimed(site: Site, to: Address): Holder | null {
  for (const { id, presumed, interfaces } of site.machines) {
    if (presumed.kind !== 'box') continue;
    const isNear = interfaces?.some((i) =>
      i.addresses.some(
        (a) =>
          isReachable(a.address) &&
          a.prefixLength >= OWN_NETWORK &&
          a.prefixLength < ADDRESS_LENGTH[to.family] - 1 &&
          prefixContains(prefixOf(a.address, a.prefixLength), to),
      ),
    );
    if (isNear)
      return {
        is: 'unknown',
        stop: id,
        need: { need: 'claimed-address', stop: id, address: to },
        yields: 'forwards',
      };
  }
  return null;
}

function interfaceOf(
  site: Site,
  id: string,
  name: string | null,
): { machine: Machine; interface: NetInterface } | null {
  const machine = site.machines.find((m) => m.id === id);
  const found = machine?.interfaces?.find((i) => i.name === name);
  return machine && found ? { machine, interface: found } : null;
}
