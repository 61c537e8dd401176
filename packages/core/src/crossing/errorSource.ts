import { parseAddress, type Address } from '../net/index.ts';
import type { Ask, Subject } from '../rules/index.ts';
import type { Machine } from '../site/index.ts';
import { holds } from './bareSender.ts';
import { selectAddress } from './lookups.ts';
import { lookUpRoute } from './routing.ts';

/**
 * The address that a machine's ICMP error bears: the asked one where it is the machine's own, else the one
 * that the route back prefers (icmp_route_lookup).
 */
export function errorSource(machine: Machine, subject: Subject, ask: Ask): Address | null {
  if (holds(machine, subject.destination)) return subject.destination;
  const own = (machine.interfaces ?? []).flatMap((i) =>
    i.addresses
      .filter((a) => a.address.family === subject.family && a.scope !== 'link')
      .map((a) => ({ interface: i, ...a })),
  );
  const route = lookUpRoute(machine, { destination: subject.source, source: null, in: 'lo', mark: 0 }, ask);
  if (route.is === 'unicast') {
    if (route.route.preferred) return route.route.preferred;
    const { device, via } = route.hop;
    const onDevice = selectAddress(machine, subject.family, device, via ?? subject.source);
    if (onDevice) return onDevice;
  }
  const any = own.find((a) => !a.interface.loopback);
  return any?.address ?? parseAddress(subject.family === 4 ? '0.0.0.0' : '::');
}
