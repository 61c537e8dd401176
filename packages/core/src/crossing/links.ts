import { prefixContains, prefixOf, sameAddress, type Address } from '../net/index.ts';
import type { InterfaceAddress, Machine, NetInterface, Site } from '../site/index.ts';
import type { SourceRef } from '../place/index.ts';

/** Who takes a packet that leaves by an interface for a next hop. */
export type Receiver =
  | { readonly who: 'machine'; readonly machine: Machine; readonly interface: NetInterface }
  | { readonly who: 'nobody'; readonly source: SourceRef | null }
  | { readonly who: 'stranger'; readonly mac: string; readonly source: SourceRef | null }
  | { readonly who: 'unknown' };

const usable = (i: NetInterface): boolean => i.adminUp && i.carrier !== false;

const subnet = (a: InterfaceAddress) => prefixOf(a.peer ?? a.address, a.prefixLength);

/** Whether two interfaces lie on one link: they have addresses in one subnet. */
export function onOneLink(a: NetInterface, b: NetInterface): boolean {
  return a.addresses.some((x) =>
    b.addresses.some(
      (y) =>
        x.scope !== 'link' &&
        y.scope !== 'link' &&
        (prefixContains(subnet(x), y.address) || prefixContains(subnet(y), x.address)),
    ),
  );
}

/** Whether an address lies in one of the interface's subnets. */
export const onLink = (i: NetInterface, a: Address): boolean =>
  i.addresses.some((own) => prefixContains(subnet(own), a));

/**
 * Resolves a next hop (RFC 826, RFC 4861). The neighbour table's link address decides between machines that
 * use one private address in different places.
 */
export function resolve(site: Site, from: Machine, out: NetInterface, hop: Address): Receiver {
  const entry = from.neighbours.find(
    (n) => sameAddress(n.address, hop) && (n.device === null || n.device === out.name),
  );
  const holders: { machine: Machine; interface: NetInterface }[] = [];
  for (const machine of site.machines) {
    if (machine === from || !machine.interfaces) continue;
    if (
      !machine.interfaces.some((i) =>
        i.addresses.some(
          (a) => sameAddress(a.address, hop) && !a.unusable && (a.address.family === 4 || i.adminUp),
        ),
      )
    )
      continue;
    // Any local address is answered for on any link (arp_ignore 0); the packet then comes in where the link
    // is.
    for (const i of machine.interfaces)
      if (usable(i) && onOneLink(out, i)) holders.push({ machine, interface: i });
  }
  if (entry?.mac && !entry.failed) {
    const byMac = holders.find((h) => h.interface.mac === entry.mac);
    if (byMac) return { who: 'machine', ...byMac };
    const known = holders.some((h) => h.interface.mac !== null);
    if (known || holders.length === 0) {
      const elsewhere = macHolder(site, from, entry.mac);
      return elsewhere
        ? { who: 'machine', ...elsewhere }
        : { who: 'stranger', mac: entry.mac, source: entry.source };
    }
  }
  // What the machine tried itself outweighs what the addresses promise: filters and switches may stand
  // between (RFC 4861 §7.2.2).
  if (entry?.failed) return { who: 'nobody', source: entry.source };
  if (holders.length > 0) return { who: 'machine', ...preferred(holders, hop) };
  const unlinked = unlinkedAt(site, hop);
  return unlinked ? { who: 'nobody', source: unlinked.interface.source } : { who: 'unknown' };
}

/** The machine that has an address by an interface of which its own listing says that it has no link. */
export function unlinkedAt(
  site: Site,
  address: Address,
): { readonly stop: string; readonly interface: NetInterface } | null {
  for (const { id, interfaces } of site.machines) {
    const own = interfaces?.find((i) => i.addresses.some((a) => sameAddress(a.address, address)));
    if (own && !usable(own)) return { stop: id, interface: own };
  }
  return null;
}

function preferred(holders: readonly { machine: Machine; interface: NetInterface }[], hop: Address) {
  return holders.find((h) => h.interface.addresses.some((a) => sameAddress(a.address, hop))) ?? holders[0]!;
}

function macHolder(site: Site, from: Machine, mac: string) {
  for (const machine of site.machines) {
    if (machine === from) continue;
    const i = machine.interfaces?.find((x) => x.mac === mac && usable(x));
    if (i) return { machine, interface: i };
  }
  return null;
}
