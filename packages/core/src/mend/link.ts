import { systemAt } from '../model/index.ts';
import { prefixContains, prefixOf, type Address } from '../net/index.ts';
import { routeTo, type Machine, type NetInterface, type Route, type Site } from '../site/index.ts';
import type { MendContext } from './context.ts';
import type { Mend } from './mend.ts';
import { withMachine } from './scene.ts';

/**
 * The kernel takes away the route to a subnet while its interface is switched off: a packet for that subnet
 * finds no way, or another one that leads astray.
 */
export function linkTo(c: MendContext, destination: Address): Mend | null {
  // Sent astray it may have gone on to somebody else's router.
  const way = [c.run.stop, ...c.run.legs.map((leg) => leg.stop).reverse()];
  for (const stop of new Set(way)) {
    const own = c.scene.site.machines
      .find((m) => m.id === stop)
      ?.interfaces?.find(
        (i) =>
          !i.adminUp &&
          i.addresses.some((a) => prefixContains(prefixOf(a.address, a.prefixLength), destination)),
      );
    if (stop !== null && own) return linkMend(c, { stop, interface: own });
  }
  return null;
}

/** The routes to its own subnets that an interface has while it is up (ip-address(8), proto kernel). */
const subnetRoutes = ({ name, addresses }: NetInterface): Route[] =>
  addresses.map(({ address, prefixLength }) =>
    routeTo(prefixOf(address, prefixLength), { via: null, device: name }),
  );

/** The routes of a machine, with those to the subnets of an interface that is up again. */
function withSubnets({ routes }: Machine, own: NetInterface): Machine['routes'] {
  const missing = subnetRoutes(own).filter(
    ({ family, destination }) =>
      routes[family]?.some(
        (r) => r.destination.bits === destination.bits && r.destination.length === destination.length,
      ) === false,
  );
  const of = (family: 4 | 6): Route[] | null => {
    const listed = routes[family];
    return listed && [...listed, ...missing.filter((r) => r.family === family)];
  };
  return { 4: of(4), 6: of(6) };
}

/**
 * The one other machine on a cable has no link either while the interface is switched off. Of several, each
 * may have a fault of its own.
 */
function withFarEnd(site: Site, stop: string, isOn: (a: Address) => boolean): Site {
  const isThere = (i: NetInterface): boolean => i.addresses.some((a) => isOn(a.address));
  const others = site.machines.filter((m) => m.id !== stop && m.interfaces?.some(isThere));
  const [far] = others;
  if (!far || others.length > 1) return site;
  const interfaces =
    far.interfaces?.map((i) => (i.carrier === false && isThere(i) ? { ...i, carrier: true } : i)) ?? null;
  return { ...site, machines: site.machines.map((m) => (m === far ? { ...m, interfaces } : m)) };
}

interface Unlinked {
  readonly stop: string;
  readonly interface: NetInterface;
}

/** An interface has no link: a cable, a switch port or a virtual link. No rule is to blame. */
export function linkMend({ facts }: MendContext, { stop, interface: own }: Unlinked): Mend {
  return {
    fault: 'link-down',
    stop,
    finding: { found: 'no-link', interface: own.name, isOff: !own.adminUp, system: systemAt(facts, stop) },
    evidence: own.source ? [own.source] : [],
    apply: (scene) => {
      const linked = withMachine(scene, stop, (m) => ({
        ...m,
        interfaces:
          m.interfaces?.map((i) => (i.name === own.name ? { ...i, adminUp: true, carrier: true } : i)) ??
          null,
        routes: own.adminUp ? m.routes : withSubnets(m, own),
      }));
      // Who did not answer while the link was down was told to nobody since.
      const addresses = new Set(own.addresses.map((a) => a.address.bits));
      const nets = own.addresses.map((a) => prefixOf(a.address, a.prefixLength));
      const isOn = (a: Address): boolean => nets.some((net) => prefixContains(net, a));
      const machines = linked.site.machines.map((m) => ({
        ...m,
        neighbours: m.neighbours.filter(
          (n) => !n.failed || !(own.adminUp ? addresses.has(n.address.bits) : isOn(n.address)),
        ),
      }));
      const site = { ...linked.site, machines };
      return { ...linked, site: own.adminUp ? site : withFarEnd(site, stop, isOn) };
    },
  };
}
