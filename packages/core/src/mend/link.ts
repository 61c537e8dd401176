import { prefixContains, prefixOf, type Address } from '../net/index.ts';
import type { Machine, NetInterface, Route } from '../site/index.ts';
import { endMachine, type MendContext } from './context.ts';
import type { Mend } from './mend.ts';
import { withMachine } from './scene.ts';

/**
 * The kernel takes away the route to a subnet while its interface is switched off: a packet for that subnet
 * finds no way, or another one that leads astray.
 */
export function linkTo(c: MendContext, destination: Address): Mend | null {
  const machine = endMachine(c);
  const own = machine?.interfaces?.find(
    (i) =>
      !i.adminUp && i.addresses.some((a) => prefixContains(prefixOf(a.address, a.prefixLength), destination)),
  );
  return machine && own ? linkMend({ stop: machine.id, interface: own }) : null;
}

/** The routes to its own subnets that an interface has while it is up (ip-address(8), proto kernel). */
const subnetRoutes = ({ name, addresses }: NetInterface): Route[] =>
  addresses.map(({ address, prefixLength }) => ({
    family: address.family,
    table: 'main',
    type: 'unicast',
    destination: prefixOf(address, prefixLength),
    hops: [{ via: null, device: name }],
    metric: 0,
    preferred: null,
    dead: false,
    unmodelled: null,
    source: null,
  }));

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

/** An interface has no link: a cable, a switch port or a virtual link. No rule is to blame. */
export function linkMend({ stop, interface: own }: { stop: string; interface: NetInterface }): Mend {
  return {
    fault: 'link-down',
    stop,
    finding: { found: 'no-link', interface: own.name, isOff: !own.adminUp },
    evidence: own.source ? [own.source] : [],
    apply: (scene) => {
      const linked = withMachine(scene, stop, (m) => ({
        ...m,
        interfaces:
          m.interfaces?.map((i) => (i.name === own.name ? { ...i, adminUp: true, carrier: true } : i)) ??
          null,
        routes: own.adminUp ? m.routes : withSubnets(m, own),
      }));
      // Who did not answer while the link was down was told to nobody since; the far end had no link either.
      const addresses = new Set(own.addresses.map((a) => a.address.bits));
      const nets = own.addresses.map((a) => prefixOf(a.address, a.prefixLength));
      const isFarEnd = (i: NetInterface): boolean =>
        i.addresses.some((a) => nets.some((net) => prefixContains(net, a.address)));
      const machines = linked.site.machines.map((m) => ({
        ...m,
        interfaces:
          m.interfaces?.map((i) => (i.carrier === false && isFarEnd(i) ? { ...i, carrier: true } : i)) ??
          null,
        neighbours: m.neighbours.filter(
          (n) =>
            !n.failed ||
            (!addresses.has(n.address.bits) && !nets.some((net) => prefixContains(net, n.address))),
        ),
      }));
      return { ...linked, site: { ...linked.site, machines } };
    },
  };
}
