import { parseAddress, type Address } from '../net/index.ts';
import type { Ask, Subject } from '../rules/index.ts';
import type { Machine } from '../site/index.ts';
import { holds } from './bareSender.ts';
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
    const onDevice = own.find((a) => a.interface.name === route.hop.device && !a.unusable);
    if (onDevice) return onDevice.address;
  }
  const any = own.find((a) => !a.interface.loopback);
  return any?.address ?? parseAddress(subject.family === 4 ? '0.0.0.0' : '::');
}
