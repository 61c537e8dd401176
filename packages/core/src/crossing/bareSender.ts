import type { AskKind } from '../asks/index.ts';
import { ADDRESS_LENGTH, sameAddress, type Address } from '../net/index.ts';
import type { Need } from '../rules/index.ts';
import type { InterfaceAddress, Machine, NetInterface, Site } from '../site/index.ts';
import { onOneLink } from './links.ts';

interface Neighbour {
  readonly machine: Machine;
  readonly interface: NetInterface;
}

/** Where a machine of which only its address is known sends a packet. */
export type BareWay =
  | ({ readonly is: 'neighbour' } & Neighbour)
  | { readonly is: 'internet' }
  | { readonly is: 'unknown'; readonly need: Need; readonly yields: AskKind };

const ROUTERS: ReadonlySet<string> = new Set(['gateway', 'carrier', 'edge']);

/** Such a machine talks on-link where it can, else through the router of its network. */
export function bareWay(site: Site, machine: Machine, to: Address): BareWay {
  const own = machine.interfaces?.[0];
  const onLink = own ? neighboursOf(site, machine, own) : [];
  const direct = onLink.find((n) => holds(n.machine, to));
  if (direct) return { is: 'neighbour', ...direct };
  if (onLink.some((n) => n.interface.addresses.some((a) => inSubnet(to, a)))) {
    const need: Need = { need: 'holder', stop: machine.id, interface: null, address: to, mac: null };
    return { is: 'unknown', need, yields: 'neighbours' };
  }
  const routers = onLink.filter((n) => ROUTERS.has(n.machine.role));
  const [router] = routers;
  if (router && routers.length === 1) return { is: 'neighbour', ...router };
  if (routers.length === 0 && site.internet !== null) return { is: 'internet' };
  return { is: 'unknown', need: { need: 'default-gateway', stop: machine.id }, yields: 'routes' };
}

/** Whether an address is one of a machine's own, as far as these are known. */
export const holds = (machine: Machine, address: Address): boolean =>
  machine.interfaces?.some((i) => i.addresses.some((a) => sameAddress(a.address, address))) ?? false;

const neighboursOf = (site: Site, machine: Machine, own: NetInterface): Neighbour[] =>
  site.machines
    .filter((m) => m !== machine)
    .flatMap((m) =>
      (m.interfaces ?? []).filter((i) => onOneLink(own, i)).map((i) => ({ machine: m, interface: i })),
    );

function inSubnet(to: Address, { address, prefixLength }: InterfaceAddress): boolean {
  const rest = BigInt(ADDRESS_LENGTH[address.family] - prefixLength);
  return address.family === to.family && to.bits >> rest === address.bits >> rest;
}
